// Bands of depth against closed forms, and what they add up to.
#include "quantity/depth_bands.h"

#include <catch2/catch.hpp>

#include "base/error.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;

TEST_CASE("Bands of a tilted plane over a level one are strips of their closed form") {
  const auto flat = gridGround(100, 5, [](double, double) { return 10; });
  const auto tilted = gridGround(100, 7, [](double x, double) { return 10 + 0.02 * (x - 30); });
  const auto bands = quantity::depthBands(*flat, *tilted, {}, 0.5, {});
  REQUIRE(bands.size() == 5);  // cut to 0.6, fill to 1.4
  CHECK(bands[0].low == -1);
  CHECK(bands[0].high == -0.5);
  CHECK(bands[0].area == Approx(500).epsilon(1e-9));
  CHECK(bands[0].volume == Approx(500 * 0.55).epsilon(1e-9));
  CHECK(bands[1].area == Approx(2500).epsilon(1e-6));
  CHECK(bands[2].low == 0);
  CHECK(bands[2].area == Approx(2500).epsilon(1e-6));
  CHECK(bands[2].volume == Approx(2500 * 0.25).epsilon(1e-6));
  CHECK(bands[4].area == Approx(2000).epsilon(1e-9));
  CHECK(bands[4].volume == Approx(2000 * 1.2).epsilon(1e-9));
  CHECK(quantity::depthBands(*flat, *flat, {}, 0.5, {}).empty());
  CHECK_THROWS_AS(quantity::depthBands(*flat, *tilted, {}, 1e-4, {}), Error);
}

TEST_CASE("Bands add up to cut and fill and to their areas", "[random]") {
  for (unsigned seed = 0; seed < 8; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    const auto a = scatteredGround(100, 150, random, randomHills(random, 6));
    const auto b = scatteredGround(100, 200, random, randomHills(random, 6));
    std::vector<plane::Polygon> region;
    if (seed % 2) region.push_back(plane::sound({randomStar(random, {50, 50}, 15, 45, 9), {}}, {}));
    const auto v = quantity::volumeBetween(*a, *b, region, {});
    double cut = 0, fill = 0, cutArea = 0, fillArea = 0, last = -1e9;
    for (const auto& band : quantity::depthBands(*a, *b, region, 0.3, {})) {
      (band.high <= 0 ? cut : fill) += band.volume;
      (band.high <= 0 ? cutArea : fillArea) += band.area;
      CHECK(band.volume <= band.area * std::max(std::abs(band.low), std::abs(band.high)) + 1e-9);
      CHECK(band.volume >= band.area * std::min(std::abs(band.low), std::abs(band.high)) - 1e-9);
      CHECK(band.low >= last - 1e-9);
      last = band.high;
    }
    CHECK(cut == Approx(v.cut).epsilon(1e-9));
    CHECK(fill == Approx(v.fill).epsilon(1e-9));
    CHECK(cutArea == Approx(v.cutArea).epsilon(1e-9));
    CHECK(fillArea == Approx(v.fillArea).epsilon(1e-9));
  }
}
