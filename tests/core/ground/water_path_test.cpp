// Water falls all the way, down the steepest, and ends at the border or in a hollow.
#include "ground/water_path.h"

#include <catch2/catch.hpp>
#include <random>

#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using ground::Vec2;
using ground::Vec3;
using ground::WaterPath;

TEST_CASE("On a plane water runs straight against the gradient, to the border") {
  const auto tin = evenGridGround(100, 10, [](double x, double y) { return 50 - 0.3 * x - 0.4 * y; });
  const auto path = ground::waterPath(*tin, {20, 20}, {});
  CHECK(path.end == WaterPath::End::border);
  for (const Vec3& p : path.way) CHECK((p.x - 20) * 0.4 == Approx((p.y - 20) * 0.3).margin(1e-6));
  CHECK(path.way.back().y == Approx(100));
}

TEST_CASE("In a valley water reaches its bottom and follows it") {
  const auto tin = evenGridGround(100, 20, [](double x, double y) { return 50 + 0.5 * std::abs(x - 50) - 0.05 * y; });
  const auto path = ground::waterPath(*tin, {20, 30}, {});
  CHECK(path.end == WaterPath::End::border);
  CHECK(path.way.back().x == Approx(50));
  CHECK(path.way.back().y == Approx(100));
}

TEST_CASE("A path falls throughout and ends where nothing is lower", "[random]") {
  std::mt19937 random(8);
  for (int round = 0; round < 60; ++round) {
    const auto tin = scatteredGround(100, 300, random, randomHills(random, 5));
    std::uniform_real_distribution<double> any(1, 99);
    const auto path = ground::waterPath(*tin, {any(random), any(random)}, {});
    CAPTURE(round);
    REQUIRE_FALSE(path.way.empty());
    for (std::size_t i = 1; i < path.way.size(); ++i) {
      CHECK(path.way[i].z <= path.way[i - 1].z + 1e-9);
      CHECK(*tin->levelAt(path.way[i].plan()) == Approx(path.way[i].z).margin(1e-6));
    }
    const Vec2 end = path.way.back().plan();
    const bool atBorder = end.x < 1e-6 || end.y < 1e-6 || end.x > 100 - 1e-6 || end.y > 100 - 1e-6;
    if (path.end == WaterPath::End::border) {
      CHECK(atBorder);
      continue;
    }
    for (int k = 0; k < 16; ++k) {
      const Vec2 beside = end + 1e-3 * Vec2{std::cos(k * 0.4), std::sin(k * 0.4)};
      if (const auto z = tin->levelAt(beside)) CHECK(*z >= path.way.back().z - 1e-7);
    }
  }
}

TEST_CASE("Level ground is left by its lowest side, or is a hollow, and off the ground there is no path") {
  const auto step = evenGridGround(100, 10, [](double x, double) { return x < 55 ? 10.0 : 10 - (x - 50) * 0.1; });
  CHECK(ground::waterPath(*step, {12, 43}, {}).end == WaterPath::End::border);
  const auto flat = evenGridGround(100, 10, [](double, double) { return 10.0; });
  CHECK(ground::waterPath(*flat, {12, 43}, {}).end == WaterPath::End::hollow);
  CHECK(ground::waterPath(*flat, {-12, 43}, {}).way.empty());
}
