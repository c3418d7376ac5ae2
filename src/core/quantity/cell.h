// The difference of two grounds over one cell of their overlay, where it is linear: integrated in closed form.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include "quantity/level_sums.h"
#include "quantity/overlap.h"

namespace inselberg::quantity {

// Adds the integral over one counter-clockwise triangle with differences of level d at its corners, split at zero.
inline void addTriangle(Vec2 a, Vec2 b, Vec2 c, double da, double db, double dc, Few& few) {
  const double whole = plane::turn(a, b, c) / 2;
  if (!(whole > 0)) return;
  const double v = whole * (da + db + dc) / 3;
  if (std::abs(da) < kNoDifference && std::abs(db) < kNoDifference && std::abs(dc) < kNoDifference) {
    few.untouched += whole;
    (v >= 0 ? few.up : few.down) += std::abs(v);
    return;
  }
  const bool ua = da > 0, ub = db > 0, uc = dc > 0;
  if (ua == ub && ub == uc) {
    (ua ? few.up : few.down) += std::abs(v);
    (ua ? few.upArea : few.downArea) += whole;
    return;
  }
  // One corner (x) on its own side of zero: the small triangle at x holds the fraction s*t of the area.
  double dx = da, dy = db, dz = dc;
  if (ub != ua && ub != uc) dx = db, dy = dc, dz = da;
  if (uc != ua && uc != ub) dx = dc, dy = da, dz = db;
  const double s = dx / (dx - dy), t = dx / (dx - dz);
  const double small = whole * s * t, smallVolume = small * dx / 3;
  const bool smallUp = dx > 0;
  (smallUp ? few.up : few.down) += std::abs(smallVolume);
  (smallUp ? few.upArea : few.downArea) += small;
  (smallUp ? few.down : few.up) += std::abs(v - smallVolume);
  (smallUp ? few.downArea : few.upArea) += whole - small;
}

// Adds the integral over a convex counter-clockwise polygon with differences d at its n corners, and takes in the
// greatest of them.
inline void addCell(const Vec2* p, const double* d, int n, Few& few, LevelSums& sums) {
  double low = std::numeric_limits<double>::infinity(), high = -low;
  for (int i = 0; i < n; ++i) low = std::min(low, d[i]), high = std::max(high, d[i]);
  if (high >= kNoDifference && high >= sums.highest.depth) {
    for (int i = 0; i < n; ++i) sums.highest.take(d[i], p[i]);
  }
  if (-low >= kNoDifference && -low >= sums.lowest.depth) {
    for (int i = 0; i < n; ++i) sums.lowest.take(-d[i], p[i]);
  }
  if (low < kNoDifference && high > -kNoDifference) {
    for (int i = 2; i < n; ++i) addTriangle(p[0], p[i - 1], p[i], d[0], d[i - 1], d[i], few);
    return;
  }
  // All on one side of zero, as most are.
  double twice = 0, six = 0;
  for (int i = 2; i < n; ++i) {
    const double whole = std::max(0.0, plane::turn(p[0], p[i - 1], p[i]));
    twice += whole;
    six += whole * (d[0] + d[i - 1] + d[i]);
  }
  (low > 0 ? few.up : few.down) += std::abs(six) / 6;
  (low > 0 ? few.upArea : few.downArea) += twice / 2;
}

// The same over a triangle that both grounds have in plan. REQUIRES: samePlan(outer, inner).
inline void addSamePlan(const std::array<plane::Vec3, 3>& outer, const std::array<plane::Vec3, 3>& inner, Few& few,
                        LevelSums& sums) {
  const auto turned = static_cast<std::size_t>(*samePlan(outer, inner));
  std::array<Vec2, 3> p;
  std::array<double, 3> d;
  for (std::size_t k = 0; k < 3; ++k) p[k] = outer[k].plan(), d[k] = outer[k].z - inner[(k + turned) % 3].z;
  if (d[0] == 0 && d[1] == 0 && d[2] == 0) {
    few.untouched += plane::turn(p[0], p[1], p[2]) / 2;
    return;
  }
  addCell(p.data(), d.data(), 3, few, sums);
}

}  // namespace inselberg::quantity
