// Grid and sections against the exact volume.
#include "quantity/second_opinion.h"

#include <catch2/catch.hpp>

#include "base/error.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using quantity::SecondOpinion;

namespace {

double off(const quantity::Earth& earth, const quantity::Volume& exact) {
  return std::max(std::abs(earth.cut - exact.cut), std::abs(earth.fill - exact.fill)) / (exact.cut + exact.fill);
}

}  // namespace

TEST_CASE("Grid and sections come nearer to the exact volume as they get finer", "[random]") {
  for (unsigned seed = 0; seed < 6; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    const auto a = scatteredGround(100, 150, random, randomHills(random, 6));
    const auto b = scatteredGround(110, 200, random, randomHills(random, 6));
    std::vector<plane::Polygon> region;
    if (seed % 2) region.push_back(plane::sound({randomStar(random, {50, 50}, 15, 45, 9), {}}, {}));
    const SecondOpinion coarse = quantity::secondOpinion(*a, *b, region, 8, 12, {});
    const SecondOpinion fine = quantity::secondOpinion(*a, *b, region, 0.25, 0.5, {});
    CHECK(off(fine.grid, fine.exact) < 2e-3);
    CHECK(off(fine.sections.endAreas, fine.exact) < 4e-3);
    CHECK(off(fine.sections.prismoidal, fine.exact) < 4e-3);
    CHECK(off(fine.grid, fine.exact) < off(coarse.grid, coarse.exact) + 1e-4);
    CHECK(off(fine.sections.endAreas, fine.exact) < off(coarse.sections.endAreas, coarse.exact) + 1e-4);
    CHECK(coarse.exact.cut == fine.exact.cut);
  }
}

TEST_CASE("The prismoidal formula is exact where areas change by a square") {
  // A wedge's section areas grow linearly, a pyramid's with the square.
  const auto flat = evenGridGround(100, 4, [](double, double) { return 0; });
  const auto ridge = evenGridGround(100, 1, [](double x, double y) { return x > 50 && y > 50 ? 10 : 0; });
  const auto made = quantity::secondOpinion(*flat, *ridge, {}, 1, 100, {});
  CHECK(made.sections.count == 2);
  CHECK(made.sections.prismoidal.fill == Approx(made.exact.fill).epsilon(1e-6));
  CHECK(std::abs(made.sections.endAreas.fill - made.exact.fill) > 0.05 * made.exact.fill);
}

TEST_CASE("Areas within a tolerance are exact and add up") {
  const auto flat = gridGround(100, 5, [](double, double) { return 10; });
  const auto tilted = gridGround(100, 7, [](double x, double) { return 10 + 0.02 * (x - 30); });
  const auto t = quantity::toleranceOf(*flat, *tilted, {}, 0.2, {});
  CHECK(t.within == Approx(2000).epsilon(1e-9));
  CHECK(t.below == Approx(2000).epsilon(1e-9));
  CHECK(t.above == Approx(6000).epsilon(1e-9));
  CHECK_THROWS_AS(quantity::secondOpinion(*flat, *tilted, {}, 1e-3, 0, {}), Error);
  CHECK_THROWS_AS(quantity::secondOpinion(*flat, *tilted, {}, 0, 1e-4, {}), Error);
  const auto apart = gridGround(
      100, 5, [](double, double) { return 10; }, 500, 500);
  CHECK(quantity::secondOpinion(*flat, *apart, {}, 0, 0, {}).grid.cut == 0);
}
