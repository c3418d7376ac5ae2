#include "ground/clip.h"

#include "ground/recut.h"
#include "plane/inside.h"

namespace inselberg::ground {
namespace {

TinPtr keep(const Tin& ground, std::span<const plane::Polygon> polygons, bool wantInside, const Progress& progress) {
  std::vector<Line2> lines;
  const auto addRing = [&](const plane::Ring& ring) {
    for (std::size_t i = 0; i < ring.size(); ++i) lines.push_back({ring[i], ring[(i + 1) % ring.size()]});
  };
  for (const plane::Polygon& polygon : polygons) {
    addRing(polygon.outer);
    for (const plane::Ring& hole : polygon.holes) addRing(hole);
  }
  const plane::Inside inside(polygons);
  const auto wanted = [&](Vec2 p) { return inside(p) == wantInside; };
  const std::vector<char> touched = touchedBy(ground, lines, progress);
  const std::vector<char> kept = spreadInside(ground, touched, wanted);
  const Triangulation cut = recut(ground, touched, lines, progress);
  Assembly assembly(ground, kept, cut);
  for (Index f = 0; f < cut.triangles.size(); ++f) {
    const Vec2 c = centroid(cut, f);
    if (!wanted(c)) continue;
    const Index t = ground.locate(c);
    if (t != kNone && touched[t]) assembly.add(f, ground, t);
  }
  return std::make_shared<Tin>(assembly.finish());
}

}  // namespace

TinPtr keepInside(const Tin& ground, std::span<const plane::Polygon> polygons, const Progress& progress) {
  return keep(ground, polygons, true, progress);
}

TinPtr keepOutside(const Tin& ground, std::span<const plane::Polygon> polygons, const Progress& progress) {
  return keep(ground, polygons, false, progress);
}

}  // namespace inselberg::ground
