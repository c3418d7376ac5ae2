// Walking over all points and sides of a source.
#pragma once

#include <utility>

#include "project/features.h"

namespace inselberg::project {

// Calls f(entry, from, to) for every side of a feature; a point is one (from and to the same), and a vertex that is all
// there is of a line. Nothing when there is no such feature.
template <class F>
void eachSideOf(const SourceData& data, FeatureKind kind, std::size_t index, F&& f) {
  const auto chain = [&](std::size_t n, bool closed, auto&& at) {
    const std::size_t sides = n < 2 ? n : n - (closed ? 0 : 1);
    for (std::size_t k = 0; k < sides; ++k)
      f(SourceIndex::Entry{kind, static_cast<std::uint32_t>(index), static_cast<std::uint32_t>(k)}, at(k),
        at((k + 1) % n));
  };
  switch (kind) {
    case FeatureKind::point:
      if (index < data.points.size()) chain(1, false, [&](std::size_t) { return data.points[index].plan(); });
      return;
    case FeatureKind::line:
      if (index < data.breaklines.size()) {
        const auto& line = data.breaklines[index];
        chain(line.vertices.size(), line.closed, [&](std::size_t k) { return line.vertices[k].plan(); });
      }
      return;
    case FeatureKind::boundary:
    case FeatureKind::voids: {
      const auto& polygons = kind == FeatureKind::voids ? data.voids : data.boundaries;
      if (index < polygons.size())
        chain(polygons[index].outer.size(), true, [&](std::size_t k) { return polygons[index].outer[k]; });
    }
  }
}

// The same for all features.
template <class F>
void eachSide(const SourceData& data, F&& f) {
  std::uint32_t n = 0;
  for (const plane::Vec3& p : data.points) f(SourceIndex::Entry{FeatureKind::point, n++, 0}, p.plan(), p.plan());
  for (std::size_t i = 0; i < data.breaklines.size(); ++i) eachSideOf(data, FeatureKind::line, i, f);
  for (std::size_t i = 0; i < data.boundaries.size(); ++i) eachSideOf(data, FeatureKind::boundary, i, f);
  for (std::size_t i = 0; i < data.voids.size(); ++i) eachSideOf(data, FeatureKind::voids, i, f);
}

}  // namespace inselberg::project
