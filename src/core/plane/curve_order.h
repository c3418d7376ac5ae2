// Points in an order in which those near each other in the order are near each other in plan.
#pragma once

#include <cstdint>
#include <span>
#include <vector>

#include "plane/geometry.h"

namespace inselberg::plane {

// The numbers of the points along a Hilbert curve of 65536 x 65536 cells over their bounds; points of one cell in the
// order of their numbers. REQUIRES: fewer than 2^32 points.
std::vector<std::uint32_t> curveOrder(std::span<const Vec2> points);

}  // namespace inselberg::plane
