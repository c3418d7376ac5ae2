// A line laid on a ground.
#pragma once

#include <span>
#include <vector>

#include "ground/tin.h"

namespace inselberg::ground {

// The line with a level wherever it crosses into another triangle, and at its own points: so it lies on the ground all
// along. Empty when a part of it does not. `closed`: back to its first point, which is not repeated. `firstOf`, when
// given: for each point of the line, its number in the result.
std::vector<Vec3> draped(const Tin& ground, std::span<const Vec2> line, bool closed,
                         std::vector<std::size_t>* firstOf = nullptr);

}  // namespace inselberg::ground
