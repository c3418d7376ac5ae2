#include "ground/stamp.h"

#include <cmath>

#include "ground/assembly.h"
#include "ground/facet_border.h"
#include "ground/recut.h"
#include "ground/triangulate_faces.h"

namespace inselberg::ground {

TinPtr stamp(const Tin& ground, const Tin& facets, const Progress& progress) {
  const std::vector<Line2> border = borderOf(facets);
  const std::vector<char> touched = touchedBy(ground, border, progress);
  const std::vector<char> kept = spreadInside(
      ground, touched, [&](Vec2 p) { return facets.locate(p) == kNone; }, facets.bounds());
  // Of lines of one make none cross each other.
  constexpr std::uint32_t kBorder = 1, kGround = 2;
  plane::Linework work(kSnap);
  FacetBorder own(facets, borderSides(facets), work, kBorder);
  // Beneath the facets nothing of the ground is left.
  for (const Line2& line : partsWhere(
           sidesOf(ground, touched), border, [&](std::size_t, Vec2 p, double) { return facets.locate(p) == kNone; },
           progress))
    work.addSegment(line.a, line.b, kGround);
  work.nodeCrossings(kBorder | kGround);
  own.follow(work);
  const Triangulation cut = triangulateFaces(work, own.sides(), progress);
  progress.check();
  Assembly assembly(ground, kept, cut);
  const std::vector<Index> inGround = locateFaces(cut, ground, progress);
  const std::vector<char> inFacets = own.inside(cut, progress);
  for (Index f = 0; f < cut.triangles.size(); ++f) {
    const Index t = inGround[f];
    if (!inFacets[f] && t != kNone && touched[t]) assembly.add(f, ground, t);
  }
  own.eachFacet([&](std::optional<FacetBorder::Vertex> vertex,
                    const Vec3& p) { return vertex ? assembly.pointAt(*vertex, p.z) : assembly.pointAt(p); },
                [&](const FacetSide& side, Vec2 p) {
                  const Triangle& c = facets.triangles()[side.facet];
                  const Vec3 &a = facets.points()[c[next(side.side)]], &b = facets.points()[c[before(side.side)]];
                  return std::lerp(a.z, b.z, plane::nearestOnSegment(p, a.plan(), b.plan()).along);
                },
                [&](Index, const Triangle& corners, std::uint8_t breaks) { assembly.add(corners, breaks); });
  return assembly.finish();
}

}  // namespace inselberg::ground
