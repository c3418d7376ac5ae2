// Made-up grounds for tests, and comparisons that print both sides.
#pragma once

#include <cmath>
#include <functional>
#include <random>

#include "ground/build.h"
#include "plane/polygon.h"
#include "support/geometry_text.h"

namespace inselberg::testing {

using Level = std::function<double(double x, double y)>;

// A square grid over 0..size, n cells a side, its vertices moved off their places by up to a fifth of a cell (along the
// border on the border): nothing about a ground may depend on even spacing.
inline ground::TinPtr gridGround(double size, int n, const Level& level, double x0 = 0, double y0 = 0) {
  ground::BuildInput input;
  std::mt19937 random(static_cast<unsigned>(n));
  std::uniform_real_distribution<double> off(-0.2 * size / n, 0.2 * size / n);
  for (int j = 0; j <= n; ++j) {
    for (int i = 0; i <= n; ++i) {
      const double x = x0 + size * i / n + (i > 0 && i < n ? off(random) : 0);
      const double y = y0 + size * j / n + (j > 0 && j < n ? off(random) : 0);
      input.points.push_back({x, y, level(x, y)});
    }
  }
  return ground::build(input, {}, {}, {}).tin;
}

// The same with its vertices in their places, for tests that name places on it.
inline ground::TinPtr evenGridGround(double size, int n, const Level& level, double x0 = 0, double y0 = 0) {
  ground::BuildInput input;
  for (int j = 0; j <= n; ++j) {
    for (int i = 0; i <= n; ++i) {
      const double x = x0 + size * i / n, y = y0 + size * j / n;
      input.points.push_back({x, y, level(x, y)});
    }
  }
  return ground::build(input, {}, {}, {}).tin;
}

// Scattered points with the square's corners, so that it is covered whole.
inline ground::TinPtr scatteredGround(double size, int n, std::mt19937& random, const Level& level) {
  std::uniform_real_distribution<double> place(0, size);
  ground::BuildInput input;
  for (const double x : {0.0, size}) {
    for (const double y : {0.0, size}) input.points.push_back({x, y, level(x, y)});
  }
  for (int i = 0; i < n; ++i) {
    const double x = place(random), y = place(random);
    input.points.push_back({x, y, level(x, y)});
  }
  return ground::build(input, {}, {}, {}).tin;
}

// A smooth random hillside: a tilt and a few waves.
inline Level randomHills(std::mt19937& random, double height) {
  std::uniform_real_distribution<double> u(-1, 1);
  const double tiltX = 0.05 * u(random), tiltY = 0.05 * u(random);
  std::vector<std::array<double, 4>> waves;
  for (int k = 0; k < 4; ++k)
    waves.push_back(
        {0.02 + 0.05 * std::abs(u(random)), 0.02 + 0.05 * std::abs(u(random)), 3 * u(random), height * u(random) / 4});
  return [=](double x, double y) {
    double z = 50 + tiltX * x + tiltY * y;
    for (const auto& w : waves) z += w[3] * std::sin(w[0] * x + w[2]) * std::cos(w[1] * y - w[2]);
    return z;
  };
}

// A simple counter-clockwise ring around a centre: corners at increasing angles and random radii (mostly concave).
inline plane::Ring randomStar(std::mt19937& random, plane::Vec2 centre, double low, double high, int corners) {
  std::uniform_real_distribution<double> radius(low, high);
  plane::Ring ring;
  for (int i = 0; i < corners; ++i) {
    const double a = 6.283185307179586 * i / corners, r = radius(random);
    ring.push_back({centre.x + r * std::cos(a), centre.y + r * std::sin(a)});
  }
  return ring;
}

inline plane::Ring rectangle(double x0, double y0, double x1, double y1) {
  return {{x0, y0}, {x1, y0}, {x1, y1}, {x0, y1}};
}

}  // namespace inselberg::testing
