#include "ground/stamp.h"

#include "ground/recut.h"

namespace inselberg::ground {

TinPtr stamp(const Tin& ground, const Tin& facets, const Progress& progress) {
  std::vector<Line2> border, all;
  for (Index t = 0; t < facets.triangles().size(); ++t) {
    const Triangle& c = facets.triangles()[t];
    for (int k = 0; k < 3; ++k) {
      const Index other = facets.neighbours()[t][k];
      if (other != kNone && other < t) continue;
      const Line2 line{facets.plan(c[next(k)]), facets.plan(c[before(k)])};
      all.push_back(line);
      if (other == kNone) border.push_back(line);
    }
  }
  const std::vector<char> touched = touchedBy(ground, border, progress);
  std::vector<char> kept = spreadInside(ground, touched, [&](Vec2 p) { return facets.locate(p) == kNone; });
  const Triangulation cut = recut(ground, touched, all, progress);
  progress.check();
  Assembly assembly(ground, kept, cut);
  std::vector<Index> inFacets(cut.triangles.size());
  for (Index f = 0; f < cut.triangles.size(); ++f) {
    const Vec2 c = centroid(cut, f);
    inFacets[f] = facets.locate(c);
    if (inFacets[f] != kNone) continue;
    const Index t = ground.locate(c);
    if (t != kNone && touched[t]) assembly.add(f, ground, t);
  }
  for (Index f = 0; f < cut.triangles.size(); ++f) {
    if (inFacets[f] != kNone) assembly.add(f, facets, inFacets[f]);
  }
  return std::make_shared<Tin>(assembly.finish());
}

}  // namespace inselberg::ground
