// Walking over all points and sides of a source.
#pragma once

#include <utility>

#include "project/features.h"

namespace inselberg::project {

// Calls f(entry, from, to) for every point (from and to the same) and side.
template <class F>
void eachSide(const SourceData& data, F&& f) {
  for (std::size_t i = 0; i < data.points.size(); ++i) {
    const plane::Vec2 p = data.points[i].plan();
    f(SourceIndex::Entry{FeatureKind::point, static_cast<std::uint32_t>(i), 0}, p, p);
  }
  const auto chain = [&](FeatureKind kind, std::size_t index, std::size_t n, bool closed, auto&& at) {
    const std::size_t sides = n < 2 ? n : n - (closed ? 0 : 1);
    for (std::size_t k = 0; k < sides; ++k)
      f(SourceIndex::Entry{kind, static_cast<std::uint32_t>(index), static_cast<std::uint32_t>(k)}, at(k),
        at((k + 1) % n));
  };
  for (std::size_t i = 0; i < data.breaklines.size(); ++i) {
    const auto& line = data.breaklines[i];
    chain(FeatureKind::line, i, line.vertices.size(), line.closed,
          [&](std::size_t k) { return line.vertices[k].plan(); });
  }
  for (const auto& [kind, polygons] :
       {std::pair(FeatureKind::boundary, &data.boundaries), std::pair(FeatureKind::voids, &data.voids)}) {
    for (std::size_t i = 0; i < polygons->size(); ++i) {
      const plane::Ring& ring = (*polygons)[i].outer;
      chain(kind, i, ring.size(), true, [&](std::size_t k) { return ring[k]; });
    }
  }
}

}  // namespace inselberg::project
