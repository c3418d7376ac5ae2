// Batter hachures: strokes down the slope from its upper edge, a long one and a short one in turn.
#pragma once

#include <vector>

#include "works/placement.h"

namespace inselberg::works {

struct HachureStroke {
  Vec2 top, end;
  bool cut;
  bool isLong;
};

// How far the batter beside a crest goes out from a place on it, to a step and no farther than its own slope; 0 where
// there is none.
double batterReach(const Placement& placement, Vec2 foot, Vec2 out, double step, double longest);

// The strokes of a placed works for a plan of `scale` pixels per metre (on paper, a fifth of a millimetre is one), as
// far as they start inside `area`.
std::vector<HachureStroke> hachuresOf(const Placement& placement, double scale, const plane::Box& area);

}  // namespace inselberg::works
