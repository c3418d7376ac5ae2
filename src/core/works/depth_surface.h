// The depths that a strip takes off, as a thin surface over its area.
#pragma once

#include "base/progress.h"
#include "ground/tin.h"
#include "works/strip.h"

namespace inselberg::works {

// Level in plan where the strip has one depth. Depths from pits are theirs to within 2 mm, in triangles fine enough:
// the pits and the lines along which depths have a crease are among its corners and sides. Throws Cancelled.
ground::TinPtr depthsOver(const StripArea& strip, const Progress& progress);

}  // namespace inselberg::works
