#include "ground/build.h"

#include <catch2/catch.hpp>

#include "base/error.h"
#include "ground/clip.h"
#include "ground/stamp.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using ground::BuildInput;
using ground::DoubtKind;
using ground::DuplicateRule;
using plane::Vec2;
using plane::Vec3;

namespace {

const double kNan = std::numeric_limits<double>::quiet_NaN();

BuildInput corners(double size, double level) {
  BuildInput input;
  input.points = {{0, 0, level}, {size, 0, level}, {size, size, level}, {0, size, level}};
  return input;
}

ground::BuildResult built(const BuildInput& input, const ground::BuildRules& rules = {}) {
  return ground::build(input, rules, {}, {});
}

// Whether the segment is covered by sides of triangles.
bool isSide(const ground::Tin& tin, Vec2 a, Vec2 b) {
  double covered = 0;
  for (ground::Index t = 0; t < tin.triangles().size(); ++t) {
    for (int k = 0; k < 3; ++k) {
      if (tin.neighbours()[t][k] != ground::kNone && tin.neighbours()[t][k] < t) continue;
      const Vec2 p = tin.plan(tin.triangles()[t][ground::next(k)]), q = tin.plan(tin.triangles()[t][ground::before(k)]);
      if (plane::nearestOnSegment(p, a, b).distance < 1e-7 && plane::nearestOnSegment(q, a, b).distance < 1e-7)
        covered += plane::distance(p, q);
    }
  }
  return std::abs(covered - plane::distance(a, b)) < 1e-6;
}

}  // namespace

TEST_CASE("After guarantee 1 near points are one, the rule decides, and a doubt tells levels that disagree") {
  for (const auto& [rule, expected] : {std::pair{DuplicateRule::first, 5.0},
                                       {DuplicateRule::last, 6.0},
                                       {DuplicateRule::mean, 16.0 / 3},
                                       {DuplicateRule::highest, 6.0},
                                       {DuplicateRule::lowest, 5.0}}) {
    BuildInput input = corners(100, 5);
    input.points.push_back({50, 50, 5});
    input.points.push_back({50.0005, 50, 5});
    input.points.push_back({50, 50.0005, 6});
    const auto result = built(input, {rule, 0});
    CHECK(*result.tin->levelAt({50, 50}) == Approx(expected).margin(1e-3));
    CHECK(result.duplicates == 2);
    REQUIRE(result.doubts.size() == 1);
    CHECK(result.doubts[0].kind == DoubtKind::duplicateLevels);
    CHECK(result.tin->points().size() == 5);
  }
  BuildInput agreeing = corners(100, 5);
  agreeing.points.push_back({0, 0, 5.004});
  CHECK(built(agreeing).doubts.empty());
}

TEST_CASE("After guarantee 2 breaklines are chains of sides, straight in level, and lacking levels are interpolated") {
  std::mt19937 random(8);
  BuildInput input = corners(100, 0);
  std::uniform_real_distribution<double> place(0, 100);
  for (int i = 0; i < 300; ++i) input.points.push_back({place(random), place(random), 0});
  input.breaklines.push_back({{{10, 20, 4}, {50, 20, kNan}, {90, 20, 12}}, false});
  input.breaklines.push_back({{{20, 60, kNan}, {80, 70, 3}}, false});
  input.breaklines.push_back({{{30, 80, 7}, {60, 80, 7}, {60, 95, 7}}, true});
  input.breaklines.push_back({{{5, 5, kNan}, {9, 9, kNan}}, false});
  const auto result = built(input);
  CHECK(isSide(*result.tin, {10, 20}, {50, 20}));
  CHECK(isSide(*result.tin, {20, 60}, {80, 70}));
  CHECK(isSide(*result.tin, {60, 95}, {30, 80}));
  CHECK(*result.tin->levelAt({30, 20}) == Approx(6));
  CHECK(*result.tin->levelAt({50, 20}) == Approx(8));
  CHECK(*result.tin->levelAt({20, 60}) == Approx(3));
  CHECK(result.linesWithoutLevel == 1);
}

TEST_CASE("After guarantee 3 crossing breaklines share a vertex, and the later one rules") {
  BuildInput input = corners(100, 0);
  input.breaklines.push_back({{{10, 50, 5}, {90, 50, 5}}, false});
  input.breaklines.push_back({{{50, 10, 8}, {50, 90, 8}}, false});
  const auto result = built(input);
  CHECK(result.crossings == 1);
  CHECK(*result.tin->levelAt({50, 50}) == Approx(8));
  REQUIRE(result.doubts.size() == 1);
  CHECK(result.doubts[0].kind == DoubtKind::breaklineCrossing);
  CHECK(result.doubts[0].where == Vec2{50, 50});
  CHECK(result.doubts[0].text.find("5.000") != std::string::npos);
  CHECK(isSide(*result.tin, {10, 50}, {90, 50}));
  input.breaklines[1].vertices = {{50, 10, 5.002}, {50, 90, 5.002}};
  CHECK(built(input).doubts.empty());
}

