// The plane that fits a ground best over an outline.
#pragma once

#include "ground/tin.h"
#include "plane/polygon.h"

namespace inselberg::works {

// The plane with the least integral of (plane - ground)^2 over the part of the outline's area that the ground covers,
// among those no steeper than `steepest` (rise over run, >= 0): exact over every triangle. Throws Error when the ground
// covers none of it. REQUIRES: the outline is sound.
ground::Plane fittedPlane(const ground::Tin& ground, const plane::Ring& outline, double steepest);

}  // namespace inselberg::works
