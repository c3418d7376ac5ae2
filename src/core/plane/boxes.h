// Boxes against boxes, and moved.
#pragma once

#include <array>

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

// The box around a box whose corners are moved by f.
template <class F>
Box boxAround(const Box& box, F&& f) {
  Box around;
  for (const Vec2 corner : cornersOf(box)) around.add(f(corner));
  return around;
}

}  // namespace inselberg::plane
