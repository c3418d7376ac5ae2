// Boxes against boxes, and moved.
#pragma once

#include <algorithm>
#include <array>
#include <tuple>
#include <utility>

#include "plane/geometry.h"

namespace inselberg::plane {

// What both cover. Where they are apart, a minimum is above its maximum.
inline Box common(const Box& a, const Box& b) {
  return {std::max(a.minX, b.minX), std::max(a.minY, b.minY), std::min(a.maxX, b.maxX), std::min(a.maxY, b.maxY)};
}

// Whether the inner one lies in the outer one, edges counted in.
inline bool holds(const Box& outer, const Box& inner) {
  return outer.minX <= inner.minX && outer.minY <= inner.minY && outer.maxX >= inner.maxX && outer.maxY >= inner.maxY;
}

// Counter-clockwise from the lower left.
inline std::array<Vec2, 4> cornersOf(const Box& b) {
  return {Vec2{b.minX, b.minY}, {b.maxX, b.minY}, {b.maxX, b.maxY}, {b.minX, b.maxY}};
}

// The part of the segment inside the box, as fractions of its length; empty (first > last) when there is none.
inline std::pair<double, double> insideBox(Vec2 a, Vec2 b, const Box& box) {
  double first = 0, last = 1;
  for (const auto& [from, to, low, high] :
       {std::tuple{a.x, b.x, box.minX, box.maxX}, std::tuple{a.y, b.y, box.minY, box.maxY}}) {
    if (from == to) {
      if (from < low || from > high) return {1, 0};
      continue;
    }
    const double s = (low - from) / (to - from), t = (high - from) / (to - from);
    first = std::max(first, std::min(s, t)), last = std::min(last, std::max(s, t));
  }
  return {first, last};
}

// The box around a box whose corners are moved by f.
template <class F>
Box boxAround(const Box& box, F&& f) {
  Box around;
  for (const Vec2 corner : cornersOf(box)) around.add(f(corner));
  return around;
}

}  // namespace inselberg::plane
