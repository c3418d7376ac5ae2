#include "ground/smooth.h"

#include <catch2/catch.hpp>

#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;

TEST_CASE("Corners of a plane have its gradient, and those of a bend what lies between") {
  std::mt19937 random(2);
  const auto even = scatteredGround(100, 200, random, [](double x, double y) { return 0.2 * x - 0.1 * y; });
  for (const Vec2 g : ground::cornerGradients(*even, {})) {
    CHECK(g.x == Approx(0.2).epsilon(1e-6));
    CHECK(g.y == Approx(-0.1).epsilon(1e-6));
  }
  ground::BuildInput roof;
  for (const double x : {0, 25, 50, 75, 100}) {
    for (const double y : {0, 25, 50, 75, 100}) roof.points.push_back({x, y, 20 - 0.2 * std::abs(x - 50)});
  }
  const auto ridge = ground::build(roof, {}, {}, {}).tin;
  const auto gradients = ground::cornerGradients(*ridge, {});
  for (std::size_t i = 0; i < gradients.size(); ++i) {
    const double x = ridge->points()[i].x;
    if (x == 50) CHECK(std::abs(gradients[i].x) < 0.15);
    if (x < 50) CHECK(gradients[i].x == Approx(0.2));
  }
}

TEST_CASE("Little bends are smooth, edges that are meant are sharp") {
  CHECK(ground::bent({0.1, 0}, {0.1, 0}) == 1);
  CHECK(ground::bent({0, 0}, {0.05, 0}) == 1);
  CHECK(ground::bent({0, 0}, {0.25, 0}) == 0);  // level land against the mean with a 2:1 batter
  CHECK(ground::bent({-0.25, 0}, {0.25, 0}) == 0);
  const double between = ground::bent({0, 0}, {0.12, 0});
  CHECK((between > 0 && between < 1));
}
