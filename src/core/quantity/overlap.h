// Where two triangles lie over each other in plan: the kernel of volumes and batters.
#pragma once

#include <algorithm>
#include <array>
#include <cassert>
#include <optional>

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

// The overlap of `shape` with the counter-clockwise triangle abc; nothing where that has no area (one in a point has no
// sides to cut by).
inline Convex overlap(const Convex& shape, Vec2 a, Vec2 b, Vec2 c) {
  if (!(plane::turn(a, b, c) > 0)) return {};
  Convex one, two;
  const Convex* now = &shape;
  if (clipLeft(*now, a, b, one)) now = &one;
  if (now->n >= 3 && clipLeft(*now, b, c, two)) now = &two;
  Convex& spare = now == &one ? two : one;
  if (now->n >= 3 && clipLeft(*now, c, a, spare)) now = &spare;
  return *now;
}

// The overlap of two counter-clockwise triangles in one go, the same as overlap() but quicker: most pairs are told
// apart, or found one inside the other, before anything is clipped, and what was computed for that serves the clipping.
inline void overlapOfTriangles(const std::array<Vec2, 3>& t, const std::array<Vec2, 3>& u, Convex& out) {
  struct Corner {  // without initialisers: setting all of them would cost as much as the clipping
    double x, y;
    double side[3];  // positive to the left of t's sides
  };
  out.n = 0;
  Corner buffers[2][8];
  Corner* now = buffers[0];
  Corner* then = buffers[1];
  bool inside = true;
  for (int i = 0; i < 3; ++i) now[i].x = u[i].x, now[i].y = u[i].y;
  for (int k = 0; k < 3; ++k) {
    const Vec2 a = t[k], d = t[k == 2 ? 0 : k + 1] - a;
    bool any = false;
    for (int i = 0; i < 3; ++i) {
      const double side = plane::cross(d, u[i] - a);
      now[i].side[k] = side;
      any |= side > 0;
      inside &= side >= 0;
    }
    if (!any) return;
  }
  if (inside) {
    for (const Vec2 p : u) out.add(p);
    return;
  }
  for (int k = 0; k < 3; ++k) {
    const Vec2 a = u[k], d = u[k == 2 ? 0 : k + 1] - a;
    if (!(plane::cross(d, t[0] - a) > 0) && !(plane::cross(d, t[1] - a) > 0) && !(plane::cross(d, t[2] - a) > 0))
      return;
  }
  int n = 3;
  for (int k = 0; k < 3; ++k) {
    bool cut = false;
    for (int i = 0; i < n; ++i) cut |= now[i].side[k] < 0;
    if (!cut) continue;
    int m = 0;
    for (int i = 0, j = n - 1; i < n; j = i++) {
      const double from = now[j].side[k], to = now[i].side[k];
      if ((to >= 0) != (from >= 0)) {
        const double s = from / (from - to);
        Corner& c = then[m++];
        c.x = now[j].x + s * (now[i].x - now[j].x);
        c.y = now[j].y + s * (now[i].y - now[j].y);
        for (int l = k + 1; l < 3; ++l) c.side[l] = now[j].side[l] + s * (now[i].side[l] - now[j].side[l]);
      }
      if (to >= 0) then[m++] = now[i];
    }
    if (m < 3) return;
    n = m;
    std::swap(now, then);
  }
  for (int i = 0; i < n; ++i) out.add({now[i].x, now[i].y});
}

inline Convex triangleShape(Vec2 a, Vec2 b, Vec2 c) {
  Convex shape;
  shape.add(a), shape.add(b), shape.add(c);
  return shape;
}

inline std::array<Vec2, 3> plansOf(const std::array<plane::Vec3, 3>& corners) {
  return {corners[0].plan(), corners[1].plan(), corners[2].plan()};
}

inline plane::Box boxOf(const Convex& shape) {
  plane::Box box;
  for (int i = 0; i < shape.n; ++i) box.add(shape.p[i]);
  return box;
}

inline double area(const Convex& shape) {
  double twice = 0;
  for (int i = 2; i < shape.n; ++i) twice += plane::turn(shape.p[0], shape.p[i - 1], shape.p[i]);
  return twice / 2;
}

// Where two triangles have the same corners in plan and in the same order: how many corners the second one is turned
// by, so that corner k of the first is corner k + turned of the second.
inline std::optional<int> samePlan(const std::array<plane::Vec3, 3>& c, const std::array<plane::Vec3, 3>& d) {
  const auto meet = [](const plane::Vec3& p, const plane::Vec3& q) { return p.x == q.x && p.y == q.y; };
  for (int k = 0; k < 3; ++k) {
    if (meet(c[0], d[k]) && meet(c[1], d[(k + 1) % 3]) && meet(c[2], d[(k + 2) % 3])) return k;
  }
  return std::nullopt;
}

// Whether two triangles have the same corners in the same order, whichever comes first.
inline bool sameCorners(const std::array<plane::Vec3, 3>& c, const std::array<plane::Vec3, 3>& d) {
  for (int k = 0; k < 3; ++k) {
    if (c[0] == d[k] && c[1] == d[(k + 1) % 3] && c[2] == d[(k + 2) % 3]) return true;
  }
  return false;
}

}  // namespace inselberg::quantity
