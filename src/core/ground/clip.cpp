#include "ground/clip.h"

#include <array>
#include <utility>

#include "ground/assembly.h"
#include "ground/recut.h"
#include "ground/subset.h"
#include "ground/tin_index.h"
#include "plane/boxes.h"
#include "plane/inside.h"

namespace inselberg::ground {
namespace {

// With lines cut in, what lies at wanted places.
TinPtr keep(const Tin& ground, std::span<const Line2> lines, const std::function<bool(Vec2)>& wanted,
            const Progress& progress) {
  const std::vector<char> touched = touchedBy(ground, lines, progress);
  Box box;
  for (const Line2& line : lines) box.add(line.a), box.add(line.b);
  const std::vector<char> kept = spreadInside(ground, touched, wanted, box);
  const Triangulation cut = recut(ground, touched, lines, progress);
  Assembly assembly(ground, kept, cut);
  const std::vector<Index> held = locateFaces(cut, ground, progress);
  for (Index f = 0; f < cut.triangles.size(); ++f) {
    const Index t = held[f];
    if (t != kNone && touched[t] && wanted(centroid(cut, f))) assembly.add(f, ground, t);
  }
  return assembly.finish();
}

// The triangles that may lie inside one of the boxes, where they are few; else null.
TinPtr nearTo(const Tin& ground, std::span<const Box> boxes) {
  constexpr double kMargin = 1e-3;  // m
  std::vector<char> near(ground.triangles().size(), 0);
  std::size_t found = 0;
  for (const Box& box : boxes) {
    ground.index().touching(plane::cornersOf(box), kMargin,
                            [&](Index t) { found += std::exchange(near[t], 1) ? 0 : 1; });
  }
  if (2 * found > near.size()) return nullptr;
  return subset(ground, [&](Index t) { return near[t] != 0; });
}

}  // namespace

TinPtr keepInside(const Tin& ground, std::span<const plane::Polygon> polygons, const Progress& progress) {
  const plane::Inside inside(polygons);
  std::vector<Box> boxes(polygons.size());
  for (std::size_t i = 0; i < boxes.size(); ++i) {
    for (const Vec2 p : polygons[i].outer) boxes[i].add(p);
  }
  const TinPtr near = nearTo(ground, boxes);
  return keep(
      near ? *near : ground, ringsOf(polygons), [&](Vec2 p) { return inside(p); }, progress);
}

TinPtr keepOutside(const Tin& ground, std::span<const plane::Polygon> polygons, const Progress& progress) {
  const plane::Inside inside(polygons);
  return keep(
      ground, ringsOf(polygons), [&](Vec2 p) { return !inside(p); }, progress);
}

TinPtr keepBeneath(const Tin& ground, const Tin& facets, const Progress& progress) {
  return keepBeneath(ground, facets, {}, progress);
}

TinPtr keepBeneath(const Tin& ground, const Tin& facets, std::span<const Line2> lines, const Progress& progress) {
  std::vector<Line2> all = borderOf(facets);
  all.insert(all.end(), lines.begin(), lines.end());
  const TinPtr near = nearTo(ground, std::array{facets.bounds()});
  return keep(
      near ? *near : ground, all, [&](Vec2 p) { return facets.locate(p) != kNone; }, progress);
}

TinPtr cutAlong(const Tin& ground, std::span<const plane::Polygon> polygons, const Progress& progress) {
  return keep(
      ground, ringsOf(polygons), [](Vec2) { return true; }, progress);
}

}  // namespace inselberg::ground
