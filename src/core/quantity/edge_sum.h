// The difference of two grounds as a sum over the edges of their overlay.
#pragma once

#include <optional>
#include <vector>

#include "base/progress.h"
#include "ground/tin.h"
#include "quantity/level_sums.h"

namespace inselberg::quantity {

// Volumes, plan areas and greatest depths where `outer` lies above (up) and below (down) `inner`, over the plan area
// both cover; exact to rounding. The two are not treated alike, so that which is the outer must not depend on which is
// the earlier. Nothing where a ground is found not to be sound (triangles over each other): then its edges do not lead
// from crossing to crossing, which is checked.
std::optional<LevelSums> sumOverEdges(const ground::Tin& outer, const ground::Tin& inner, const Progress& progress);

// For each triangle of a, the one of b that has the same corners in plan; kNone where there is none. Where a glance
// finds none at all, it looks no further.
std::vector<ground::Index> sharedTriangles(const ground::Tin& a, const ground::Tin& b, const Progress& progress);

}  // namespace inselberg::quantity