TEST_CASE("After guarantee 4 the ground is cut along boundaries with its levels unchanged", "[random]") {
  for (unsigned seed = 0; seed < 8; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    const Level level = randomHills(random, 6);
    const auto whole = scatteredGround(100, 400, random, level);
    plane::Polygon area{randomStar(random, {50, 50}, 20, 48, 9), {randomStar(random, {50, 50}, 5, 15, 6)}};
    area = plane::sound(std::move(area), {});
    const auto part = ground::keepInside(*whole, std::vector{area}, {});
    CHECK(ground::statistics(*part).planArea == Approx(plane::area(area)).epsilon(1e-9));
    std::uniform_real_distribution<double> place(0, 100);
    for (int i = 0; i < 400; ++i) {
      const Vec2 p{place(random), place(random)};
      const auto z = part->levelAt(p);
      CHECK(z.has_value() == plane::contains(area, p));
      if (z) CHECK(*z == Approx(*whole->levelAt(p)).margin(1e-6));
    }
  }
}

TEST_CASE("A boundary beyond the data raises a doubt and invents nothing") {
  BuildInput input = corners(100, 5);
  input.boundaries.push_back({rectangle(50, 10, 150, 90), {}});
  const auto result = built(input);
  CHECK(ground::statistics(*result.tin).planArea == Approx(50 * 80));
  REQUIRE(result.doubts.size() == 1);
  CHECK(result.doubts[0].kind == DoubtKind::boundaryOutside);
}

TEST_CASE("After guarantee 5 long border triangles are trimmed, inner ones stay") {
  BuildInput input;
  for (int i = 0; i <= 10; ++i) {
    for (int j = 0; j <= 10; ++j) {
      if (i <= 3 || j <= 3) input.points.push_back({10.0 * i, 10.0 * j, 1});  // an L
    }
  }
  const auto loose = built(input);
  const auto tight = built(input, {DuplicateRule::first, 15});
  CHECK(ground::statistics(*loose.tin).planArea > 6000);
  CHECK(ground::statistics(*tight.tin).planArea == Approx(100 * 30 + 30 * 70 + 50));  // the notch keeps its half cell
  CHECK(tight.trimmed > 0);
  CHECK(loose.trimmed == 0);
  CHECK_THROWS_AS(built(input, {DuplicateRule::first, 1}), Error);
}

TEST_CASE("Too few points, or all on one line, are an Error") {
  BuildInput input;
  CHECK_THROWS_AS(built(input), Error);
  input.points = {{0, 0, 1}, {1, 1, 1}, {1, 1, 2}};
  CHECK_THROWS_AS(built(input), Error);
  input.points = {{0, 0, 1}, {1, 1, 1}, {5, 5, 2}, {9, 9, 1}};
  CHECK_THROWS_AS(built(input), Error);
}

TEST_CASE("Building can be stopped, and far from the origin gives the same triangles") {
  std::mt19937 random(4);
  BuildInput input = corners(100, 0), far;
  std::uniform_real_distribution<double> place(0, 100);
  for (int i = 0; i < 500; ++i)
    input.points.push_back({std::round(place(random) * 64) / 64, std::round(place(random) * 64) / 64, 0});
  for (const Vec3& p : input.points) far.points.push_back({p.x + 131072, p.y + 65536, p.z});
  CHECK_THROWS_AS(ground::build(input, {}, {}, Progress([] { return true; })), Cancelled);
  CHECK(built(input).tin->triangles().size() == built(far).tin->triangles().size());
}

TEST_CASE("Stamped facets replace what lay under them and nothing else", "[random]") {
  for (unsigned seed = 0; seed < 6; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    const auto under = scatteredGround(100, 500, random, randomHills(random, 5));
    // A table with upright walls, not on the ground at all.
    const plane::Polygon area = plane::sound({randomStar(random, {50, 50}, 15, 35, 8), {}}, {});
    const auto flat = gridGround(100, 3, [](double, double) { return 80; });
    const auto table = ground::keepInside(*flat, std::vector{area}, {});
    const auto after = ground::stamp(*under, *table, {});
    CHECK(ground::statistics(*after).planArea == Approx(10000).epsilon(1e-9));
    std::uniform_real_distribution<double> place(0, 100);
    for (int i = 0; i < 300; ++i) {
      const Vec2 p{place(random), place(random)};
      CHECK(*after->levelAt(p) == Approx(plane::contains(area, p) ? 80 : *under->levelAt(p)).margin(1e-6));
    }
  }
}
