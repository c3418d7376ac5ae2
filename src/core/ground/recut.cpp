// Robustness rests on three things: lines and sides are noded with a tolerance of a micron before they are triangulated
// (linework.h), so nothing nearly touches; whether a face is wanted is decided from its centroid, not from the
// topology of the lines; and levels are taken from the surface a face belongs to, so a face never changes its plane.
#include "ground/recut.h"

#include <algorithm>
#include <cassert>
#include <cmath>

#include "base/parallel.h"
#include "ground/each_side.h"
#include "ground/facet_border.h"
#include "ground/tin_index.h"
#include "plane/boxes.h"
#include "plane/linework.h"
#include "plane/static_index.h"

namespace inselberg::ground {
namespace {

Line2 sideOf(const Tin& tin, Index t, int k) {
  const Triangle& c = tin.triangles()[t];
  return {tin.plan(c[next(k)]), tin.plan(c[before(k)])};
}

}  // namespace

Vec2 centroid(const Triangulation& cut, Index face) {
  const Triangle& t = cut.triangles[face];
  return (1.0 / 3) * (cut.points[t[0]] + cut.points[t[1]] + cut.points[t[2]]);
}

Vec2 centroid(const Tin& tin, Index triangle) {
  const Triangle& t = tin.triangles()[triangle];
  return (1.0 / 3) * (tin.plan(t[0]) + tin.plan(t[1]) + tin.plan(t[2]));
}

std::vector<Line2> ringsOf(std::span<const plane::Polygon> polygons) {
  std::vector<Line2> lines;
  const auto addRing = [&](const plane::Ring& ring) {
    for (std::size_t i = 0; i < ring.size(); ++i) lines.push_back({ring[i], ring[(i + 1) % ring.size()]});
  };
  for (const plane::Polygon& polygon : polygons) {
    addRing(polygon.outer);
    for (const plane::Ring& hole : polygon.holes) addRing(hole);
  }
  return lines;
}

std::optional<std::pair<double, double>> nearTriangle(const Line2& line, const std::array<Vec3, 3>& corners,
                                                      double margin) {
  double t0 = 0, t1 = 1;
  for (int k = 0; k < 3; ++k) {
    const Vec2 a = corners[next(k)].plan(), b = corners[before(k)].plan();
    const double length = plane::distance(a, b);
    const double da = plane::turn(a, b, line.a) / length + margin, db = plane::turn(a, b, line.b) / length + margin;
    if (da < 0 && db < 0) return std::nullopt;
    if (da < 0) t0 = std::max(t0, da / (da - db));
    if (db < 0) t1 = std::min(t1, da / (da - db));
  }
  if (t0 > t1 + 1e-12) return std::nullopt;
  return std::pair(t0, t1);
}

std::vector<char> touchedBy(const Tin& ground, std::span<const Line2> lines, const Progress& progress) {
  constexpr double kMargin = 4 * kSnap;
  ground.index();
  const auto near =
      parallelMap<std::vector<Index>>(lines.size(), 256, progress, [&](std::size_t begin, std::size_t end) {
        std::vector<Index> found;
        for (const Line2& line : lines.subspan(begin, end - begin)) {
          const std::array<Vec2, 2> shape{line.a, line.b};
          ground.index().touching(shape, kMargin, [&](Index t) {
            if (nearTriangle(line, ground.corners(t), kMargin)) found.push_back(t);
          });
        }
        return found;
      });
  std::vector<char> touched(ground.triangles().size(), 0);
  for (const auto& found : near) {
    for (const Index t : found) touched[t] = 1;
  }
  return touched;
}

std::vector<char> spreadInside(const Tin& ground, const std::vector<char>& touched,
                               const std::function<bool(Vec2)>& inside, const Box& box) {
  const bool beyond = inside(box.empty() ? Vec2{} : Vec2{box.maxX + 1, box.maxY + 1});
  std::vector<char> result(touched.size()), open(touched.size(), 0);
  for (std::size_t t = 0; t < touched.size(); ++t) result[t] = !touched[t] && beyond;
  constexpr double kMargin = 1e-3;  // m
  if (!box.empty()) ground.index().touching(plane::cornersOf(box), kMargin, [&](Index t) { open[t] = !touched[t]; });
  std::vector<Index> stack;
  for (auto it = open.begin(); (it = std::find(it, open.end(), 1)) != open.end();) {
    const auto start = static_cast<Index>(it - open.begin());
    const bool answer = inside(centroid(ground, start));
    *it = 0;
    stack.push_back(start);
    while (!stack.empty()) {
      const Index t = stack.back();
      stack.pop_back();
      result[t] = answer;
      for (const Index other : ground.neighbours()[t]) {
        if (other != kNone && std::exchange(open[other], 0)) stack.push_back(other);
      }
    }
  }
  return result;
}

Triangulation recut(const Tin& ground, const std::vector<char>& touched, std::span<const Line2> lines,
                    const Progress& progress) {
  std::vector<Line2> all = sidesOf(ground, touched);
  all.insert(all.end(), lines.begin(), lines.end());
  return recut(all, progress);
}

Triangulation recut(std::span<const Line2> lines, const Progress& progress) {
  plane::Linework work(kSnap);
  for (const Line2& line : lines) work.addSegment(line.a, line.b, 0);
  work.node();
  return triangulate(work, progress);
}

std::vector<Index> locateFaces(const Triangulation& cut, const Tin& ground, const Progress& progress) {
  std::vector<Index> held(cut.triangles.size());
  parallelChunks(held.size(), 512, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    Index near = kNone;  // faces come in the order of their places
    for (std::size_t f = begin; f < end; ++f) held[f] = ground.locate(centroid(cut, static_cast<Index>(f)), near);
  });
  return held;
}

