// A ground laid out for walking through it along lines.
#pragma once

#include <algorithm>
#include <cstdint>
#include <vector>

#include "base/large_array.h"
#include "base/progress.h"
#include "ground/tin.h"
#include "plane/exact_side.h"

namespace inselberg::quantity {

using ground::Index;
using plane::Vec2;
using plane::Vec3;

// A triangle with all that is asked of it, in a line of the processor's cache.
struct alignas(64) Facet {
  ground::Triangle corners, neighbours;
  double east, north;  // its gradient
  float low, high;     // no corner is below or above
  float reach2;        // the square of no side is more
};
static_assert(sizeof(Facet) == 64);

// A side of a triangle, from its corner of the lower number.
struct Edge {
  Index first, last;  // corners
  Vec2 a, b;
  Index left, right;  // its triangles; kNone: none
};

// A ground without the triangles that do not count: some that are left out, those without plan area (walls) and
// slivers, across which planes say nothing of a level.
//
// On which side of a line something lies is decided exactly, with one of two grounds moved by an infinitesimal (1, e),
// e infinitely less than 1: then no corner of one lies on a line of the other, and all decisions agree with each other.
class Layer {
 public:
  // `out`: per triangle, 1 where it is left out. `moved`: whether it is this ground that is thought moved. REQUIRES:
  // the ground outlives the layer.
  Layer(const ground::Tin& tin, std::vector<std::uint8_t> out, bool moved, const Progress& progress);

  const ground::Tin& tin() const { return tin_; }
  std::size_t size() const { return facets_.size(); }
  bool isOut(Index t) const { return out_[t] != 0; }
  // Whether a triangle that counts has the point.
  bool isUsed(Index point) const { return used_.empty() || used_[point] != 0; }
  // REQUIRES, here and below: the triangle is not left out.
  const Facet& facet(Index t) const { return facets_[t]; }
  const Vec3& point(Index i) const { return points_[i]; }
  Vec2 plan(Index point) const { return points_[point].plan(); }
  const Vec3& origin(const Facet& f) const { return points_[f.corners[0]]; }
  // The level at a place in the triangle: rounding must not take it far beyond the corners'.
  double level(const Facet& f, Vec2 p) const {
    const Vec3& c = origin(f);
    const double level = c.z + f.east * (p.x - c.x) + f.north * (p.y - c.y);
    return std::clamp(level, double{f.low}, double{f.high});
  }

  // Side k of triangle t is walked for it, not for its neighbour.
  bool owns(Index t, int k) const {
    const Index n = facets_[t].neighbours[k];
    return n == ground::kNone || t < n;
  }
  Edge edgeOf(Index t, int k) const {
    const Index u = facets_[t].corners[ground::next(k)], v = facets_[t].corners[ground::before(k)];
    const Index first = std::min(u, v), last = std::max(u, v), n = facets_[t].neighbours[k];
    return {first, last, plan(first), plan(last), u < v ? t : n, u < v ? n : t};
  }

  // The side of this ground's line a->b on which a corner of the other lies; never 0. `rounded`: turn(a, b, other).
  double sideOfOther(Vec2 a, Vec2 b, Vec2 other, double& rounded) const {
    const double side = plane::exactSide(a, b, other, rounded);
    if (side != 0) return side;
    const Vec2 d = b - a;
    return tie_ * (d.y != 0 ? d.y : -d.x);
  }
  double sideOfOther(Vec2 a, Vec2 b, Vec2 other) const {
    double rounded = 0;
    return sideOfOther(a, b, other, rounded);
  }

  // The triangle that holds a corner of the other ground, kNone where none does. `near`: one that may be near, or
  // kNone.
  Index locate(Vec2 other, Index near) const;

 private:
  void prepare(Index t);
  // A side of t that the place lies beyond, but not the one to `from`; -1: none.
  int wayOut(Index t, Vec2 other, Index from) const;

  const ground::Tin& tin_;
  const Vec3* points_;
  std::vector<std::uint8_t> out_, used_;  // used: empty when all points are
  LargeArray<Facet> facets_;              // not set where a triangle is left out
  double tie_;
};

}  // namespace inselberg::quantity
