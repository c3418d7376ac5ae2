#include "ground/tin.h"

#include <algorithm>
#include <cassert>
#include <cmath>

#include "base/sum.h"
#include "ground/level_grid.h"
#include "ground/tin_index.h"

namespace inselberg::ground {

Tin::Tin(TinParts parts) : parts_(std::move(parts)) {
  assert(parts_.breaks.empty() || parts_.breaks.size() == parts_.triangles.size());
  if (parts_.neighbours.empty()) parts_.neighbours = findNeighbours(parts_.points.size(), parts_.triangles);
  for (const Vec3& p : parts_.points) bounds_.add(p.plan());
  if (!parts_.points.empty()) {
    minLevel_ = maxLevel_ = parts_.points[0].z;
    for (const Vec3& p : parts_.points) minLevel_ = std::min(minLevel_, p.z), maxLevel_ = std::max(maxLevel_, p.z);
  }
}

Tin::Tin(TinParts parts, const Tin& like, std::span<const Index> changed) : Tin(std::move(parts)) {
  const std::size_t count = parts_.triangles.size();
  const Box& room = like.bounds();
  if (2 * changed.size() > count || 2 * count < like.triangles().size() || !like.index().suits(count) ||
      !room.contains({bounds_.minX, bounds_.minY}) || !room.contains({bounds_.maxX, bounds_.maxY}))
    return;
  std::call_once(indexOnce_, [&] { index_ = std::make_unique<const TinIndex>(*this, like, changed); });
}

Tin::~Tin() = default;

int Tin::sideBack(Index triangle, int side) const {
  const Index other = parts_.neighbours[triangle][side];
  const Index from = parts_.triangles[triangle][next(side)];
  const Triangle& t = parts_.triangles[other];
  // The neighbour runs through the shared side the other way: it ends at `from`.
  return t[0] == from ? next(0) : t[1] == from ? next(1) : next(2);
}

const TinIndex& Tin::index() const {
  std::call_once(indexOnce_, [this] { index_ = std::make_unique<const TinIndex>(*this); });
  return *index_;
}

const LevelGrid& Tin::levels() const {
  std::call_once(levelsOnce_, [this] { levels_ = std::make_unique<const LevelGrid>(*this); });
  return *levels_;
}

// A triangle that holds the place is found without a root; how far off others lie is asked only of those near enough.
Index Tin::locate(Vec2 p) const {
  constexpr double kTolerance = 1e-7;
  Index best = kNone;
  double bestInside = -kTolerance;
  // Beside all sides' lines a place may still lie far off, in line with a sliver.
  const auto near = [&](const Triangle& c) {
    Box box;
    for (const Index v : c) box.add(plan(v));
    return box.grown(kTolerance).contains(p);
  };
  index().near(p, [&](Index t) {
    if (bestInside >= 0) return;
    const Triangle& c = parts_.triangles[t];
    double inside = std::numeric_limits<double>::infinity();
    for (int k = 0; k < 3; ++k) {
      const Vec2 a = plan(c[next(k)]), d = plan(c[before(k)]) - a;
      const double turn = plane::cross(d, p - a);
      if (turn >= 0 && inside >= 0) {
        inside = std::min(inside, turn);
        continue;
      }
      const double length2 = plane::dot(d, d);
      if (turn < 0 && turn * turn > kTolerance * kTolerance * length2) return;
      inside = std::min(inside, turn / std::sqrt(length2));
    }
    if (inside < bestInside || (inside < 0 && !near(c))) return;
    best = t, bestInside = inside;
  });
  return best;
}

// From side to side towards the place, for a few triangles.
Index Tin::locate(Vec2 p, Index& near) const {
  constexpr int kSteps = 12;
  Index t = near, from = kNone;
  for (int step = 0; t != kNone && step < kSteps; ++step) {
    const Triangle& c = parts_.triangles[t];
    int out = -1;
    for (int k = 0; k < 3 && out < 0; ++k) {
      if (from != kNone && parts_.neighbours[t][k] == from) continue;
      const Vec2 a = plan(c[next(k)]);
      if (plane::cross(plan(c[before(k)]) - a, p - a) < 0) out = k;
    }
    if (out < 0) return near = t;
    from = t;
    t = parts_.neighbours[t][out];
  }
  t = locate(p);
  if (t != kNone) near = t;
  return t;
}

std::optional<double> Tin::levelAt(Vec2 p) const {
  const Index t = locate(p);
  if (t == kNone) return std::nullopt;
  return planeOf(corners(t))(p);
}

std::size_t Tin::bytes() const {
  return parts_.points.capacity() * sizeof(Vec3) + parts_.triangles.capacity() * sizeof(Triangle) * 2 +
         parts_.breaks.capacity() + (index_ ? index_->bytes() : 0);
}

TinPtr atLevels(const Tin& ground, std::vector<Vec3> points) {
  assert(points.size() == ground.points().size());
  const TinParts& like = ground.parts();
  TinParts parts{std::move(points), like.triangles, like.breaks, like.neighbours};
  return std::make_shared<Tin>(std::move(parts), ground, std::span<const Index>());
}

Plane planeOf(const std::array<Vec3, 3>& c) {
  const Vec2 u = c[1].plan() - c[0].plan(), v = c[2].plan() - c[0].plan();
  const double du = c[1].z - c[0].z, dv = c[2].z - c[0].z;
  const double twice = plane::cross(u, v);
  if (twice > kSliver * (std::abs(u.x) + std::abs(u.y) + std::abs(v.x) + std::abs(v.y))) {
    return {c[0].plan(), c[0].z, {(du * v.y - dv * u.y) / twice, (dv * u.x - du * v.x) / twice}};
  }
  // Across a sliver the slope is all rounding: only the slope along its longest side counts.
  Plane plane{c[0].plan(), c[0].z, {0, 0}};
  double longest2 = 0;
  for (int k = 0; k < 3; ++k) {
    const Vec2 d = c[before(k)].plan() - c[next(k)].plan();
    const double length2 = plane::dot(d, d);
    if (length2 <= longest2) continue;
    longest2 = length2;
    plane = {c[next(k)].plan(), c[next(k)].z, ((c[before(k)].z - c[next(k)].z) / length2) * d};
  }
  return plane;
}

TinStatistics statistics(const Tin& tin) {
  TinStatistics s{tin.points().size(), tin.triangles().size(), 0, 0, tin.minLevel(), tin.maxLevel(), tin.bounds()};
  Sum planArea, surfaceArea;
  for (Index t = 0; t < tin.triangles().size(); ++t) {
    const auto c = tin.corners(t);
    const Vec2 u = c[1].plan() - c[0].plan(), v = c[2].plan() - c[0].plan();
    const double du = c[1].z - c[0].z, dv = c[2].z - c[0].z;
    const double nz = plane::cross(u, v), nx = u.y * dv - du * v.y, ny = du * v.x - u.x * dv;
    planArea.add(nz / 2);
    surfaceArea.add(std::sqrt(nx * nx + ny * ny + nz * nz) / 2);
  }
  s.planArea = planArea.value();
  s.surfaceArea = surfaceArea.value();
  return s;
}

// Half-edges are bucketed by their lower end point (a counting sort), and matched inside the bucket, which holds only
// as many as meet at that point.
std::vector<Triangle> findNeighbours(std::size_t pointCount, std::span<const Triangle> triangles) {
  struct Half {
    Index high;
    Index code;  // 4 * triangle + side, plus 3 free
    bool up;     // runs from the lower to the higher end
    bool used;
  };
  assert(triangles.size() < (std::size_t{1} << 30));
  std::vector<Index> starts(pointCount + 1, 0);
  const auto ends = [&](const Triangle& t, int k) { return std::pair(t[next(k)], t[before(k)]); };
  for (const Triangle& t : triangles) {
    for (int k = 0; k < 3; ++k) {
      const auto [a, b] = ends(t, k);
      ++starts[std::min(a, b) + 1];
    }
  }
  for (std::size_t i = 1; i < starts.size(); ++i) starts[i] += starts[i - 1];
  std::vector<Index> cursor(starts.begin(), starts.end() - 1);
  std::vector<Half> halves(triangles.size() * 3);
  std::vector<Triangle> neighbours(triangles.size(), Triangle{kNone, kNone, kNone});
  for (Index t = 0; t < triangles.size(); ++t) {
    for (int k = 0; k < 3; ++k) {
      const auto [a, b] = ends(triangles[t], k);
      const Index low = std::min(a, b), high = std::max(a, b);
      const Index code = 4 * t + static_cast<Index>(k);
      bool matched = false;
      for (Index i = starts[low]; i < cursor[low] && !matched; ++i) {
        Half& h = halves[i];
        if (h.high != high || h.used || h.up == (a == low)) continue;
        neighbours[t][k] = h.code / 4;
        neighbours[h.code / 4][h.code % 4] = t;
        h.used = matched = true;
      }
      if (!matched) halves[cursor[low]++] = {high, code, a == low, false};
    }
  }
  return neighbours;
}

void dropUnusedPoints(TinParts& parts) {
  std::vector<Index> to(parts.points.size(), kNone);
  std::vector<Vec3> used;
  used.reserve(parts.points.size());
  for (Triangle& t : parts.triangles) {
    for (Index& v : t) {
      if (to[v] == kNone) {
        to[v] = static_cast<Index>(used.size());
        used.push_back(parts.points[v]);
      }
      v = to[v];
    }
  }
  parts.points = std::move(used);
}

}  // namespace inselberg::ground
