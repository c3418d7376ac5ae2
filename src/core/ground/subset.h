// Some of the triangles of a ground, as a ground.
#pragma once

#include "ground/tin.h"

namespace inselberg::ground {

// Those that `wanted(triangle)` says.
template <class Wanted>
TinPtr subset(const Tin& tin, Wanted&& wanted) {
  TinParts parts;
  parts.points.assign(tin.points().begin(), tin.points().end());
  for (Index t = 0; t < tin.triangles().size(); ++t) {
    if (!wanted(t)) continue;
    parts.triangles.push_back(tin.triangles()[t]);
    parts.breaks.push_back(tin.breakBits(t));
  }
  dropUnusedPoints(parts);
  return std::make_shared<Tin>(std::move(parts));
}

}  // namespace inselberg::ground
