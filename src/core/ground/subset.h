// Some of the triangles of a ground, as a ground.
#pragma once

#include <vector>

#include "base/parallel.h"
#include "ground/tin.h"

namespace inselberg::ground {

// Those that `wanted(triangle)` says, asked from several threads.
template <class Wanted>
TinPtr subset(const Tin& tin, Wanted&& wanted) {
  std::vector<char> taken(tin.triangles().size());
  parallelChunks(taken.size(), 1024, {}, [&](std::size_t begin, std::size_t end, std::size_t) {
    for (std::size_t t = begin; t < end; ++t) taken[t] = wanted(static_cast<Index>(t));
  });
  TinParts parts;
  std::vector<Index> now(tin.points().size(), kNone);
  for (Index t = 0; t < tin.triangles().size(); ++t) {
    if (!taken[t]) continue;
    Triangle corners = tin.triangles()[t];
    for (Index& v : corners) {
      if (now[v] == kNone) {
        now[v] = static_cast<Index>(parts.points.size());
        parts.points.push_back(tin.points()[v]);
      }
      v = now[v];
    }
    parts.triangles.push_back(corners);
    parts.breaks.push_back(tin.breakBits(t));
  }
  return std::make_shared<Tin>(std::move(parts));
}

}  // namespace inselberg::ground