std::vector<Line2> sidesOf(const Tin& ground, const std::vector<char>& touched) {
  std::vector<Line2> sides;
  eachSideOf(
      ground, [&](Index t) { return touched[t] != 0; }, [&](Index t, int k) { sides.push_back(sideOf(ground, t, k)); });
  return sides;
}

std::vector<Line2> partsWhere(std::span<const Line2> lines, std::span<const Line2> border, const Wanted& wanted,
                              const Progress& progress) {
  constexpr std::size_t kChunk = 256;
  std::vector<plane::Segment2> segments;
  for (const Line2& line : border) segments.push_back({line.a, line.b});
  const plane::SegmentIndex index(segments);
  const auto found =
      parallelMap<std::vector<Line2>>(lines.size(), kChunk, progress, [&](std::size_t begin, std::size_t end) {
        std::vector<Line2> parts;
        std::vector<double> cuts;
        for (std::size_t i = begin; i < end; ++i) {
          const Line2& line = lines[i];
          const double least = kSnap / std::max(kSnap, plane::distance(line.a, line.b));
          cuts = {0, 1};
          index.near({line.a, line.b}, kSnap, [&](Index k) {
            const plane::Segment2& other = segments[k];
            if (const auto along = plane::crossingAlong(line.a, line.b, other.a, other.b)) cuts.push_back(*along);
            for (const Vec2 corner : {other.a, other.b}) {
              const plane::Nearest at = plane::nearestOnSegment(corner, line.a, line.b);
              if (at.distance <= kSnap) cuts.push_back(at.along);
            }
          });
          std::sort(cuts.begin(), cuts.end());
          const auto at = [&](double along) {
            return along <= 0 ? line.a : along >= 1 ? line.b : line.a + along * (line.b - line.a);
          };
          double from = 0, start = -1;  // start: of what is wanted; below 0 where nothing is
          for (const double to : cuts) {
            if (to - from < least && to < 1) continue;
            const double middle = (from + to) / 2;
            const bool keep = wanted(i, at(middle), middle);
            if (keep && start < 0) start = from;
            if (!keep && start >= 0) parts.push_back({at(start), at(from)});
            if (!keep) start = -1;
            from = to;
          }
          if (start >= 0) parts.push_back({at(start), at(1)});
        }
        return parts;
      });
  std::vector<Line2> parts;
  for (const auto& here : found) parts.insert(parts.end(), here.begin(), here.end());
  return parts;
}

std::vector<char> touchedBy(const Tin& ground, const Tin& other, double margin, const Progress& progress) {
  std::vector<char> touched(ground.triangles().size(), 0);
  for (Index o = 0; o < other.triangles().size(); ++o) {
    if ((o & 0xff) == 0) progress.check();
    const Triangle& c = other.triangles()[o];
    const std::array<Vec2, 3> shape{other.plan(c[0]), other.plan(c[1]), other.plan(c[2])};
    Box box;
    for (const Vec2 p : shape) box.add(p);
    box = box.grown(margin);
    ground.index().touching(shape, margin, [&](Index t) {
      if (touched[t]) return;
      Box own;
      for (const Index v : ground.triangles()[t]) own.add(ground.plan(v));
      touched[t] = own.overlaps(box);
    });
  }
  return touched;
}

std::vector<Index> trianglesNear(const Tin& ground, const Tin& other, double margin, const Progress& progress) {
  const std::vector<char> touched = touchedBy(ground, other, margin, progress);
  std::vector<Index> found;
  for (auto it = touched.begin(); (it = std::find(it, touched.end(), 1)) != touched.end(); ++it)
    found.push_back(static_cast<Index>(it - touched.begin()));
  return found;
}

std::vector<Line2> sidesOf(const Tin& tin) {
  std::vector<Line2> sides;
  eachSide(tin, [&](Index a, Index b) { sides.push_back({tin.plan(a), tin.plan(b)}); });
  return sides;
}

std::vector<Line2> borderOf(const Tin& tin) {
  std::vector<Line2> lines;
  for (const FacetSide& side : borderSides(tin)) lines.push_back(sideOf(tin, side.facet, side.side));
  return lines;
}

bool isNarrow(const std::array<Vec3, 3>& c) {
  constexpr double kNarrow = 1e-3;  // m
  const double longest = std::max({plane::distance(c[0].plan(), c[1].plan()), plane::distance(c[1].plan(), c[2].plan()),
                                   plane::distance(c[2].plan(), c[0].plan())});
  return plane::turn(c[0].plan(), c[1].plan(), c[2].plan()) < kNarrow * longest;
}

}  // namespace inselberg::ground
