#include "plane/offset.h"

#include <catch2/catch.hpp>

#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::OffsetCorners;

TEST_CASE("Areas grow by their border and corners, and shrink back", "[random]") {
  const plane::Polygon square{rectangle(0, 0, 30, 20), {}};
  const double pi = 3.14159265358979;
  const auto round = plane::offset(square, 3, OffsetCorners::round);
  REQUIRE(round.size() == 1);
  CHECK(plane::area(round[0]) == Approx(600 + 300 + pi * 9).epsilon(1e-4));
  const auto sharp = plane::offset(square, 3, OffsetCorners::square);
  CHECK(plane::area(sharp[0]) == Approx(36 * 26));
  CHECK(plane::area(plane::offset(square, -3, OffsetCorners::square)[0]) == Approx(24 * 14));
  CHECK(plane::offset(square, -11, OffsetCorners::square).empty());
  CHECK(plane::offset(square, 0, OffsetCorners::round)[0] == square);
  // A dumb-bell falls apart; a hole shrinks as the rest grows.
  const plane::Polygon bell{
      {{0, 0}, {10, 0}, {10, 4}, {20, 4}, {20, 0}, {30, 0}, {30, 10}, {20, 10}, {20, 6}, {10, 6}, {10, 10}, {0, 10}},
      {}};
  CHECK(plane::offset(bell, -1.5, OffsetCorners::square).size() == 2);
  plane::Polygon ring = plane::sound({rectangle(0, 0, 30, 30), {rectangle(10, 10, 20, 20)}}, {});
  CHECK(plane::area(plane::offset(ring, 2, OffsetCorners::square)[0]) == Approx(34 * 34 - 36));
  CHECK(plane::offset(ring, 6, OffsetCorners::square)[0].holes.empty());
  std::mt19937 random(3);
  for (int i = 0; i < 40; ++i) {
    const plane::Polygon star{randomStar(random, {412000, 618700}, 5, 20, 12), {}};
    for (const auto& part : plane::offset(star, 2.5, OffsetCorners::round)) {
      for (const plane::Vec2 p : part.outer) {
        double least = 1e9;
        for (std::size_t k = 0; k < star.outer.size(); ++k)
          least = std::min(least,
                           plane::nearestOnSegment(p, star.outer[k], star.outer[(k + 1) % star.outer.size()]).distance);
        CHECK(least == Approx(2.5).margin(1.1e-3));
      }
    }
  }
}
