// Levels written on contours where chosen lines cross them.
#pragma once

#include <span>
#include <vector>

#include "ground/contours.h"

namespace inselberg::ground {

struct ContourLabel {
  Vec2 at;
  Vec2 along;  // of unit length, the way the contour runs there, turned so that text along it is upright
  double level = 0;
};

// One label at each crossing of a contour with the line, in the order of the contours.
std::vector<ContourLabel> labelsAlong(std::span<const Contour> contours, std::span<const Vec2> line);

}  // namespace inselberg::ground
