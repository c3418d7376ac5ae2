#include "ground/level_grid.h"

#include <catch2/catch.hpp>

#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;

TEST_CASE("No level of the ground lies outside what the grid says of its part", "[random]") {
  std::mt19937 random(5);
  std::uniform_real_distribution<double> x(-20, 120);
  const auto hills = randomHills(random, 8);
  const auto ground = scatteredGround(100, 400, random, hills);
  for (const plane::Box box :
       {plane::Box{20, 30, 70, 90}, plane::Box{-50, -50, 200, 200}, plane::Box{300, 300, 400, 400}}) {
    const ground::LevelGrid grid(*ground, box);
    int tighter = 0;
    for (int i = 0; i < 300; ++i) {
      plane::Box part;
      part.add(plane::Vec2{x(random), x(random)}),
          part.add(part.centre() + plane::Vec2{x(random) / 20, x(random) / 20});
      const auto range = grid.within(part);
      std::uniform_real_distribution<double> u(part.minX, part.maxX), v(part.minY, part.maxY);
      for (int k = 0; k < 10; ++k) {
        const auto level = ground->levelAt({u(random), v(random)});
        if (!level) continue;
        CHECK(*level >= range.lowest);
        CHECK(*level <= range.highest);
      }
      tighter += range.lowest > ground->minLevel() + 1 && range.lowest < 1e299;
    }
    if (box.minX < 100) CHECK(tighter > 20);
  }
}
