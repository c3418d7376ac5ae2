#include "quantity/overlap.h"

#include <catch2/catch.hpp>
#include <random>

using namespace inselberg;
using plane::Vec2;
using quantity::Convex;

namespace {

using Corners = std::array<Vec2, 3>;

// Counter-clockwise, of some area; corners on a coarse grid touch, coincide and line up as often as not.
Corners randomTriangle(std::mt19937& random, bool coarse) {
  for (;;) {
    Corners t;
    for (Vec2& p : t) {
      p = coarse ? Vec2{static_cast<double>(random() % 5), static_cast<double>(random() % 5)}
                 : Vec2{static_cast<double>(random()) / 4294967296.0, static_cast<double>(random()) / 4294967296.0};
    }
    const double twice = plane::turn(t[0], t[1], t[2]);
    if (std::abs(twice) < 1e-6) continue;
    if (twice < 0) std::swap(t[1], t[2]);
    return t;
  }
}

double areaOf(const Corners& t) {
  return plane::turn(t[0], t[1], t[2]) / 2;
}

// The plain way: both clipped against the other's sides, one at a time.
double plainArea(const Corners& t, const Corners& u) {
  return quantity::area(quantity::overlap(quantity::triangleShape(t[0], t[1], t[2]), u[0], u[1], u[2]));
}

double quickArea(const Corners& t, const Corners& u) {
  Convex out;
  quantity::overlapOfTriangles(t, u, out);
  return out.n >= 3 ? quantity::area(out) : 0;
}

}  // namespace

TEST_CASE("The quick overlap of triangles has the area of the plain one, whichever comes first", "[random]") {
  for (const bool coarse : {true, false}) {
    std::mt19937 random(coarse ? 1 : 2);
    for (int i = 0; i < 4000; ++i) {
      const Corners t = randomTriangle(random, coarse), u = randomTriangle(random, coarse);
      CAPTURE(coarse, i);
      const double plain = plainArea(t, u), quick = quickArea(t, u);
      CHECK(quick == Approx(plain).margin(1e-12));
      CHECK(quickArea(u, t) == Approx(plain).margin(1e-12));
      CHECK(quick <= std::min(areaOf(t), areaOf(u)) + 1e-12);
    }
  }
}

TEST_CASE("A triangle overlaps itself whole, one inside it whole, and one beside it not") {
  const Corners t{Vec2{0, 0}, {4, 0}, {0, 4}}, small{Vec2{1, 1}, {1.5, 1}, {1, 1.5}},
      beside{Vec2{4, 0}, {4, 4}, {0, 4}};
  CHECK(quickArea(t, t) == Approx(8));
  CHECK(quickArea(t, small) == Approx(0.125));
  CHECK(quickArea(small, t) == Approx(0.125));
  CHECK(quickArea(t, beside) == 0);
}

TEST_CASE("The triangles of a grid over one triangle add up to it", "[random]") {
  std::mt19937 random(3);
  for (int round = 0; round < 50; ++round) {
    const Corners t = randomTriangle(random, false);
    double sum = 0;
    constexpr int kCells = 7;
    for (int i = 0; i < kCells; ++i) {
      for (int j = 0; j < kCells; ++j) {
        const double x0 = static_cast<double>(i) / kCells, x1 = static_cast<double>(i + 1) / kCells;
        const double y0 = static_cast<double>(j) / kCells, y1 = static_cast<double>(j + 1) / kCells;
        sum += quickArea({Vec2{x0, y0}, {x1, y0}, {x1, y1}}, t) + quickArea({Vec2{x0, y0}, {x1, y1}, {x0, y1}}, t);
      }
    }
    CHECK(sum == Approx(areaOf(t)).epsilon(1e-12));
  }
}

TEST_CASE("Clipping to the left of a line keeps what lies there") {
  const Convex square = [] {
    Convex c;
    for (const Vec2 p : {Vec2{0, 0}, {2, 0}, {2, 2}, {0, 2}}) c.add(p);
    return c;
  }();
  Convex out = square;
  quantity::clipLeft(out, {1, -5}, {1, 5});
  CHECK(quantity::area(out) == Approx(2));
  for (int i = 0; i < out.n; ++i) CHECK(out.p[i].x <= 1);
  out = square;
  quantity::clipLeft(out, {3, -5}, {3, 5});
  CHECK(quantity::area(out) == Approx(4));
  out = square;
  quantity::clipLeft(out, {-1, -5}, {-1, 5});
  CHECK(out.n < 3);
}

TEST_CASE("A triangle without area has nothing in common with any shape") {
  Convex square;
  for (const Vec2 p : {Vec2{0, 0}, {10, 0}, {10, 10}, {0, 10}}) square.add(p);
  CHECK(quantity::overlap(square, {5, 5}, {5, 5}, {5, 5}).n < 3);
  CHECK(quantity::overlap(square, {2, 5}, {8, 5}, {5, 5}).n < 3);
  CHECK(quantity::overlap(square, {2, 5}, {5, 8}, {8, 5}).n < 3);
}
