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

}  // namespace

std::optional<Hollow> hollowAt(const Tin& tin, Vec2 place, const Progress& progress) {
  const Index start = tin.locate(place);
  if (start == kNone) return std::nullopt;
  const auto level = [&](Index v) { return tin.points()[v].z; };
  const Triangle& first = tin.triangles()[start];
  const Index lowest =
      *std::min_element(first.begin(), first.end(), [&](Index a, Index b) { return level(a) < level(b); });
  Hollow hollow{start, level(lowest), level(lowest)};
  struct Way {
    double level;  // that it takes
    Index to;      // a triangle; kNone: off the ground
    bool operator>(const Way& other) const { return level > other.level; }
  };
  std::priority_queue<Way, std::vector<Way>, std::greater<>> ways;
  ways.push({hollow.bottom, start});
  std::unordered_set<Index> wet;
  bool leaves = false;
  for (std::size_t done = 1; !leaves && !ways.empty(); ++done) {
    if ((done & 0xfff) == 0) progress.check();
    const auto [at, t] = ways.top();
    ways.pop();
    if (t != kNone && !wet.insert(t).second) continue;
    hollow.rim = std::max(hollow.rim, at);
    if (t == kNone) {
      leaves = true;
      break;
    }
    const Triangle& c = tin.triangles()[t];
    for (int k = 0; k < 3; ++k) {
      leaves |= level(c[k]) < hollow.bottom - kLower;
      ways.push({std::max(std::min(level(c[next(k)]), level(c[before(k)])), at), tin.neighbours()[t][k]});
    }
  }
  return leaves && hollow.rim > hollow.bottom + kLower ? std::optional(hollow) : std::nullopt;
}

Storage storageAt(const Tin& tin, const Hollow& hollow, double level) {
  Storage storage{level, 0, 0};
  if (level <= hollow.bottom) return storage;
  std::unordered_set<Index> seen{hollow.start};
  std::vector<Index> waiting{hollow.start};
  while (!waiting.empty()) {
    const Index t = waiting.back();
    waiting.pop_back();
    const auto c = tin.corners(t);
    const double area = plane::turn(c[0].plan(), c[1].plan(), c[2].plan()) / 2;
    const Part part = positivePart(area, level - c[0].z, level - c[1].z, level - c[2].z);
    storage.volume += part.volume, storage.area += part.area;
    for (int k = 0; k < 3; ++k) {
      const Index other = tin.neighbours()[t][k];
      if (other == kNone || std::min(c[next(k)].z, c[before(k)].z) >= level) continue;
      if (seen.insert(other).second) waiting.push_back(other);
    }
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
