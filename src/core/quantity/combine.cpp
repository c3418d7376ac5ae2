// Lower and higher: the lines where both grounds are level with each other, and the sides of each where it is the one
// that counts, go into one triangulation; each of its faces lies in one triangle of the ground that counts there. So
// nothing is left of the other's sides, and what one ground gives whole keeps its triangles.
#include "quantity/combine.h"

#include <algorithm>
#include <cmath>

#include "base/parallel.h"
#include "ground/assembly.h"
#include "ground/each_side.h"
#include "ground/recut.h"
#include "ground/stamp.h"
#include "ground/thin.h"
#include "ground/tin_index.h"
#include "quantity/overlap.h"
#include "quantity/volume.h"

namespace inselberg::quantity {
namespace {

using ground::Index;
using ground::kNone;
using ground::Line2;
using ground::Tin;

// Where the planes of overlapping triangles are level, as segments; of b's triangles from `begin` to `end`.
std::vector<Line2> levelLines(const Tin& a, const Tin& b, std::size_t begin, std::size_t end) {
  std::vector<Line2> lines;
  std::vector<Index> near;
  for (Index t = static_cast<Index>(begin); t < end; ++t) {
    const auto cb = b.corners(t);
    const std::array<Vec2, 3> shape{cb[0].plan(), cb[1].plan(), cb[2].plan()};
    near.clear();
    a.index().touching(shape, 1e-9, [&](Index u) { near.push_back(u); });
    std::sort(near.begin(), near.end());
    near.erase(std::unique(near.begin(), near.end()), near.end());
    const ground::Plane pb = ground::planeOf(cb);
    for (const Index u : near) {
      const auto ca = a.corners(u);
      Convex both;
      overlapOfTriangles(shape, {ca[0].plan(), ca[1].plan(), ca[2].plan()}, both);
      if (both.n < 3) continue;
      const ground::Plane pa = ground::planeOf(ca);
      std::vector<Vec2> ends;
      for (int i = 0, j = both.n - 1; i < both.n; j = i++) {
        const double from = pb(both.p[j]) - pa(both.p[j]), to = pb(both.p[i]) - pa(both.p[i]);
        if ((from > 0) != (to > 0)) ends.push_back(both.p[j] + from / (from - to) * (both.p[i] - both.p[j]));
      }
      if (ends.size() == 2 && ends[0] != ends[1]) lines.push_back({ends[0], ends[1]});
    }
  }
  return lines;
}

std::vector<Line2> levelLines(const Tin& a, const Tin& b, const Progress& progress) {
  a.index();
  std::vector<Line2> lines;
  for (const auto& some : parallelMap<std::vector<Line2>>(
           b.triangles().size(), 256, progress,
           [&](std::size_t begin, std::size_t end) { return levelLines(a, b, begin, end); }))
    lines.insert(lines.end(), some.begin(), some.end());
  return lines;
}

// Sides of a ground with the levels of their ends.
struct Sides {
  std::vector<Line2> lines;
  std::vector<std::array<double, 2>> levels;
  std::vector<Line2> breaks;  // beyond which the ground goes on at another level, or not at all

