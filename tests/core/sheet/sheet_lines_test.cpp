#include "sheet/sheet_lines.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "base/error.h"

using namespace inselberg;
using namespace inselberg::sheet;

namespace {

// A contour with a gap of 12 mm for its label, drawn in dashes, a spot level with a cross, one without.
std::shared_ptr<Content> plan() {
  auto content = std::make_shared<Content>();
  const auto add = [&](std::vector<Vec2> points, Colour colour, double width) {
    Line line;
    line.points = std::move(points);
    line.colour = colour;
    line.width = width;
    content->lines.push_back(std::move(line));
  };
  for (const double y : {100.0, 102.0}) {
    for (double x = 0; x < 200; x += 3) {
      if (x > 95 && x < 107) continue;
      add({{x, y}, {x + 2, y}}, 0x804020, 0.2);
    }
  }
  content->texts.push_back({"72.50", {98, 99.1}, {106, 99.1}, 2.6, 0});
  content->texts.push_back({"73", {99, 101.1}, {103, 101.1}, 2.6, 0});
  add({{40, 50}, {42, 50}}, 0, 0.2);
  add({{41, 49}, {41, 51}}, 0, 0.2);
  content->texts.push_back({"71.85", {43, 50}, {51, 50}, 2.6, 0});
  content->texts.push_back({"70.10", {150, 50}, {158, 50}, 2.6, 0});
  return content;
}

}  // namespace

TEST_CASE("A line comes whole over its dashes and its label, with the level the label says") {
  const Placement placement{0, -0.5, 1000, 0.5, 0, 2000};
  const SheetLines lines(plan(), placement);
  const auto whole = lines.lineAt(placement({31, 100.2}), 0.5);
  REQUIRE(whole);
  CHECK(whole->level == 72.5);
  CHECK(whole->colour == 0x804020);
  CHECK(plane::distance(whole->points.front(), whole->points.back()) == Approx(100).margin(0.51));
  for (const Vec2 p : whole->points) CHECK(p.x == Approx(950));
  const auto other = lines.lineAt(placement({31, 101.9}), 0.5);
  REQUIRE(other);
  CHECK(other->level == 73.0);
  CHECK(lines.linesLike(0x804020, 0.2).size() == 2);
  CHECK_FALSE(lines.lineAt(placement({31, 80}), 0.5));
}

TEST_CASE("Levels of points beside a line do not say its level, and labels that disagree say none") {
  auto content = plan();
  // A point's number across the first contour, with its dot; two numbers over a line without a gap.
  content->texts.push_back({"71.11", {20, 99}, {28, 99}, 1.8, 0});
  content->dots.push_back({19, 98.5});
  Line line;
  line.points = {{0, 150}, {200, 150}};
  content->lines.push_back(line);
  content->texts.push_back({"74.5", {20, 149.1}, {28, 149.1}, 2.6, 0});
  const Placement placement = byScale(500, 500, {1, 1});
  CHECK(SheetLines(content, placement).lineAt(placement({31, 100.2}), 0.5)->level == 72.5);
  CHECK(SheetLines(content, placement).lineAt(placement({60, 150}), 0.5)->level == 74.5);
  content->texts.push_back({"75.0", {120, 149.1}, {128, 149.1}, 2.6, 0});
  CHECK_FALSE(SheetLines(content, placement).lineAt(placement({60, 150}), 0.5)->level);
}

TEST_CASE("The level of an outline is the largest number in it that has no mark") {
  auto content = plan();
  content->texts.push_back({"75.25", {44, 60}, {56, 60}, 4, 0});
  const Placement placement = byScale(500, 500, {1, 1});
  const SheetLines lines(content, placement);
  const auto outline = [&](double x0, double y0, double x1, double y1) {
    return plane::Ring{placement({x0, y0}), placement({x1, y0}), placement({x1, y1}), placement({x0, y1})};
  };
  CHECK(lines.levelIn(outline(30, 40, 70, 70)) == 75.25);
  CHECK_FALSE(lines.levelIn(outline(30, 40, 60, 55)));  // 71.85 has its cross
  CHECK(lines.levelIn(outline(140, 40, 170, 60)) == 70.1);
}

TEST_CASE("Labels of lines are no points, levels with a mark and free ones are") {
  const Placement placement = byScale(500, 500, {1, 1});
  const auto spots = SheetLines(plan(), placement).spots();
  REQUIRE(spots.size() == 2);
  CHECK(spots[0].level == 71.85);
  CHECK(plane::distance(spots[0].at, {20.5, 25}) < 1e-9);
  CHECK(spots[1].level == 70.1);
}

TEST_CASE("Lengths along and up a sheet give its two scales, more of them the best") {
  const KnownLength along{{10, 10}, {110, 10}, 50}, up{{10, 10}, {10, 90}, 20},
      across{{0, 0}, {60, 80}, std::hypot(30, 20)};
  const Placement one = byLengths(std::vector{along});
  CHECK(one.metresX() == Approx(0.5));
  CHECK(one.metresY() == Approx(0.5));
  CHECK_FALSE(tellBoth(std::vector{along}));
  const Placement both = byLengths(std::vector{along, up});
  CHECK(tellBoth(std::vector{along, up}));
  CHECK(both.metresX() == Approx(0.5));
  CHECK(both.metresY() == Approx(0.25));
  CHECK(disagreement(both, across) == Approx(0).margin(1e-12));
  CHECK(disagreement(one, {{0, 0}, {100, 0}, 40}) == Approx(0.25));
  const Placement three = byLengths(std::vector{along, up, across});
  CHECK(three.metresY() == Approx(0.25));
  // Two along the same way, that differ: one scale between them.
  const std::vector<KnownLength> twice{along, {{0, 50}, {100, 50}, 51}};
  CHECK_FALSE(tellBoth(twice));
  CHECK(byLengths(twice).metresX() == Approx(0.505).margin(0.001));
  CHECK(byLengths(twice).metresX() == byLengths(twice).metresY());
  CHECK_THROWS_AS(byLengths({}), Error);
  CHECK_THROWS_AS(byLengths(std::vector<KnownLength>{{{1, 1}, {1, 1}, 5}}), Error);
  CHECK_THROWS_AS(byLengths(std::vector<KnownLength>{{{0, 0}, {100, 0}, 50}, {{0, 0}, {60, 80}, 10}}), Error);
}
