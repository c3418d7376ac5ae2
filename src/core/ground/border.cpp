#include "ground/border.h"

#include <algorithm>
#include <array>
#include <unordered_map>
#include <utility>

#include "ground/tin_index.h"

namespace inselberg::ground {

std::vector<std::vector<Index>> borderLoops(std::span<const Triangle> triangles, std::span<const Triangle> neighbours) {
  std::unordered_multimap<Index, Index> onward;
  for (Index t = 0; t < triangles.size(); ++t) {
    for (int k = 0; k < 3; ++k) {
      if (neighbours[t][k] == kNone) onward.emplace(triangles[t][next(k)], triangles[t][before(k)]);
    }
  }
  std::vector<std::vector<Index>> loops;
  while (!onward.empty()) {
    std::vector<Index> way{onward.begin()->first};
    std::unordered_map<Index, std::size_t> place{{way.front(), 0}};
    while (true) {
      const auto step = onward.find(way.back());
      if (step == onward.end()) break;
      const Index to = step->second;
      onward.erase(step);
      const auto [known, fresh] = place.try_emplace(to, way.size());
      if (fresh) {
        way.push_back(to);
        continue;
      }
      // Back where the way has been: what lies between is a loop.
      const auto first = way.begin() + static_cast<std::ptrdiff_t>(known->second);
      loops.emplace_back(first, way.end());
      for (auto it = first + 1; it != way.end(); ++it) place.erase(*it);
      way.erase(first + 1, way.end());
    }
  }
  return loops;
}

namespace {

// The same of triangles that hang together: so holes lie in what is round them, and have nothing in them.
plane::Areas coverOfPart(const Tin& tin, std::span<const Triangle> triangles, std::span<const Triangle> neighbours) {
  plane::Areas outer, holes;
  for (const auto& loop : borderLoops(triangles, neighbours)) {
    plane::Polygon polygon;
    for (const Index i : loop) polygon.outer.push_back(tin.plan(i));
    const double area = plane::signedArea(polygon.outer);
    if (area == 0) continue;
    if (area < 0) std::reverse(polygon.outer.begin(), polygon.outer.end());
    (area < 0 ? holes : outer).push_back(std::move(polygon));
  }
  return plane::without(plane::united(outer), plane::united(holes));
}

}  // namespace

plane::Areas coverOf(const Tin& tin) {
  plane::Areas all;
  std::vector<char> seen(tin.triangles().size(), 0);
  for (Index start = 0; start < seen.size(); ++start) {
    if (std::exchange(seen[start], 1)) continue;
    std::vector<Index> part{start};
    for (std::size_t i = 0; i < part.size(); ++i) {
      for (const Index other : tin.neighbours()[part[i]]) {
        if (other != kNone && !std::exchange(seen[other], 1)) part.push_back(other);
      }
    }
    if (part.size() == seen.size()) return coverOfPart(tin, tin.triangles(), tin.neighbours());
    std::vector<Triangle> triangles, neighbours;
    for (const Index t : part) triangles.push_back(tin.triangles()[t]), neighbours.push_back(tin.neighbours()[t]);
    const plane::Areas own = coverOfPart(tin, triangles, neighbours);
    all.insert(all.end(), own.begin(), own.end());
  }
  return plane::united(all);
}

namespace {

constexpr double kInset = 1e-4, kLeast = 1e-3;  // m

// The part of the segment, as fractions of it, that lies within a triangle drawn in by `inset`; empty when from >= to.
std::pair<double, double> partWithin(const Tin& tin, Index triangle, Vec2 a, Vec2 b, double inset) {
  double from = 0, to = 1;
  for (int j = 0; j < 3; ++j) {
    const Vec2 c = tin.plan(tin.triangles()[triangle][next(j)]), d = tin.plan(tin.triangles()[triangle][before(j)]);
    const double side = plane::distance(c, d);
    if (!(side > 0)) return {0, 0};
    const double da = plane::turn(c, d, a) / side - inset, db = plane::turn(c, d, b) / side - inset;
    if (da < 0 && db < 0) return {0, 0};
    if (da < 0) from = std::max(from, da / (da - db));
    if (db < 0) to = std::min(to, da / (da - db));
  }
  return {from, to};
}

}  // namespace

FacesOver facesOver(const Tin& tin, const Progress& progress) {
  FacesOver found;
  double longest = 0;
  std::vector<Index> looked;
  for (Index t = 0; t < tin.triangles().size(); ++t) {
    if ((t & 0x3fff) == 0) progress.check();
    for (int k = 0; k < 3; ++k) {
      if (tin.neighbours()[t][k] != kNone) continue;
      Vec2 a = tin.plan(tin.triangles()[t][next(k)]), b = tin.plan(tin.triangles()[t][before(k)]);
      const double side = plane::distance(a, b);
      if (!(side > kLeast)) continue;
      // A little inside its own triangle, so that a side along others' sides is judged by what lies beyond it.
      const Vec2 in = (2 * kInset / side) * Vec2{a.y - b.y, b.x - a.x};
      a = a + in, b = b + in;
      const auto [own0, own1] = partWithin(tin, t, a, b, 0);
      if (!(own0 < own1)) continue;
      const std::array ends{a + own0 * (b - a), a + own1 * (b - a)};
      double inside = 0;
      looked.clear();
      tin.index().touching(ends, 0, [&](Index u) {
        if (u == t || std::find(looked.begin(), looked.end(), u) != looked.end()) return;
        looked.push_back(u);
        const auto [from, to] = partWithin(tin, u, ends[0], ends[1], kInset);
        const double stretch = (to - from) * plane::distance(ends[0], ends[1]);
        if (!(stretch > kLeast)) return;
        inside += stretch;
        if (stretch > longest) longest = stretch, found.where = ends[0] + (0.5 * (from + to)) * (ends[1] - ends[0]);
      });
      if (inside > 0) ++found.sides;
      found.length += inside;
    }
  }
  return found;
}

}  // namespace inselberg::ground
