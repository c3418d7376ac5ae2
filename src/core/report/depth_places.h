// Where depths are written whatever the grid.
#pragma once

#include <vector>

#include "project/evaluate.h"

namespace inselberg::report {

// Where the cut and where the fill between two grounds is deepest, as far as that is known; then, where the earlier is
// the existing ground or the one that works of the later stand on, where each of these cuts and fills most. In order of
// how much that says: what has no room is left out from the end.
std::vector<plane::Vec2> deepestPlaces(const project::Evaluation& evaluation, GroundId from, GroundId to);

}  // namespace inselberg::report
