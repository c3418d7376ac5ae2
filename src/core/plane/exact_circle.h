// Whether a point lies inside a circle, without rounding.
#pragma once

#include <cmath>

#include "plane/geometry.h"

namespace inselberg::plane {

namespace detail {
bool insideCircleSlow(Vec2 a, Vec2 b, Vec2 c, Vec2 d);
}

// Whether d lies inside the circle through a, b and c, not on it. Nearly always as quick as its determinant; near the
// circle, exact arithmetic. REQUIRES: a, b and c run counter-clockwise.
inline bool insideCircle(Vec2 a, Vec2 b, Vec2 c, Vec2 d) {
  const Vec2 p = a - d, q = b - d, r = c - d;
  const double qr = q.x * r.y, rq = r.x * q.y, rp = r.x * p.y, pr = p.x * r.y, pq = p.x * q.y, qp = q.x * p.y;
  const double pp = dot(p, p), qq = dot(q, q), rr = dot(r, r);
  const double rounded = pp * (qr - rq) + qq * (rp - pr) + rr * (pq - qp);
  // (10 + 96 e) e with e = 2^-53: J. R. Shewchuk, Adaptive precision floating-point arithmetic, 1997.
  constexpr double kBound = 1.1102230246251577e-15;
  const double size =
      pp * (std::abs(qr) + std::abs(rq)) + qq * (std::abs(rp) + std::abs(pr)) + rr * (std::abs(pq) + std::abs(qp));
  if (std::abs(rounded) > kBound * size) return rounded > 0;
  return detail::insideCircleSlow(a, b, c, d);
}

}  // namespace inselberg::plane
