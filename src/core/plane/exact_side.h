// On which side of a line a point lies, without rounding.
#pragma once

#include <cmath>

#include "plane/geometry.h"

namespace inselberg::plane {

namespace detail {
double exactSideSlow(Vec2 a, Vec2 b, Vec2 c);
}

// The sign of turn(a, b, c) without rounding: above 0 when c lies to the left of a->b, below 0 to the right, 0 on the
// line. `rounded`: turn(a, b, c) as computed. Nearly always as quick as that; near the line, exact arithmetic.
inline double exactSide(Vec2 a, Vec2 b, Vec2 c, double& rounded) {
  const double left = (b.x - a.x) * (c.y - a.y), right = (b.y - a.y) * (c.x - a.x);
  rounded = left - right;
  // (3 + 16 e) e with e = 2^-53: J. R. Shewchuk, Adaptive precision floating-point arithmetic, 1997.
  constexpr double kBound = 3.3306690738754716e-16;
  if (std::abs(rounded) > kBound * (std::abs(left) + std::abs(right))) return rounded;
  return detail::exactSideSlow(a, b, c);
}

}  // namespace inselberg::plane
