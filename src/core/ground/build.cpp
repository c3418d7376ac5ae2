// Method. Points and breaklines are made to meet (meet.h) and triangulated. The boundary is cut afterwards (clip.h), so
// that it cannot alter a level.
#include "ground/build.h"

#include <fmt/format.h>

#include <cmath>

#include "base/error.h"
#include "ground/clip.h"
#include "ground/flats.h"
#include "ground/meet.h"
#include "ground/triangulate.h"
#include "plane/place_text.h"

namespace inselberg::ground {
namespace {

std::vector<Vec2> plansOf(const std::vector<Vec3>& at) {
  std::vector<Vec2> plans;
  plans.reserve(at.size());
  for (const Vec3& p : at) plans.push_back(p.plan());
  return plans;
}

// Points made where segments cross after all (by rounding) get their level from the segment ends around them.
void levelNewPoints(const Triangulation& made, std::size_t known, std::vector<Vec3>& at) {
  if (at.size() == known) return;
  std::vector<double> weight(at.size() - known, 0), sum(at.size() - known, 0);
  for (Index t = 0; t < made.triangles.size(); ++t) {
    for (int k = 0; k < 3; ++k) {
      if (!(made.constrained[t] >> k & 1)) continue;
      const Index a = made.triangles[t][next(k)], b = made.triangles[t][before(k)];
      for (const auto& [fresh, other] : {Edge{a, b}, Edge{b, a}}) {
        if (fresh < known || other >= known) continue;
        const double w = 1 / std::max(plane::distance(at[fresh].plan(), at[other].plan()), 1e-9);
        weight[fresh - known] += w;
        sum[fresh - known] += w * at[other].z;
      }
    }
  }
  for (std::size_t i = 0; i < weight.size(); ++i) at[known + i].z = weight[i] > 0 ? sum[i] / weight[i] : at[0].z;
}

// Marks border triangles with a side over the limit, again and again from the border inwards.
std::vector<char> trimmed(const Triangulation& made, double maxEdge) {
  std::vector<char> gone(made.triangles.size(), 0);
  std::vector<Index> border;
  for (Index t = 0; t < made.triangles.size(); ++t) {
    for (const Index n : made.neighbours[t]) {
      if (n == kNone) {
        border.push_back(t);
        break;
      }
    }
  }
  while (!border.empty()) {
    const Index t = border.back();
    border.pop_back();
    if (gone[t]) continue;
    double longest = 0;
    for (int k = 0; k < 3; ++k) {
      longest = std::max(longest,
                         plane::distance(made.points[made.triangles[t][k]], made.points[made.triangles[t][next(k)]]));
    }
    if (longest <= maxEdge) continue;
    gone[t] = 1;
    for (const Index n : made.neighbours[t]) {
      if (n != kNone && !gone[n]) border.push_back(n);
    }
  }
  return gone;
}

// Adds points where triangles lie flat between contours, until there are none left to add. Three rounds are ample: a
// round leaves only what the new points themselves have made.
void cureFlats(Met& all, Triangulation& made, BuildResult& result, const Progress& progress) {
  for (int round = 0; round < 3 && !made.triangles.empty(); ++round) {
    std::vector<Vec3> at = all.at;
    for (std::size_t i = at.size(); i < made.points.size(); ++i) at.push_back({made.points[i].x, made.points[i].y, 0});
    levelNewPoints(made, all.at.size(), at);
    std::vector<char> contour = all.contour;
    for (std::size_t i = 0; i < all.at.size(); ++i) contour[made.same[i]] |= contour[i];
    contour.resize(at.size(), 0);
    const std::vector<char> flat = flatTriangles(made, at, contour);
    const std::vector<Vec3> cures = flatCures(made, at, flat);
    if (cures.empty()) return;
    all.at.insert(all.at.end(), cures.begin(), cures.end());
    all.contour.resize(all.at.size(), 0);
    result.flatPoints += cures.size();
    made = triangulate(plansOf(all.at), all.edges, progress);
  }
}

// A doubt where a boundary reaches beyond the data.
void doubtBeyond(const Tin& tin, const plane::Polygon& boundary, const plane::Origin& origin, BuildResult& result) {
  const plane::Ring& ring = boundary.outer;
  for (std::size_t i = 0; i < ring.size(); ++i) {
    for (const Vec2 p : {ring[i], 0.5 * (ring[i] + ring[(i + 1) % ring.size()])}) {
      if (tin.locate(p) != kNone) continue;
      result.doubts.push_back({DoubtKind::boundaryOutside, p,
                               fmt::format("The boundary reaches beyond the data at {}; there is no ground there.",
                                           plane::placeText(p, origin))});
      return;
    }
  }
}

}  // namespace

BuildResult build(const BuildInput& input, const BuildRules& rules, const plane::Origin& origin,
                  const Progress& progress) {
  BuildResult result;
  Met all = meet(input, rules.duplicates, origin, result, progress);
  Triangulation made = triangulate(plansOf(all.at), all.edges, progress);
  if (rules.cureFlats) cureFlats(all, made, result, progress);
  if (made.triangles.empty()) {
    throw Error("fewer than three different points, or all on one line", "a ground needs points spread over an area");
  }
  TinParts parts;
  const std::size_t known = all.at.size();
  parts.points = std::move(all.at);
  for (std::size_t i = known; i < made.points.size(); ++i)
    parts.points.push_back({made.points[i].x, made.points[i].y, 0});
  levelNewPoints(made, known, parts.points);
  if (rules.maxEdge > 0) {
    const std::vector<char> gone = trimmed(made, rules.maxEdge);
    for (Index t = 0; t < gone.size(); ++t) {
      if (gone[t]) {
        ++result.trimmed;
        continue;
      }
      parts.triangles.push_back(made.triangles[t]);
      parts.breaks.push_back(made.constrained[t]);
    }
    if (parts.triangles.empty()) {
      throw Error(fmt::format("no triangle has all sides within {:g} m", rules.maxEdge), "allow longer sides");
    }
  } else {
    parts.triangles = std::move(made.triangles);
    parts.neighbours = std::move(made.neighbours);
    parts.breaks = std::move(made.constrained);
  }
  dropUnusedPoints(parts);
  result.tin = std::make_shared<Tin>(std::move(parts));
  if (!input.boundaries.empty()) {
    for (const plane::Polygon& boundary : input.boundaries) doubtBeyond(*result.tin, boundary, origin, result);
    result.tin = keepInside(*result.tin, input.boundaries, progress);
    if (result.tin->empty()) {
      throw Error("no point lies inside the boundary", "check that points and boundary are of the same place");
    }
  }
  if (!input.voids.empty()) {
    result.tin = keepOutside(*result.tin, input.voids, progress);
    if (result.tin->empty()) throw Error("the voids leave nothing of the ground", "make them smaller");
  }
  return result;
}

}  // namespace inselberg::ground
