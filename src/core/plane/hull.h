// The convex hull of points.
#pragma once

#include <cstdint>
#include <span>
#include <vector>

#include "plane/geometry.h"

namespace inselberg::plane {

// The corners of the hull in plan, counter-clockwise, as numbers of points (A. M. Andrew, 1979). Near enough: rounding
// may leave a point outside by its own size.
std::vector<std::uint32_t> hullOf(std::span<const Vec3> points);

}  // namespace inselberg::plane
