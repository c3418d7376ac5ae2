#include "ground/stamp.h"

#include "ground/recut.h"

namespace inselberg::ground {

TinPtr stamp(const Tin& ground, const Tin& facets, const Progress& progress) {
  const std::vector<Line2> border = borderOf(facets);
  const std::vector<char> touched = touchedBy(ground, border, progress);
  std::vector<char> kept = spreadInside(ground, touched, [&](Vec2 p) { return facets.locate(p) == kNone; });
  // Beneath the facets nothing of the ground is left: their triangles stay whole but for corners added at their border.
  std::vector<Line2> lines = partsWhere(
      sidesOf(ground, touched), border, [&](std::size_t, Vec2 p, double) { return facets.locate(p) == kNone; },
      progress);
  const std::vector<Line2> own = sidesOf(facets);
  lines.insert(lines.end(), own.begin(), own.end());
  const Triangulation cut = recut(lines, progress);
  progress.check();
  Assembly assembly(ground, kept, cut);
  const std::vector<Index> inFacets = locateFaces(cut, facets, progress), inGround = locateFaces(cut, ground, progress);
  for (Index f = 0; f < cut.triangles.size(); ++f) {
    const Index t = inGround[f];
    if (inFacets[f] == kNone && t != kNone && touched[t]) assembly.add(f, ground, t);
  }
  for (Index f = 0; f < cut.triangles.size(); ++f) {
    if (inFacets[f] != kNone) assembly.add(f, facets, inFacets[f]);
  }
  return assembly.finish();
}

}  // namespace inselberg::ground
