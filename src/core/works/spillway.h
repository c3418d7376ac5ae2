// A notch in the crest of a pond, by which its water leaves.
#pragma once

#include "works/line_works.h"
#include "works/pond.h"

namespace inselberg::works {

// A channel of the width from the pond over its crest and down its outside to the ground: level at `level` across the
// crest, then straight down; where that way is the lowest, square to the middle of a side. To be placed after the pond.
// Throws Error when the level does not lie between its bottom and its top, or no side leads to the ground.
Swale spillwayOf(const Pond& pond, const Placement& placed, const ground::Tin& under, double width, double level);

}  // namespace inselberg::works
