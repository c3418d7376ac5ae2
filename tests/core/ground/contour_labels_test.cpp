// Labels where lines cross contours, and areas by steepness, against closed forms.
#include "ground/contour_labels.h"

#include <catch2/catch.hpp>
#include <numeric>

#include "ground/steepness.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;

TEST_CASE("On a plane, labels lie where the line reaches each level, along the contour and upright") {
  // z = x / 10: contours run north, at x = 10, 20, ...
  const auto ground = evenGridGround(100, 20, [](double x, double) { return x / 10; });
  const std::vector<double> levels{1.05, 2.05, 3.05, 4.05};
  const auto lines = ground::contours(*ground, levels, {});
  const std::vector<Vec2> across{{2, 20.3}, {25, 31.7}, {60, 31.7}};
  const auto labels = ground::labelsAlong(lines, across);
  REQUIRE(labels.size() == levels.size());
  for (std::size_t i = 0; i < labels.size(); ++i) {
    CHECK(labels[i].level == levels[i]);
    CHECK(labels[i].at.x == Approx(10 * levels[i]).margin(1e-9));
    const double t = (labels[i].at.x - 2) / 23;
    CHECK(labels[i].at.y == Approx(t < 1 ? 20.3 + t * 11.4 : 31.7).margin(1e-9));
    CHECK(std::abs(labels[i].along.y) == Approx(1));
    CHECK(labels[i].along.x >= 0);
  }
  CHECK(ground::labelsAlong(lines, std::vector<Vec2>{{2, 2}}).empty());
  CHECK(ground::labelsAlong(lines, std::vector<Vec2>{{41, 2}, {41, 90}, {60, 20}}).empty());
}

TEST_CASE("A line through rings crosses each twice, and a vertex on the line is one crossing") {
  const auto hill =
      evenGridGround(200, 40, [](double x, double y) { return 20 - std::hypot(x - 100.1, y - 100.2) / 10; });
  const std::vector<double> levels{12.5, 15.5, 17.5};
  const auto lines = ground::contours(*hill, levels, {});
  CHECK(ground::labelsAlong(lines, std::vector<Vec2>{{1, 101}, {199, 103}}).size() == 2 * levels.size());
  const ground::Contour kink{1, false, {{0, 0}, {5, 5}, {10, 0}}};
  CHECK(ground::labelsAlong(std::span(&kink, 1), std::vector<Vec2>{{5, 0}, {5, 9}}).size() == 1);
}

TEST_CASE("Areas by steepness add up to the plan area, each triangle in its own band") {
  // A plane of exactly 0.1, then a roof of two slopes.
  const std::vector<double> limits{0.02, 0.1, 0.5};
  const auto plane = evenGridGround(100, 20, [](double x, double) { return x / 4; });  // 25 %
  auto areas = ground::areaBySteepness(*plane, limits);
  CHECK(areas[2] == Approx(100.0 * 100));
  CHECK(areas[0] + areas[1] + areas[3] == 0);
  const auto roof = evenGridGround(200, 40, [](double x, double) { return x < 100 ? x : 100 + (x - 100) / 100; });
  areas = ground::areaBySteepness(*roof, limits);
  CHECK(areas[3] == Approx(100.0 * 200));
  CHECK(areas[0] == Approx(100.0 * 200));
  CHECK(std::accumulate(areas.begin(), areas.end(), 0.0) == Approx(ground::statistics(*roof).planArea));
  CHECK(ground::bandOf(0.1, limits) == 2);
  CHECK(ground::bandOf(0.099, limits) == 1);
  CHECK(ground::areaBySteepness(*roof, {}).size() == 1);
}
