#include "ground/drape.h"

#include <algorithm>
#include <array>

#include "ground/tin_index.h"

namespace inselberg::ground {
namespace {

struct Along {
  double t, z;
};

// The part of a segment within a triangle, from low to high; low > high where there is none.
std::array<double, 2> within(Vec2 a, Vec2 b, const std::array<Vec3, 3>& c) {
  double low = 0, high = 1;
  for (int k = 0; k < 3; ++k) {
    const Vec2 p = c[k].plan(), q = c[next(k)].plan();
    const double slack = 1e-7 * plane::distance(p, q);
    const double da = plane::turn(p, q, a) + slack, db = plane::turn(p, q, b) + slack;
    if (da < 0 && db < 0) return {1, 0};
    if (da < 0) low = std::max(low, da / (da - db));
    if (db < 0) high = std::min(high, da / (da - db));
  }
  return {low, high};
}

// The levels along a segment, rising in t from 0 to 1; false when it leaves the ground.
bool follow(const Tin& ground, Vec2 a, Vec2 b, std::vector<Along>& out) {
  struct Part {
    double low, high, zLow, zHigh;
  };
  std::vector<Part> parts;
  const std::array<Vec2, 2> segment{a, b};
  std::vector<Index> seen;
  const double length = plane::distance(a, b);
  ground.index().touching(segment, 1e-6, [&](Index t) { seen.push_back(t); });
  std::sort(seen.begin(), seen.end());
  seen.erase(std::unique(seen.begin(), seen.end()), seen.end());
  for (const Index t : seen) {
    const auto corners = ground.corners(t);
    const auto [low, high] = within(a, b, corners);
    if (!((high - low) * length > 1e-6)) continue;
    const Plane plane = planeOf(corners);
    parts.push_back({low, high, plane(a + low * (b - a)), plane(a + high * (b - a))});
  }
  std::sort(parts.begin(), parts.end(), [](const Part& x, const Part& y) { return x.low < y.low; });
  double at = 0;
  for (const Part& p : parts) {
    if (p.high <= at + 1e-7 / length) continue;
    if (p.low > at + 1e-5 / length) return false;
    if (out.empty()) out.push_back({0, p.zLow});
    out.push_back({p.high, p.zHigh});
    at = p.high;
  }
  return at > 1 - 1e-5 / length;
}

}  // namespace

std::vector<Vec3> draped(const Tin& ground, std::span<const Vec2> line, bool closed,
                         std::vector<std::size_t>* firstOf) {
  std::vector<Vec3> result;
  if (firstOf) firstOf->clear();
  const std::size_t n = line.size(), pieces = closed ? n : n - 1;
  for (std::size_t i = 0; i < pieces; ++i) {
    const Vec2 a = line[i], b = line[(i + 1) % n];
    std::vector<Along> along;
    if (!follow(ground, a, b, along)) return {};
    if (firstOf) firstOf->push_back(result.size());
    result.push_back({a.x, a.y, along.front().z});
    for (std::size_t k = 1; k + 1 < along.size(); ++k) {
      const Vec2 p = a + along[k].t * (b - a);
      result.push_back({p.x, p.y, along[k].z});
    }
    if (i + 1 == pieces && !closed) {
      if (firstOf) firstOf->push_back(result.size());
      result.push_back({b.x, b.y, along.back().z});
    }
  }
  return result;
}

}  // namespace inselberg::ground
