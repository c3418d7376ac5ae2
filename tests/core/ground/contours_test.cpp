#include "ground/contours.h"

#include <catch2/catch.hpp>
#include <numbers>

#include "base/error.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using ground::Contour;
using plane::Vec2;

namespace {

std::vector<Contour> at(const ground::Tin& tin, std::vector<double> levels) {
  return ground::contours(tin, levels, {});
}

bool onBorder(const ground::Tin& tin, Vec2 p) {
  for (ground::Index t = 0; t < tin.triangles().size(); ++t) {
    for (int k = 0; k < 3; ++k) {
      if (tin.neighbours()[t][k] != ground::kNone) continue;
      if (plane::nearestOnSegment(p, tin.plan(tin.triangles()[t][ground::next(k)]),
                                  tin.plan(tin.triangles()[t][ground::before(k)]))
              .distance < 1e-7)
        return true;
    }
  }
  return false;
}

double lengthOf(const Contour& c) {
  double sum = 0;
  for (std::size_t i = 0; i + 1 < c.points.size(); ++i) sum += plane::distance(c.points[i], c.points[i + 1]);
  if (c.closed) sum += plane::distance(c.points.back(), c.points.front());
  return sum;
}

}  // namespace

TEST_CASE("Contours of a tilted plane are straight lines at the right places") {
  const auto ground = evenGridGround(100, 9, [](double x, double) { return 0.1 * x; });
  for (const Contour& c : at(*ground, {2.5, 5.0, 7.25})) {
    CHECK_FALSE(c.closed);
    CHECK(lengthOf(c) == Approx(100));
    for (const Vec2 p : c.points) CHECK(p.x == Approx(10 * c.level));
    // Higher ground to the left: x grows to the left, so the line runs south.
    CHECK(c.points.front().y > c.points.back().y);
  }
}

TEST_CASE("A cone's contour is a ring around its top") {
  const auto ground = evenGridGround(100, 100, [](double x, double y) { return 50 - std::hypot(x - 50, y - 50); });
  const auto rings = at(*ground, {25.0});
  REQUIRE(rings.size() == 1);
  CHECK(rings[0].closed);
  CHECK(lengthOf(rings[0]) == Approx(2 * std::numbers::pi * 25).epsilon(0.01));
  plane::Ring ring(rings[0].points);
  CHECK(plane::signedArea(ring) > 0);  // the top lies to the left
}

TEST_CASE("Levels through corners and flats obey the rule that a point at the level counts as above") {
  // Steps with flats exactly at the contour levels.
  const auto steps = evenGridGround(60, 12, [](double x, double) { return std::floor(x / 20); });
  const auto lines = at(*steps, {1.0, 2.0});
  REQUIRE(lines.size() == 2);
  CHECK(lines[0].points.front().x == Approx(20));
  CHECK(lines[1].points.front().x == Approx(40));
  const auto flat = evenGridGround(60, 6, [](double, double) { return 3; });
  CHECK(at(*flat, {3.0}).empty());
}

TEST_CASE("After guarantees 1 and 2 contours close or end at the border, lie at their level, and do not cross",
          "[random]") {
  for (unsigned seed = 0; seed < 10; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    Level level = randomHills(random, 8);
    // Half the grounds have levels rounded to the contour levels, so that lines run through many corners.
    if (seed % 2) level = [level](double x, double y) { return std::round(level(x, y)); };
    const auto ground = scatteredGround(100, 250, random, level);
    const auto lines = ground::contours(*ground, ground::contourLevels(*ground, 1), {});
    CHECK_FALSE(lines.empty());
    for (const Contour& c : lines) {
      REQUIRE(c.points.size() >= 2);
      for (const Vec2 p : c.points) CHECK(*ground->levelAt(p) == Approx(c.level).margin(1e-9));
      if (!c.closed) {
        CHECK(onBorder(*ground, c.points.front()));
        CHECK(onBorder(*ground, c.points.back()));
      }
    }
    // A side of a triangle strictly across the level is met exactly once.
    std::size_t sides = 0, met = 0;
    for (ground::Index t = 0; t < ground->triangles().size(); ++t) {
      for (int k = 0; k < 3; ++k) {
        if (ground->neighbours()[t][k] != ground::kNone && ground->neighbours()[t][k] < t) continue;
        const double a = ground->points()[ground->triangles()[t][ground::next(k)]].z,
                     b = ground->points()[ground->triangles()[t][ground::before(k)]].z;
        for (const double z : ground::contourLevels(*ground, 1)) sides += (a >= z) != (b >= z) ? 1 : 0;
      }
    }
    for (const Contour& c : lines) met += c.points.size();
    CHECK(met <= sides);
  }
}

TEST_CASE("Levels are multiples of the interval within the relief, and not without end") {
  const auto ground = evenGridGround(100, 4, [](double x, double) { return 9.95 + 0.011 * x; });
  const auto levels = ground::contourLevels(*ground, 0.25);
  REQUIRE(levels.size() == 5);
  CHECK(levels.front() == Approx(10));
  CHECK(levels.back() == Approx(11));
  CHECK_THROWS_AS(ground::contourLevels(*ground, 1e-9), Error);
}
