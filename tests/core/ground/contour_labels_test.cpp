// Labels where lines cross contours, and areas by steepness, against closed forms.
#include "ground/contour_labels.h"

#include <catch2/catch.hpp>
#include <numbers>
#include <numeric>
#include <random>

#include "drawing/label_places.h"
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

TEST_CASE("Labels along a ring stand where it is straight enough, so far apart, and read uphill") {
  // A cone: rings about the middle, higher inside, of which chords of 2 half leave a ring by half² / 2 radius.
  ground::Contour ring;
  ring.level = 7;
  constexpr double kRadius = 50;
  constexpr int kPoints = 2000;
  for (int i = 0; i < kPoints; ++i) {
    const double turn = 2 * std::numbers::pi * i / kPoints;  // anticlockwise: higher ground to the left
    ring.points.push_back({kRadius * std::cos(turn), kRadius * std::sin(turn)});
  }
  const double round = 2 * std::numbers::pi * kRadius;
  std::vector<ground::ContourLabel> labels;
  const auto all = [&](const ground::ContourLabel& label) {
    labels.push_back(label);
    return true;
  };
  const ground::LabelSpacing spacing{4, 0.2, 20, 50, 1};  // 16 / 100 m is the most it leaves them by
  ground::labelContour(ring, spacing, all);
  CHECK(labels.size() == static_cast<std::size_t>((round - 20) / 51) + 1);
  for (const ground::ContourLabel& label : labels) {
    CHECK(label.level == 7);
    CHECK(plane::norm(label.at) == Approx(kRadius).margin(0.01));
    CHECK(plane::dot(plane::rightOf(label.along), plane::unit(label.at)) == Approx(1).margin(1e-3));  // outwards
  }
  labels.clear();
  ground::labelContour(ring, {4, 0.15, 20, 50, 1}, all);
  CHECK(labels.empty());
  // Where none is taken every step is tried.
  int tried = 0;
  ground::labelContour(ring, spacing, [&](const ground::ContourLabel&) { return ++tried < 0; });
  CHECK(tried == Approx(round - 20 - 4).margin(2));
}

TEST_CASE("A label lies on the ground when all of it does") {
  const auto ground = evenGridGround(100, 20, [](double x, double) { return x / 10; });
  const auto lies = [&](Vec2 at, Vec2 along) { return ground::liesOn(*ground, {at, along, at.x / 10}, 5, 2, 10); };
  CHECK(lies({50, 50}, {1, 0}));
  CHECK(lies({5.01, 50}, {1, 0}));
  CHECK_FALSE(lies({4.99, 50}, {1, 0}));
  CHECK(lies({4.99, 50}, {0, 1}));
  CHECK_FALSE(lies({0.99, 50}, {0, 1}));
  CHECK_FALSE(lies({50, 200}, {1, 0}));
  // Half a metre of rise to either side along the slope, a tenth across.
  for (const auto& [along, rise] : {std::pair{Vec2{1, 0}, 0.5}, {Vec2{0, 1}, 0.1}}) {
    CHECK(ground::liesOn(*ground, {{50, 50}, along, 5}, 5, 2, rise + 1e-9));
    CHECK_FALSE(ground::liesOn(*ground, {{50, 50}, along, 5}, 5, 2, rise - 1e-9));
  }
}

TEST_CASE("Labels that take their places lie clear of each other and of the edge") {
  std::mt19937 random(7);
  std::uniform_real_distribution<double> place(-5, 105), angle(0, 7), length(0.5, 9), height(0.5, 3);
  drawing::LabelPlaces places({0, 0, 100, 100});
  struct Taken {
    Vec2 a, b;
    double height;
  };
  std::vector<Taken> taken;
  for (int i = 0; i < 4000; ++i) {
    const double turn = angle(random), half = length(random), high = height(random);
    const Vec2 at{place(random), place(random)}, along{std::cos(turn), std::sin(turn)};
    if (!places.take(at, along, half, high)) continue;
    const double inner = std::max(0.0, half - high / 2);  // the middle line, so that ends are as round as high
    taken.push_back({at - inner * along, at + inner * along, high});
  }
  CHECK(taken.size() > 60);
  CHECK_FALSE(places.take({50, -1}, {1, 0}, 3, 2));
  const auto apart = [](const Taken& p, const Taken& q) {
    if (plane::crossingAlong(p.a, p.b, q.a, q.b)) return 0.0;
    return std::min({plane::nearestOnSegment(p.a, q.a, q.b).distance, plane::nearestOnSegment(p.b, q.a, q.b).distance,
                     plane::nearestOnSegment(q.a, p.a, p.b).distance, plane::nearestOnSegment(q.b, p.a, p.b).distance});
  };
  for (std::size_t i = 0; i < taken.size(); ++i) {
    for (const Vec2 p : {taken[i].a, taken[i].b})
      CHECK(plane::Box{0, 0, 100, 100}.grown(-taken[i].height / 2).contains(p));
    for (std::size_t k = 0; k < i; ++k) CHECK(apart(taken[i], taken[k]) > (taken[i].height + taken[k].height) / 2);
  }
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

TEST_CASE("What is built as steep as a limit has reached it, whatever rounding makes of its triangles") {
  const double steepness = GENERATE(0.02, 0.05, 0.1, 1.0 / 3, 0.5);
  const auto plane = evenGridGround(50, 7, [&](double x, double y) { return 71.3 + steepness * (0.6 * x - 0.8 * y); });
  const std::vector<double> limits{steepness};
  CHECK(ground::areaBySteepness(*plane, limits)[0] == 0);
}
