#include "works/buildup.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <span>
#include <utility>

#include "ground/subset.h"

namespace inselberg::works {

using ground::Index;
using ground::Tin;
using plane::Vec3;

namespace {

// The ground with the triangles that carry build-ups lowered, all triangles in their order.
ground::TinPtr lowered(const Tin& finished, const std::vector<BuildUp>& buildUps, const std::vector<int>& carried) {
  ground::TinParts parts = finished.parts();
  std::vector<char> taken(parts.points.size(), 0);  // the place of a point: its triangles may all be lowered
  for (Index t = 0; t < parts.triangles.size(); ++t) {
    for (const Index v : parts.triangles[t]) taken[v] = taken[v] || carried[t] < 0;
  }
  std::map<std::pair<Index, double>, Index> points;  // lowered ones, by how far they are
  for (Index t = 0; t < parts.triangles.size(); ++t) {
    if (carried[t] < 0) continue;
    const BuildUp& b = buildUps[static_cast<std::size_t>(carried[t])];
    const double gradient = plane::norm(ground::planeOf(finished.corners(t)).gradient);
    // Facets of one plane, to rounding, stay joined.
    const double down = b.thickness() * (b.slopeTrue ? std::round(std::hypot(1.0, gradient) * 1e9) / 1e9 : 1.0);
    for (Index& v : parts.triangles[t]) {
      const auto [known, fresh] = points.try_emplace({v, down}, static_cast<Index>(parts.points.size()));
      if (fresh) {
        const Vec3 p = finished.points()[v];
        if (!std::exchange(taken[v], 1)) {
          known->second = v;
          parts.points[v].z = p.z - down;
        } else {
          parts.points.push_back({p.x, p.y, p.z - down});
        }
      }
      v = known->second;
    }
  }
  // A wall parts triangles that had a side in common.
  for (Index t = 0; t < parts.triangles.size(); ++t) {
    if (carried[t] < 0) continue;
    for (int k = 0; k < 3; ++k) {
      const Index other = parts.neighbours[t][k];
      if (other == ground::kNone) continue;
      const int back = finished.sideBack(t, k);
      const ground::Triangle &own = parts.triangles[t], &beside = parts.triangles[other];
      if (own[ground::next(k)] != beside[ground::before(back)] || own[ground::before(k)] != beside[ground::next(back)])
        parts.neighbours[t][k] = parts.neighbours[other][back] = ground::kNone;
    }
  }
  return std::make_shared<Tin>(std::move(parts), finished, std::span<const Index>());
}

}  // namespace

Formation formationUnder(const ground::TinPtr& finished, const std::vector<BuildUp>& buildUps,
                         const std::vector<int>& carried) {
  Formation made;
  made.tin = lowered(*finished, buildUps, carried);
  for (std::size_t k = 0; k < buildUps.size(); ++k) {
    const auto rules = [&](Index t) { return carried[t] == static_cast<int>(k); };
    const bool none = std::find(carried.begin(), carried.end(), static_cast<int>(k)) == carried.end();
    made.above.push_back(none ? nullptr : ground::subset(*finished, rules));
    made.below.push_back(none ? nullptr : ground::subset(*made.tin, rules));
  }
  return made;
}

}  // namespace inselberg::works
