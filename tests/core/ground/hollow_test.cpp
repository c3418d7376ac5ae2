#include "ground/hollow.h"

#include <catch2/catch.hpp>

#include "ground/stamp.h"
#include "support/grounds.h"
#include "works/works.h"

using namespace inselberg;
using namespace inselberg::testing;

TEST_CASE("A pond dug into level ground holds its frustum, to the rim") {
  const auto ground = gridGround(200, 10, [](double, double) { return 50; });
  works::Pond pond;
  pond.outline = rectangle(80, 90, 120, 110);  // the bottom: 40 x 20
  pond.bottom = 47, pond.top = 50;
  pond.inside = Slope::horizontalPerVertical(2);
  pond.corners = works::CornerStyle::square;
  const auto placed = works::place(pond, *ground, {}, {});
  const auto after = ground::stamp(*ground, *placed.facets, {});
  const auto hollow = ground::hollowAt(*after, {100, 100}, {});
  REQUIRE(hollow);
  CHECK(hollow->bottom == Approx(47));
  CHECK(hollow->rim == Approx(50));
  for (const double h : {0.5, 1.0, 2.5, 3.0}) {
    const double a = 40 + 4 * h, b = 20 + 4 * h;  // 2:1 on both sides
    const double middle = (40 + 2 * h) * (20 + 2 * h);
    const auto storage = ground::storageAt(*after, *hollow, 47 + h);
    CHECK(storage.area == Approx(a * b).epsilon(1e-9));
    CHECK(storage.volume == Approx(h / 6 * (800 + 4 * middle + a * b)).epsilon(1e-9));
  }
  const auto table = ground::storageTable(*after, *hollow, 0.1);
  CHECK(table.size() == 31);
  CHECK(table.front().volume == 0);
  CHECK(table.back().level == Approx(50));
}

TEST_CASE("Water leaves a hollow over its lowest notch, and a slope holds none") {
  const auto bowl = gridGround(100, 20, [](double x, double y) {
    const double r = std::hypot(x - 50, y - 50);
    const double rim = r < 40 ? 40 + 0.1 * r : 44 - 0.2 * (r - 40);
    return x > 50 && std::abs(y - 50) < 6 && r > 20 ? std::min(rim, 42.0 - 0.01 * (r - 20)) : rim;
  });
  const auto hollow = ground::hollowAt(*bowl, {50, 50}, {});
  REQUIRE(hollow);
  CHECK(hollow->rim < 42.1);
  CHECK(hollow->rim > 41.5);
  const auto slope = gridGround(100, 10, [](double x, double) { return 50 + 0.1 * x; });
  CHECK_FALSE(ground::hollowAt(*slope, {50, 50}, {}));
}
