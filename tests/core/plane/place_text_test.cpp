#include "plane/place_text.h"

#include <catch2/catch.hpp>

using namespace inselberg;
using plane::Vec2;

TEST_CASE("Places are read as coordinates, as steps, and as a length on a bearing") {
  const plane::Origin origin{412000, 6187000};
  const Vec2 from{10, 20};
  const auto place = [&](const char* text) { return plane::parsePlace(text, origin, from); };
  CHECK(*place("412010.5 6187020.25") == Vec2{10.5, 20.25});
  CHECK(*place("412010,5; 6187020,25") == Vec2{10.5, 20.25});
  CHECK(*place("412010.5, 6187020.25") == Vec2{10.5, 20.25});
  CHECK(*place("+5 -3") == Vec2{15, 17});
  const auto east = place("25 at 90");
  REQUIRE(east);
  CHECK(plane::distance(*east, {35, 20}) < 1e-12);
  CHECK(plane::distance(*place("2 at 180"), {10, 18}) < 1e-12);
  for (const char* bad : {"", "5", "a b", "1 2 3", "25 at", "at 90", "25 at x", "nan 1"}) {
    CAPTURE(bad);
    CHECK_FALSE(place(bad));
  }
  CHECK_FALSE(plane::parsePlace("+5 -3", origin, {}));
  CHECK_FALSE(plane::parsePlace("25 at 90", origin, {}));
}
