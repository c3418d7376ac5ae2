// Where two triangles lie over each other in plan: the kernel of volumes and batters.
#pragma once

#include <algorithm>
#include <array>
#include <cassert>

#include "plane/geometry.h"

namespace inselberg::quantity {

using plane::Vec2;

// A convex polygon of a few corners, counter-clockwise; n = 0: empty. The rest of the array is not set.
struct Convex {
  static constexpr int kMost = 12;
  std::array<Vec2, kMost> p;
  int n;

  Convex() : n(0) {}  // leaves the corners unset on purpose: clearing them would double the cost of a clip
  Convex(const Convex& other) : n(other.n) { std::copy_n(other.p.begin(), n, p.begin()); }
  Convex& operator=(const Convex& other) {
    n = other.n;
    std::copy_n(other.p.begin(), n, p.begin());
    return *this;
  }
  void add(Vec2 q) {
    assert(n < kMost);
    p[n++] = q;
  }
};

// The part of `shape` to the left of a->b. Returns whether that is a real cut: false leaves `out` alone, and the part
// is all of `shape`.
inline bool clipLeft(const Convex& shape, Vec2 a, Vec2 b, Convex& out) {
  const double dx = b.x - a.x, dy = b.y - a.y;
  std::array<double, Convex::kMost> side;
  bool anyOut = false;
  for (int i = 0; i < shape.n; ++i) {
    side[i] = dx * (shape.p[i].y - a.y) - dy * (shape.p[i].x - a.x);
    anyOut |= side[i] < 0;
  }
  if (!anyOut) return false;
  out.n = 0;
  for (int i = 0, j = shape.n - 1; i < shape.n; j = i++) {
    if ((side[i] >= 0) != (side[j] >= 0)) {
      const double t = side[j] / (side[j] - side[i]);
      out.add({shape.p[j].x + t * (shape.p[i].x - shape.p[j].x), shape.p[j].y + t * (shape.p[i].y - shape.p[j].y)});
    }
    if (side[i] >= 0) out.add(shape.p[i]);
  }
  return true;
}

inline void clipLeft(Convex& shape, Vec2 a, Vec2 b) {
  Convex out;
  if (clipLeft(shape, a, b, out)) shape = out;
}

// The overlap of `shape` with the counter-clockwise triangle abc.
inline Convex overlap(const Convex& shape, Vec2 a, Vec2 b, Vec2 c) {
  Convex one, two;
  const Convex* now = &shape;
  if (clipLeft(*now, a, b, one)) now = &one;
  if (now->n >= 3 && clipLeft(*now, b, c, two)) now = &two;
  Convex& spare = now == &one ? two : one;
  if (now->n >= 3 && clipLeft(*now, c, a, spare)) now = &spare;
  return *now;
}

inline Convex triangleShape(Vec2 a, Vec2 b, Vec2 c) {
  Convex shape;
  shape.add(a), shape.add(b), shape.add(c);
  return shape;
}

inline double area(const Convex& shape) {
  double twice = 0;
  for (int i = 2; i < shape.n; ++i) twice += plane::turn(shape.p[0], shape.p[i - 1], shape.p[i]);
  return twice / 2;
}

}  // namespace inselberg::quantity
