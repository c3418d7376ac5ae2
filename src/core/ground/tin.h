// A ground in memory: an immutable triangulated surface.
#pragma once

#include <array>
#include <cstdint>
#include <memory>
#include <mutex>
#include <optional>
#include <span>
#include <vector>

#include "plane/geometry.h"

namespace inselberg::ground {

using plane::Box;
using plane::Vec2;
using plane::Vec3;

using Index = std::uint32_t;
constexpr Index kNone = 0xffffffffu;
using Triangle = std::array<Index, 3>;

class LevelGrid;
class TinIndex;

// Side k of a triangle lies opposite its corner k, from corner k+1 to corner k+2.
constexpr int next(int k) {
  return k == 2 ? 0 : k + 1;
}
constexpr int before(int k) {
  return k == 0 ? 2 : k - 1;
}

// What a Tin is made of. Triangles are counter-clockwise in plan. Points may coincide in plan (walls): which triangles
// meet is said by the indices. Every point belongs to a triangle.
struct TinParts {
  std::vector<Vec3> points;
  std::vector<Triangle> triangles;
  std::vector<std::uint8_t> breaks;  // empty, or per triangle: bit k set when side k is a breakline
  // Empty, or per triangle the triangle across each side (kNone: border). Worked out when empty.
  std::vector<Triangle> neighbours;
};

class Tin {
 public:
  // REQUIRES: indices in range; triangles counter-clockwise, none with an area below zero as rounded.
  explicit Tin(TinParts parts);
  // The same for a ground that is `like` in plan, but that triangles `changed` are new or have moved in the list, and
  // the list may be longer or shorter. Where it lies in the bounds of that, and most of it is as there, it is searched
  // by way of the other's grid.
  Tin(TinParts parts, const Tin& like, std::span<const Index> changed);
  ~Tin();
  Tin(const Tin&) = delete;
  Tin& operator=(const Tin&) = delete;

  const TinParts& parts() const { return parts_; }
  std::span<const Vec3> points() const { return parts_.points; }
  std::span<const Triangle> triangles() const { return parts_.triangles; }
  std::span<const Triangle> neighbours() const { return parts_.neighbours; }
  bool isBreak(Index triangle, int side) const {
    return !parts_.breaks.empty() && (parts_.breaks[triangle] >> side & 1) != 0;
  }
  std::uint8_t breakBits(Index triangle) const {
    return parts_.breaks.empty() ? std::uint8_t{0} : parts_.breaks[triangle];
  }

  bool empty() const { return parts_.triangles.empty(); }
  const Box& bounds() const { return bounds_; }
  double minLevel() const { return minLevel_; }  // of all points; 0 when empty
  double maxLevel() const { return maxLevel_; }

  Vec2 plan(Index point) const { return parts_.points[point].plan(); }
  std::array<Vec3, 3> corners(Index triangle) const {
    const Triangle& t = parts_.triangles[triangle];
    return {parts_.points[t[0]], parts_.points[t[1]], parts_.points[t[2]]};
  }
  // The side of `triangle`'s neighbour across `side` that leads back; REQUIRES a neighbour there.
  int sideBack(Index triangle, int side) const;

  // The triangle that holds p, kNone where the ground does not cover p. A point within 1e-7 m of the border counts as
  // covered. Where several triangles hold p (on a side), any of them.
  Index locate(Vec2 p) const;
  // The same, quicker where `near` is a triangle close by; it becomes the one that is found, if any.
  Index locate(Vec2 p, Index& near) const;
  // The level at p from the plane of its triangle; nothing where the ground does not cover p.
  std::optional<double> levelAt(Vec2 p) const;

  // The search grid, built at first use (safe from several threads).
  const TinIndex& index() const;
  // How low and how high it lies in parts of the plan; likewise.
  const LevelGrid& levels() const;

  std::size_t bytes() const;  // memory at rest, the search grid included once built

 private:
  TinParts parts_;
  Box bounds_;
  double minLevel_ = 0;
  double maxLevel_ = 0;
  mutable std::once_flag indexOnce_;
  mutable std::unique_ptr<const TinIndex> index_;
  mutable std::once_flag levelsOnce_;
  mutable std::unique_ptr<const LevelGrid> levels_;
};

using TinPtr = std::shared_ptr<const Tin>;

// The same triangles at other levels. REQUIRES: as many points, in plan where those of the ground are.
TinPtr atLevels(const Tin& ground, std::vector<Vec3> points);

// The level as a linear function of plan position.
struct Plane {
  Vec2 at;
  double level = 0;
  Vec2 gradient;  // metres up per metre east, north
  double operator()(Vec2 p) const { return level + plane::dot(gradient, p - at); }
};
// Triangles narrower than this (m) are slivers: made by rounding where lines are cut in, they have a side's slope at
// most.
constexpr double kSliver = 1e-9;
// Always finite: a sliver, even one without any area, has the level of its longest side, and no slope across it.
Plane planeOf(const std::array<Vec3, 3>& corners);

struct TinStatistics {
  std::size_t points = 0;
  std::size_t triangles = 0;
  double planArea = 0;
  double surfaceArea = 0;
  double minLevel = 0;
  double maxLevel = 0;
  Box bounds;
};
TinStatistics statistics(const Tin& tin);

// For every triangle, the triangle across each side. A side shared by more than two triangles, or run through in the
// same direction by two, stays a border.
std::vector<Triangle> findNeighbours(std::size_t pointCount, std::span<const Triangle> triangles);

// Drops points no triangle uses and renumbers the others in the order the triangles use them, so that near triangles
// have near points.
void dropUnusedPoints(TinParts& parts);

}  // namespace inselberg::ground
