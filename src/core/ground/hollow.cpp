// Method. Water rises from the bottom over the sides of triangles, always by the lowest corner next to what is wet
// already: the level it has to reach for that is the highest so far. It leaves where that comes to the border, or to a
// corner below the bottom.
#include "ground/hollow.h"

#include <algorithm>
#include <cmath>
#include <queue>
#include <unordered_set>

namespace inselberg::ground {
namespace {

constexpr double kLower = 1e-6;  // m

// The integral of the positive part of a linear function over a triangle of an area, from its values at the corners,
// and the area where it is positive.
struct Part {
  double volume, area;
};
Part positivePart(double area, double a, double b, double c) {
  double d[3] = {a, b, c};
  std::sort(d, d + 3, std::greater<>());
  if (d[2] >= 0) return {area * (a + b + c) / 3, area};
  if (d[0] <= 0) return {0, 0};
  if (d[1] <= 0) {
    const double share = d[0] * d[0] / ((d[0] - d[1]) * (d[0] - d[2]));
    return {area * share * d[0] / 3, area * share};
  }
  const double share = d[2] * d[2] / ((d[2] - d[0]) * (d[2] - d[1]));  // where it is negative
  return {area * (a + b + c) / 3 - area * share * d[2] / 3, area * (1 - share)};
}

// The way out of a triangle over one of its sides: over its lower end; where a wall stands there, over the higher of
// the two at each end.
struct Way {
  double level = 0;  // that water has to reach
  Index to = kNone;  // a triangle; kNone: off the ground
  Vec2 over;
  std::size_t from = 0;  // the triangle it leaves, by the order in which they became wet
  bool operator>(const Way& other) const { return level > other.level; }
};
Way wayOver(const Tin& tin, Index t, int k) {
  constexpr double kBeyond = 1e-4;  // m
  const Triangle& c = tin.triangles()[t];
  Vec3 a = tin.points()[c[next(k)]], b = tin.points()[c[before(k)]];
  Way way{0, tin.neighbours()[t][k], {}, 0};
  if (way.to == kNone) {
    const double length = plane::distance(a.plan(), b.plan());
    if (length > 0) {
      const Vec2 middle = 0.5 * (a.plan() + b.plan());
      const Vec2 beyond = middle + (kBeyond / length) * plane::rightOf(b.plan() - a.plan());
      if (const Index other = tin.locate(beyond); other != t) way.to = other;
    }
    if (way.to != kNone) {
      const Plane level = planeOf(tin.corners(way.to));
      a.z = std::max(a.z, level(a.plan())), b.z = std::max(b.z, level(b.plan()));
    }
  }
  way.level = std::min(a.z, b.z);
  way.over = (a.z < b.z ? a : b).plan();
  return way;
}

}  // namespace

std::optional<Hollow> hollowAt(const Tin& tin, Vec2 place, const Progress& progress) {
  const Index start = tin.locate(place);
  return start == kNone ? std::nullopt : hollowFrom(tin, start, progress);
}

std::optional<Hollow> hollowFrom(const Tin& tin, Index start, const Progress& progress) {
  const auto level = [&](Index v) { return tin.points()[v].z; };
  const Triangle& first = tin.triangles()[start];
  const Index lowest =
      *std::min_element(first.begin(), first.end(), [&](Index a, Index b) { return level(a) < level(b); });
  Hollow hollow{start, level(lowest), level(lowest), tin.plan(lowest), {}};
  std::priority_queue<Way, std::vector<Way>, std::greater<>> ways;
  ways.push({hollow.bottom, start, tin.plan(lowest), 0});
  std::unordered_set<Index> wet;
  struct Step {
    double level;  // the highest so far on the way to it
    Vec2 over;
    std::size_t from;
  };
  std::vector<Step> steps;  // how each triangle became wet, and at last how the water left
  bool leaves = false;
  for (std::size_t done = 1; !leaves && !ways.empty(); ++done) {
    if ((done & 0xfff) == 0) progress.check();
    const auto [at, t, over, from] = ways.top();
    ways.pop();
    if (t != kNone && !wet.insert(t).second) continue;
    hollow.rim = std::max(hollow.rim, at);
    const std::size_t step = steps.size();
    steps.push_back({at, over, from});
    if (t == kNone) {
      leaves = true;
      break;
    }
    const Triangle& c = tin.triangles()[t];
    for (int k = 0; k < 3; ++k) {
      Way way = wayOver(tin, t, k);
      way.level = std::max(way.level, at), way.from = step;
      ways.push(way);
    }
    const Index low = *std::min_element(c.begin(), c.end(), [&](Index a, Index b) { return level(a) < level(b); });
    if (level(low) < hollow.bottom - kLower) {
      leaves = true;
      steps.push_back({at, tin.plan(low), step});
    }
  }
  if (!leaves || hollow.rim <= hollow.bottom + kLower) return std::nullopt;
  // Back from where it left to where it came over the rim.
  for (std::size_t k = steps.size() - 1; steps[k].level >= hollow.rim; k = steps[k].from) {
    hollow.spill = steps[k].over;
    if (hollow.on.empty() || !(hollow.on.back() == hollow.spill)) hollow.on.push_back(hollow.spill);
  }
  std::reverse(hollow.on.begin(), hollow.on.end());
  return hollow;
}

std::vector<Index> underWater(const Tin& tin, const Hollow& hollow, double level) {
  std::vector<Index> wet;
  if (level <= hollow.bottom) return wet;
  std::unordered_set<Index> seen{hollow.start};
  wet.push_back(hollow.start);
  for (std::size_t i = 0; i < wet.size(); ++i) {
    for (int k = 0; k < 3; ++k) {
      const Way way = wayOver(tin, wet[i], k);
      if (way.to != kNone && way.level < level && seen.insert(way.to).second) wet.push_back(way.to);
    }
  }
  return wet;
}

Storage storageAt(const Tin& tin, const Hollow& hollow, double level) {
  Storage storage{level, 0, 0};
  for (const Index t : underWater(tin, hollow, level)) {
    const auto c = tin.corners(t);
    const double area = plane::turn(c[0].plan(), c[1].plan(), c[2].plan()) / 2;
    const Part part = positivePart(area, level - c[0].z, level - c[1].z, level - c[2].z);
    storage.volume += part.volume, storage.area += part.area;
  }
  return storage;
}

std::vector<Storage> storageTable(const Tin& tin, const Hollow& hollow, double step) {
  const int n = std::clamp(static_cast<int>(std::ceil((hollow.rim - hollow.bottom) / step - 1e-9)), 1, 2000);
  std::vector<Storage> table;
  for (int k = 0; k <= n; ++k)
    table.push_back(storageAt(tin, hollow, hollow.bottom + (hollow.rim - hollow.bottom) * k / n));
  return table;
}

}  // namespace inselberg::ground
