#include "works/spillway.h"

#include <catch2/catch.hpp>

#include "base/error.h"
#include "ground/hollow.h"
#include "ground/stamp.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;

TEST_CASE("Water leaves a pond by its spillway and on the lowest side") {
  const auto land = gridGround(200, 8, [](double x, double) { return 50 - 0.02 * x; });
  for (const auto drawn : {works::PondDrawn::bottom, works::PondDrawn::top}) {
    works::Pond pond;
    pond.outline = rectangle(80, 80, 120, 110);
    pond.drawn = drawn, pond.bottom = 48, pond.top = 51, pond.crest = 3;
    const auto placed = works::place(pond, *land, {}, {});
    const auto with = ground::stamp(*land, *placed.facets, {});
    CHECK(ground::hollowAt(*with, {100, 95}, {})->rim == Approx(51));
    const works::Swale spillway = works::spillwayOf(pond, placed, *land, 2, 50.4);
    CHECK(spillway.line.back().x > 120);
    const auto cut = works::place(spillway, *with, {}, {});
    const auto after = ground::stamp(*with, *cut.facets, {});
    const auto hollow = ground::hollowAt(*after, {100, 95}, {});
    REQUIRE(hollow);
    CHECK(hollow->rim == Approx(50.4).margin(1e-6));
  }
}

TEST_CASE("A spillway above the top or below the bottom is refused") {
  const auto land = gridGround(200, 8, [](double, double) { return 50.0; });
  works::Pond pond;
  pond.outline = rectangle(80, 80, 120, 110);
  pond.bottom = 48, pond.top = 51;
  const auto placed = works::place(pond, *land, {}, {});
  CHECK_THROWS_AS(works::spillwayOf(pond, placed, *land, 2, 51), Error);
  CHECK_THROWS_AS(works::spillwayOf(pond, placed, *land, 2, 47), Error);
}
