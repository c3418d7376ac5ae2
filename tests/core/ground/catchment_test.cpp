#include "ground/catchment.h"

#include <catch2/catch.hpp>

#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;

TEST_CASE("To a line across a valley drains all that lies above it") {
  // Two sides that fall 1 in 4 to the middle, which falls 1 in 20 to the north.
  const auto tin = evenGridGround(100, 20, [](double x, double y) { return 50 + 0.25 * std::abs(x - 50) - 0.05 * y; });
  const auto found = ground::catchmentOf(*tin, [](Vec2 from, Vec2 to) { return from.y < 60 && to.y >= 60; }, 10000, {});
  CHECK(found.cell == Approx(1));
  // From the sides water drifts north by a fifth of its way in: above the line lies all but two triangles' worth.
  CHECK(found.area == Approx(100 * 60).epsilon(0.02));
}

TEST_CASE("To the place on a plane comes a strip and to one on the divide nothing") {
  const auto tin = evenGridGround(100, 10, [](double x, double) { return 50 - 0.1 * std::abs(x - 30); });
  const auto near = [](Vec2 place) {
    return [place](Vec2 from, Vec2 to) { return plane::nearestOnSegment(place, from, to).distance <= 1; };
  };
  const auto strip = ground::catchmentOf(*tin, near({80, 45}), 10000, {});
  CHECK(strip.area == Approx(2 * 50).epsilon(0.05));
  for (const Vec2 p : strip.cells) CHECK((p.x > 30 && p.x < 81 && std::abs(p.y - 45) <= 1));
  CHECK(ground::catchmentOf(*tin, near({30, 50}), 10000, {}).area < 10);
}
