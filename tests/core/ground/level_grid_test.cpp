#include "ground/level_grid.h"

#include <catch2/catch.hpp>

#include "base/parallel.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;

TEST_CASE("No level of the ground lies outside what the grid says of its part", "[random]") {
  std::mt19937 random(5);
  std::uniform_real_distribution<double> x(-20, 120);
  const auto hills = randomHills(random, 8);
  const auto ground = scatteredGround(100, 400, random, hills);
  int tighter = 0, covered = 0;
  for (int i = 0; i < 600; ++i) {
    plane::Box part;
    part.add(plane::Vec2{x(random), x(random)}), part.add(part.centre() + plane::Vec2{x(random) / 20, x(random) / 20});
    const auto range = ground->levels().within(part);
    std::uniform_real_distribution<double> u(part.minX, part.maxX), v(part.minY, part.maxY);
    for (int k = 0; k < 10; ++k) {
      const auto level = ground->levelAt({u(random), v(random)});
      if (!range.ends) CHECK(level);
      if (!level) continue;
      CHECK(*level >= range.lowest);
      CHECK(*level <= range.highest);
    }
    tighter += range.lowest > ground->minLevel() + 1 && range.lowest < 1e299;
    covered += !range.ends;
  }
  CHECK(tighter > 100);
  CHECK(covered > 100);
  CHECK(ground->levels().within({300, 300, 400, 400}).lowest > 1e299);
  CHECK(ground->levels().within({300, 300, 400, 400}).ends);
}

TEST_CASE("Levels asked for at once by several threads are those asked for by one", "[random]") {
  std::mt19937 random(6);
  const auto hills = randomHills(random, 8);
  std::mt19937 again = random;
  const auto one = scatteredGround(100, 4000, random, hills), other = scatteredGround(100, 4000, again, hills);
  std::vector<plane::Box> parts;
  std::uniform_real_distribution<double> x(0, 100);
  for (int i = 0; i < 2000; ++i) {
    const plane::Vec2 p{x(random), x(random)};
    parts.push_back({p.x, p.y, p.x + 3, p.y + 3});
  }
  std::vector<ground::LevelGrid::Range> found(parts.size());
  parallelChunks(parts.size(), 7, {}, [&](std::size_t begin, std::size_t end, std::size_t) {
    for (std::size_t i = begin; i < end; ++i) found[i] = one->levels().within(parts[i]);
  });
  for (std::size_t i = 0; i < parts.size(); ++i) {
    const auto alone = other->levels().within(parts[i]);
    CHECK(found[i].lowest == alone.lowest);
    CHECK(found[i].highest == alone.highest);
  }
}
