// Where water runs on a ground.
#pragma once

#include <vector>

#include "base/progress.h"
#include "ground/tin.h"

namespace inselberg::ground {

struct WaterPath {
  enum class End { border, hollow };  // off the ground, or in a place lower than all around it
  std::vector<Vec3> way;              // falling throughout; empty when the start is off the ground
  End end = End::hollow;
};

// The steepest way down from a place: across each triangle against its gradient, along a side where both sides lead
// into it, from a point down its steepest triangle or side. Level ground is crossed towards its lowest outlet by sides;
// a flat without one is a hollow.
WaterPath waterPath(const Tin& tin, Vec2 start, const Progress& progress);

}  // namespace inselberg::ground
