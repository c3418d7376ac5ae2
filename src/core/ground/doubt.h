// A doubt: something a careful checker would question, with its place.
#pragma once

#include <string>
#include <vector>

#include "plane/geometry.h"

namespace inselberg::ground {

enum class DoubtKind {
  duplicateLevels,    // points in one place whose levels disagree
  breaklineCrossing,  // breaklines crossing at different levels
  noDaylight,         // a batter that does not reach the ground
  outsideGround,      // works reaching beyond the ground
  boundaryOutside,    // a boundary reaching beyond the data
  sourcesOverlap,     // a source laid over another of the same ground
};

const char* name(DoubtKind kind);  // "duplicate-levels", ...

struct Doubt {
  DoubtKind kind;
  plane::Vec2 where;
  std::string text;  // one sentence for the user
  bool operator==(const Doubt&) const = default;
};

using Doubts = std::vector<Doubt>;

}  // namespace inselberg::ground
