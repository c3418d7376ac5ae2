#include "plane/overlay.h"

#include <catch2/catch.hpp>
#include <random>

#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;

TEST_CASE("Areas united, in common and without each other add up") {
  std::mt19937 random(7);
  std::uniform_real_distribution<double> place(0, 100), size(5, 60);
  for (int round = 0; round < 50; ++round) {
    const auto some = [&] {
      plane::Areas list;
      for (int i = 0; i < 4; ++i) {
        const double x = place(random), y = place(random);
        list.push_back({rectangle(x, y, x + size(random), y + size(random)), {}});
      }
      return plane::united(list);
    };
    const plane::Areas a = some(), b = some();
    plane::Areas all = a;
    all.insert(all.end(), b.begin(), b.end());
    const double both = plane::area(plane::common(a, b));
    CHECK(plane::area(plane::united(all)) == Approx(plane::area(a) + plane::area(b) - both));
    CHECK(plane::area(plane::without(a, b)) == Approx(plane::area(a) - both));
    const plane::Vec2 p{place(random), place(random)};
    CHECK(plane::contains(plane::common(a, b), p) == (plane::contains(a, p) && plane::contains(b, p)));
  }
}

TEST_CASE("Areas that share a side have nothing in common and are one together") {
  const plane::Areas west{{rectangle(0, 0, 10, 10), {}}}, east{{rectangle(10, 0, 20, 10), {}}};
  CHECK(plane::common(west, east).empty());
  CHECK(plane::area(plane::without(west, east)) == Approx(100));
  CHECK(plane::without({}, east).empty());
  const plane::Areas hole = plane::without({{rectangle(0, 0, 20, 20), {}}}, {{rectangle(5, 5, 10, 10), {}}});
  REQUIRE(hole.size() == 1);
  REQUIRE(hole[0].holes.size() == 1);
  CHECK(plane::signedArea(hole[0].holes[0]) == -25);
}
