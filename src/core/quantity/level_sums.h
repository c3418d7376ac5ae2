// What is added up where one ground (the outer) lies above or below another (the inner).
#pragma once

#include <utility>

#include "base/sum.h"
#include "plane/geometry.h"

namespace inselberg::quantity {

constexpr double kNoDifference = 1e-6;  // m; a lesser difference of level counts as untouched

struct Deepest {
  double depth = 0;
  plane::Vec2 at{};
  bool known = false;
  void take(double d, plane::Vec2 p) {
    if (d <= 0 || d < depth) return;
    if (!known || d > depth || (d == depth && std::pair(p.x, p.y) < std::pair(at.x, at.y)))
      depth = d, at = p, known = true;
  }
  void take(const Deepest& other) { take(other.depth, other.at); }
};

// Plain sums over a few triangles: `up` where outer lies above inner, `down` where below; m3, m2.
struct Few {
  double up = 0, down = 0, upArea = 0, downArea = 0, untouched = 0;
};

// Compensated sums over many.
struct LevelSums {
  Sum up, down, upArea, downArea, untouched;
  Deepest highest, lowest;
  void add(const Few& s) {
    up.add(s.up), down.add(s.down), upArea.add(s.upArea), downArea.add(s.downArea), untouched.add(s.untouched);
  }
  void add(const LevelSums& s) {
    up.add(s.up), down.add(s.down), upArea.add(s.upArea), downArea.add(s.downArea), untouched.add(s.untouched);
    highest.take(s.highest), lowest.take(s.lowest);
  }
};

}  // namespace inselberg::quantity
