#include <catch2/catch.hpp>

#include "base/error.h"
#include "plane/polygon.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Polygon;
using plane::Ring;
using plane::Vec2;

TEST_CASE("A sound polygon has its rings turned and repeats dropped") {
  const Polygon p =
      plane::sound({{{0, 10}, {10, 10}, {10, 0}, {10, 0}, {0, 0}, {0, 10}}, {{{2, 2}, {4, 2}, {4, 4}}}}, {});
  CHECK(p.outer.size() == 4);
  CHECK(plane::signedArea(p.outer) == 100);
  CHECK(plane::signedArea(p.holes[0]) == -2);
  CHECK(plane::area(p) == 98);
  CHECK(plane::contains(p, {1, 1}));
  CHECK_FALSE(plane::contains(p, {3.5, 2.5}));
  CHECK_FALSE(plane::contains(p, {11, 5}));
}

TEST_CASE("What is no area is refused, and the place of a crossing is named with the origin added") {
  const auto message = [](Polygon p) -> std::string {
    try {
      plane::sound(std::move(p), {1000, 2000});
    } catch (const Error& e) {
      return e.what();
    }
    return "";
  };
  CHECK(message({{{0, 0}, {1, 1}}, {}}).find("2 corner") != std::string::npos);
  CHECK(message({{{0, 0}, {1, 1}, {2, 2}, {1, 1}}, {}}).find("one line") != std::string::npos);
  CHECK(message({{{0, 0}, {10, 10}, {10, 0}, {0, 10}}, {}})
            .find("crosses or touches itself near E 1005.000 N 2005.000") != std::string::npos);
  CHECK_FALSE(message({rectangle(0, 0, 10, 10), {rectangle(5, 5, 15, 8)}}).empty());
  CHECK(message({rectangle(0, 0, 10, 10), {}}).empty());
}

TEST_CASE("Nearest on a segment") {
  CHECK(plane::nearestOnSegment({5, 3}, {0, 0}, {10, 0}).distance == 3);
  CHECK(plane::nearestOnSegment({13, 4}, {0, 0}, {10, 0}).distance == 5);
  CHECK(plane::nearestOnSegment({13, 4}, {0, 0}, {10, 0}).along == 1);
  CHECK(plane::nearestOnSegment({3, 4}, {0, 0}, {0, 0}).distance == 5);
}
