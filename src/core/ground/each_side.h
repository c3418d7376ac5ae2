// Walking over all sides of a ground's triangles.
#pragma once

#include "ground/tin.h"

namespace inselberg::ground {

// Calls f(triangle, side) for every side of the triangles that `counts(triangle)` says, once: that between two of them
// as the one with the lower number has it.
template <class Counts, class F>
void eachSideOf(const Tin& tin, Counts&& counts, F&& f) {
  for (Index t = 0; t < tin.triangles().size(); ++t) {
    if (!counts(t)) continue;
    for (int k = 0; k < 3; ++k) {
      const Index other = tin.neighbours()[t][k];
      if (other == kNone || other > t || !counts(other)) f(t, k);
    }
  }
}

// Calls f(from, to) with the points of every side, likewise.
template <class F>
void eachSide(const Tin& tin, F&& f) {
  eachSideOf(
      tin, [](Index) { return true; },
      [&](Index t, int k) { f(tin.triangles()[t][next(k)], tin.triangles()[t][before(k)]); });
}

}  // namespace inselberg::ground