  double at(std::size_t i, double along) const { return levels[i][0] + along * (levels[i][1] - levels[i][0]); }
};

// Of the triangles that `touched` says; each side once.
Sides sidesWithLevels(const Tin& tin, const std::vector<char>& touched) {
  Sides sides;
  const auto isWall = [&](Index t) {
    const auto c = tin.corners(t);
    return !(plane::turn(c[0].plan(), c[1].plan(), c[2].plan()) > 0);
  };
  ground::eachSideOf(
      tin, [&](Index t) { return touched[t] != 0; },
      [&](Index t, int k) {
        const auto corners = tin.corners(t);
        const plane::Vec3 &p = corners[static_cast<std::size_t>(ground::next(k))],
                          &q = corners[static_cast<std::size_t>(ground::before(k))];
        sides.lines.push_back({p.plan(), q.plan()});
        sides.levels.push_back({p.z, q.z});
        const Index other = tin.neighbours()[t][static_cast<std::size_t>(k)];
        if (other == kNone || isWall(t) || isWall(other)) sides.breaks.push_back(sides.lines.back());
      });
  return sides;
}

}  // namespace

ground::TinPtr combined(const Tin& a, const Tin& b, Combine rule, const Progress& progress) {
  if (rule == Combine::over) return ground::stamp(a, b, progress);
  const std::vector<char> touched = ground::touchedBy(a, b, 1e-3, progress);
  std::vector<char> kept(touched.size());
  std::transform(touched.begin(), touched.end(), kept.begin(), [](char t) { return !t; });
  const Sides ofA = sidesWithLevels(a, touched);
  const Sides ofB = sidesWithLevels(b, std::vector<char>(b.triangles().size(), 1));
  std::vector<Line2> lines = levelLines(a, b, progress), border = lines;
  border.insert(border.end(), ofA.breaks.begin(), ofA.breaks.end());
  border.insert(border.end(), ofB.breaks.begin(), ofB.breaks.end());
  // Where the other does not surely count. Of grounds that lie in each other, the sides of both are kept.
  const auto keep = [&](const Sides& own, const Tin& other) {
    const auto parts = ground::partsWhere(
        own.lines, border,
        [&](std::size_t i, Vec2 p, double along) {
          const auto level = other.levelAt(p);
          if (!level) return true;
          const double above = own.at(i, along) - *level;
          return (rule == Combine::lower ? above : -above) < ground::kSnap;
        },
        progress);
    lines.insert(lines.end(), parts.begin(), parts.end());
  };
  b.index();
  keep(ofA, b);
  keep(ofB, a);
  const ground::Triangulation cut = ground::recut(lines, progress);
  ground::Assembly assembly(a, kept, cut);
  std::vector<Index> fromB(cut.triangles.size(), kNone);
  const auto inA = ground::locateFaces(cut, a, progress), inB = ground::locateFaces(cut, b, progress);
  for (Index f = 0; f < cut.triangles.size(); ++f) {
    const Vec2 c = ground::centroid(cut, f);
    const Index ta = inA[f], tb = inB[f];
    bool takeB = ta == kNone;
    if (ta != kNone && tb != kNone) {
      const double za = ground::planeOf(a.corners(ta))(c), zb = ground::planeOf(b.corners(tb))(c);
      takeB = rule == Combine::lower ? zb < za : zb > za;
    }
    if (takeB) {
      fromB[f] = tb;
    } else if (touched[ta]) {
      assembly.add(f, a, ta);
    }
  }
  for (Index f = 0; f < cut.triangles.size(); ++f) {
    if (fromB[f] != kNone) assembly.add(f, b, fromB[f]);
  }
  return assembly.finish();
}

ground::TinPtr simplified(const Tin& tin, double tolerance, const Progress& progress) {
  const std::vector<plane::Vec3> points(tin.points().begin(), tin.points().end());
  std::vector<char> atBorder(points.size(), 0);
  for (Index t = 0; t < tin.triangles().size(); ++t) {
    for (int k = 0; k < 3; ++k) {
      if (tin.neighbours()[t][static_cast<std::size_t>(k)] != kNone) continue;
      for (const int corner : {ground::next(k), ground::before(k)})
        atBorder[tin.triangles()[t][static_cast<std::size_t>(corner)]] = 1;
    }
  }
  std::vector<Index> border;
  for (Index i = 0; i < points.size(); ++i) {
    if (atBorder[i]) border.push_back(i);
  }
  // Thinning promises its tolerance at the points; between them the two surfaces may part further, where their sides
  // cross. So the whole is measured, and thinned more finely until it holds.
  double fine = tolerance;
  for (int round = 0; round < 8; ++round) {
    const ground::Thinned thinned = ground::thin(points, border, fine, progress);
    ground::TinParts parts;
    parts.points = points;
    for (const ground::Triangle& t : thinned.triangles) {
      const Vec2 middle = (1.0 / 3) * (points[t[0]].plan() + points[t[1]].plan() + points[t[2]].plan());
      if (tin.locate(middle) != kNone) parts.triangles.push_back(t);
    }
    if (parts.triangles.empty()) break;
    ground::dropUnusedPoints(parts);
    auto simple = std::make_shared<Tin>(std::move(parts));
    const Volume between = volumeBetween(tin, *simple, {}, progress);
    const double off = std::max(between.maxCut, between.maxFill);
    if (off <= tolerance) return simple;
    fine *= 0.9 * tolerance / off;
  }
  ground::TinParts same;
  same.points = points;
  same.triangles.assign(tin.triangles().begin(), tin.triangles().end());
  return std::make_shared<Tin>(std::move(same));
}

ground::TinPtr shifted(const Tin& tin, double height) {
  std::vector<plane::Vec3> points(tin.points().begin(), tin.points().end());
  for (plane::Vec3& p : points) p.z += height;
  return ground::atLevels(tin, std::move(points));
}

}  // namespace inselberg::quantity
