// What the colours of a ground stand for, on whichever view.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>

#include "ground/tin.h"
#include "theme/theme.h"

namespace inselberg::app {

// The depth bands of the map: their width in metres, so that the greatest depth takes about four.
double depthBand(double greatestDepth);
constexpr double kLeastDepth = 0.002;  // m; less is neither cut nor fill to the eye

// The bands of the levels' tint: about eight over the ground's relief.
struct LevelBands {
  double lowest = 0, step = 1;  // m
  int count = 1;
  int at(double level) const { return std::clamp(static_cast<int>(std::floor((level - lowest) / step)), 0, count - 1); }
  double along(int band) const { return count > 1 ? static_cast<double>(band) / (count - 1) : 0.5; }
};
LevelBands levelBands(const ground::Tin& tin);

// A paper that goes from grass (0, the lowest level) to dry grass (1); `light` is 1 on level land.
inline QRgb grass(double along, double light) {
  constexpr std::array<std::array<double, 2>, 3> kParts{{{206, 250}, {212, 240}, {186, 214}}};
  const double shade = light * theme::palette().ground;
  const auto mix = [&](const std::array<double, 2>& part) {
    return std::clamp(static_cast<int>((part[0] + along * (part[1] - part[0])) * shade), 0, 255);
  };
  return qRgb(mix(kParts[0]), mix(kParts[1]), mix(kParts[2]));
}

// How much slopes are raised for the light, so that a gentle field and a steep hillside both read: the mean slope of a
// sample of triangles is brought to about 12 degrees.
double slopesRaised(const ground::Tin& tin);

}  // namespace inselberg::app
