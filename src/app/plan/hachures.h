// Batter hachures: strokes down the slope from its upper edge, a long one and a short one in turn.
#pragma once

#include <vector>

#include "project/evaluate.h"

namespace inselberg::app {

struct HachureStroke {
  plane::Vec2 top, end;
  bool cut;
  bool isLong;
};

// The strokes of a placed works for a plan of `scale` pixels per metre, as far as they start inside `area`.
std::vector<HachureStroke> hachuresOf(const project::PlacedWorks& works, double scale, const plane::Box& area);

}  // namespace inselberg::app
