// Walking over all sides of a ground's triangles.
#pragma once

#include "ground/tin.h"

namespace inselberg::ground {

// Calls f(from, to) with the points of every side, once: inner sides as the triangle with the lower number has them.
template <class F>
void eachSide(const Tin& tin, F&& f) {
  for (Index t = 0; t < tin.triangles().size(); ++t) {
    for (int k = 0; k < 3; ++k) {
      const Index other = tin.neighbours()[t][k];
      if (other == kNone || other > t) f(tin.triangles()[t][next(k)], tin.triangles()[t][before(k)]);
    }
  }
}

}  // namespace inselberg::ground
