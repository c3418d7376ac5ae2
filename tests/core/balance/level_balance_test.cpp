#include "balance/level_balance.h"

#include <catch2/catch.hpp>

#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using balance::LevelCost;

TEST_CASE("On a tilted plane a pad balances at the level of its middle") {
  const auto ground = gridGround(200, 10, [](double x, double y) { return 30 + 0.05 * x - 0.03 * y; });
  works::Pad pad{rectangle(80, 80, 120, 120), 0, {}};
  const double middle = 30 + 0.05 * 100 - 0.03 * 100;
  for (const double start : {middle - 8, middle, middle + 8}) {
    const auto found = balance::balanceLevel([&](double z) { return balance::costAtLevel(pad, z, *ground, {}, {}); },
                                             start, 0, 100, 0, {});
    CHECK(found.closed);
    CHECK(found.best.level == Approx(middle).margin(1e-6));
    CHECK(found.evaluations < 15);
  }
}

TEST_CASE("Random pads balance, and to a wanted surplus too", "[random]") {
  for (unsigned seed = 0; seed < 6; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    const auto ground = scatteredGround(200, 900, random, randomHills(random, 6));
    const works::Pad pad{randomStar(random, {100, 100}, 15, 35, 9), 0, {}};
    for (const double target : {0.0, 400.0, -250.0}) {
      const auto found = balance::balanceLevel([&](double z) { return balance::costAtLevel(pad, z, *ground, {}, {}); },
                                               *ground->levelAt({100, 100}), ground->minLevel() - 20,
                                               ground->maxLevel() + 20, target, {});
      CHECK(found.closed);
      CHECK(found.best.surplus() == Approx(target).margin(1e-3));
    }
  }
}

TEST_CASE("A balance that does not exist within the limits is told so, with the nearest level") {
  const auto cost = [](double z) {
    return LevelCost{z, std::max(0.0, 100 * (50 - z)), std::max(0.0, 100 * (z - 50)), 100};
  };
  const auto found = balance::balanceLevel(cost, 20, 10, 30, 0, {});
  CHECK_FALSE(found.closed);
  CHECK(found.best.level == Approx(30));
  const auto jump = [](double z) { return LevelCost{z, z < 5 ? 100.0 : 0.0, z < 5 ? 0.0 : 80.0, 10}; };
  const auto jumped = balance::balanceLevel(jump, 0, -10, 10, 0, {});
  CHECK_FALSE(jumped.closed);
  CHECK(std::abs(jumped.best.surplus()) == Approx(80));
  CHECK_THROWS_AS(balance::balanceLevel(cost, 20, 10, 90, 0, Progress([] { return true; })), Cancelled);
}

TEST_CASE("The curve falls in cut and rises in fill") {
  std::mt19937 random(2);
  const auto ground = scatteredGround(200, 600, random, randomHills(random, 6));
  const works::Pad pad{rectangle(80, 80, 120, 120), *ground->levelAt({100, 100}), {}};
  const auto range = balance::rangeAround(pad, *ground);
  CHECK(range.lowest < pad.level);
  CHECK(range.highest > pad.level);
  const auto curve = balance::levelCurve([&](double z) { return balance::costAtLevel(pad, z, *ground, {}, {}); },
                                         range.lowest, range.highest, 15, {});
  REQUIRE(curve.size() == 15);
  for (std::size_t i = 1; i < curve.size(); ++i) {
    CHECK(curve[i].cut <= curve[i - 1].cut + 1e-9);
    CHECK(curve[i].fill >= curve[i - 1].fill - 1e-9);
  }
}

TEST_CASE("The levels worth looking at reach beyond those of the ground along the outline, both ways") {
  const auto ground = gridGround(100, 10, [](double x, double y) { return 50 + 0.1 * x + 0.03 * y; });
  const works::Shape pad = works::Pad{{{20, 30}, {80, 35}, {70, 70}, {25, 60}}, 56, {}};
  const auto range = balance::rangeAround(pad, *ground);
  CHECK(range.lowest < 52.9);   // at the first corner
  CHECK(range.highest > 59.1);  // at the second, and the third
  CHECK(range.lowest > 51);
  CHECK(range.highest < 61);
  works::Shape high = pad;
  high = works::atLevel(high, 75);
  CHECK(balance::rangeAround(high, *ground).highest > 75);
}
