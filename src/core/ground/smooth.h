// A ground as if it bent evenly, for the eye.
#pragma once

#include <vector>

#include "base/progress.h"
#include "ground/tin.h"

namespace inselberg::ground {

// For each point the mean gradient of the triangles around it, by their plan areas; level where they have none. Throws
// Cancelled.
std::vector<Vec2> cornerGradients(const Tin& tin, const Progress& progress);

// How far a triangle may be shown bent towards a corner's gradient: 1 where both hardly differ, 0 at an edge that is
// meant (9 degrees and more, as at the edge of a 3:1 batter on level land), between them in between.
double bent(Vec2 ofTriangle, Vec2 ofCorner);

}  // namespace inselberg::ground
