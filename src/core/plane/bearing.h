// Bearings: degrees clockwise from north.
#pragma once

#include <cmath>
#include <numbers>

#include "plane/geometry.h"

namespace inselberg::plane {

inline constexpr double kDegree = std::numbers::pi / 180;  // radians

// The unit vector that way.
inline Vec2 towards(double bearing) {
  return {std::sin(bearing * kDegree), std::cos(bearing * kDegree)};
}

// From 0 to below 360, or 360 by rounding; 0 for a vector without length.
inline double bearingOf(Vec2 v) {
  const double bearing = std::atan2(v.x, v.y) / kDegree;
  return bearing < 0 ? bearing + 360 : bearing;
}

}  // namespace inselberg::plane
