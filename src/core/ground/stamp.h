// Setting new facets into a ground.
#pragma once

#include "base/progress.h"
#include "ground/tin.h"

namespace inselberg::ground {

// The ground with `facets` in place of what lay under them:
//  1. under the facets the level is the facets', elsewhere the ground's (to rounding);
//  2. where the facets' border lies on the ground (within 1e-6 m) the two join in shared points, elsewhere a wall
//  stands;
//  3. triangles the facets' border does not touch are taken over unchanged, and the facets' own are parted only where
//  sides of the ground meet their border.
// Facets may reach beyond the ground; what they cover there is added.
TinPtr stamp(const Tin& ground, const Tin& facets, const Progress& progress);

}  // namespace inselberg::ground
