#include "ground/lying_over.h"

#include <catch2/catch.hpp>

#include "ground/recut.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;

TEST_CASE("Over each triangle lies the last of the surfaces that cover its middle", "[random]") {
  std::mt19937 random(5);
  const Level flat = [](double, double) { return 0.0; };
  const auto ground = scatteredGround(100, 4000, random, flat);
  const std::vector<ground::TinPtr> surfaces{gridGround(40, 6, flat, 10, 10), nullptr,
                                             std::make_shared<ground::Tin>(ground::TinParts{}),
                                             gridGround(40, 9, flat, 30, 35), gridGround(15, 3, flat, 35, 40)};
  const auto over = ground::lastOver(*ground, surfaces, {});
  REQUIRE(over.size() == ground->triangles().size());
  std::vector<int> count(surfaces.size(), 0);
  for (ground::Index t = 0; t < over.size(); ++t) {
    ground::Index last = ground::kNone;
    for (ground::Index k = 0; k < surfaces.size(); ++k) {
      if (surfaces[k] && surfaces[k]->locate(ground::centroid(*ground, t)) != ground::kNone) last = k;
    }
    CHECK(over[t] == last);
    if (last != ground::kNone) ++count[last];
  }
  CHECK(count[0] > 50);
  CHECK(count[3] > 50);
  CHECK(count[4] > 50);
}
