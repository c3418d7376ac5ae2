#include "project/level_steps.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "base/error.h"
#include "support/grounds.h"
#include "support/projects.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;
using plane::Vec3;
using project::FlatArea;

namespace {

// Strips across a plane that rises 1 m every 10 m to the east, each at the mean of its edges.
std::vector<FlatArea> strips(int count) {
  std::vector<FlatArea> areas;
  for (int i = 0; i < count; ++i) areas.push_back({rectangle(10 * i, 0, 10 * i + 10, 40), 50.5 + i});
  return areas;
}

}  // namespace

TEST_CASE("Stepped areas are flat to their borders, with walls between") {
  const auto flat = gridGround(
      200, 4, [](double, double) { return 50; }, -50, -50);
  const auto both = project::steppedAndSmooth(strips(4), flat.get(), {}, {});
  for (const double x : {0.5, 9.999, 10.001, 25.0, 39.9}) {
    CAPTURE(x);
    CHECK(*both.stepped->levelAt({x, 20}) == Approx(50.5 + std::floor(x / 10)));
  }
  CHECK_FALSE(both.stepped->levelAt({41, 20}));
  // Closed form: each strip's area times its height.
  CHECK(both.steppedOver.fill == Approx(400 * (0.5 + 1.5 + 2.5 + 3.5)).epsilon(1e-12));
  CHECK(both.steppedOver.cut == 0);
  CHECK(both.steppedOver.unmeasured() == Approx(0).margin(1e-9));
}

TEST_CASE("Shared borders are contours at the mean of both, so that strips between contours give the slope back") {
  const project::SourceData data = project::smoothed(strips(4));
  REQUIRE(data.breaklines.size() == 3);
  for (const ground::Breakline& line : data.breaklines) {
    CHECK(line.contour);
    CHECK(line.vertices.front().z == Approx(50 + line.vertices.front().x / 10));
  }
  CHECK(data.points.size() == 4);  // the corners of the first and the last
  CHECK(plane::area(data.boundaries) == Approx(1600));
  const auto flat = gridGround(
      200, 4, [](double, double) { return 50; }, -50, -50);
  const auto both = project::steppedAndSmooth(strips(4), flat.get(), {}, {});
  for (double x = 0; x <= 40; x += 2.5) {
    CAPTURE(x);
    CHECK(*both.smooth->levelAt({x, 20}) == Approx(50 + x / 10));
  }
  // Steps at the mean of their edges hold as much as the slope.
  CHECK(both.smoothOver.fill == Approx(3200).epsilon(1e-12));
  CHECK(both.smoothOver.fill == Approx(both.steppedOver.fill).epsilon(1e-12));
}

TEST_CASE("A hill of rings: smooth and stepped agree on what fills between, and the top is kept") {
  // Frames inside each other, cut into two halves so that none overlaps.
  std::vector<FlatArea> areas;
  const double r[] = {40, 30, 20, 10};
  for (int i = 0; i < 3; ++i) {
    const double a = r[i], b = r[i + 1];
    areas.push_back({{{-a, -a}, {0, -a}, {0, -b}, {-b, -b}, {-b, b}, {0, b}, {0, a}, {-a, a}}, 60.0 + i});
    areas.push_back({{{0, -a}, {a, -a}, {a, a}, {0, a}, {0, b}, {b, b}, {b, -b}, {0, -b}}, 60.0 + i});
  }
  areas.push_back({rectangle(-10, -10, 10, 10), 63});
  const auto data = project::smoothed(areas);
  // Three closed contours; halves of one level have none between them.
  REQUIRE(data.breaklines.size() == 3);
  for (const ground::Breakline& line : data.breaklines) CHECK(line.closed);
  const auto flat = gridGround(
      200, 4, [](double, double) { return 59; }, -100, -100);
  const auto both = project::steppedAndSmooth(areas, flat.get(), {}, {});
  CHECK(*both.smooth->levelAt({0, 0}) == Approx(63).margin(0.3));
  CHECK(*both.smooth->levelAt({20, 5}) == Approx(61.5));
  CHECK(*both.stepped->levelAt({25, 5}) == Approx(61));
  CHECK(both.smoothOver.fill == Approx(both.steppedOver.fill).epsilon(0.06));
  CHECK(both.smoothOver.fill != Approx(both.steppedOver.fill).epsilon(1e-6));
}

TEST_CASE("Where stepped areas overlap the later rules, and without any there is a message") {
  const std::vector<FlatArea> areas{{rectangle(0, 0, 20, 20), 10}, {rectangle(5, 5, 10, 10), 12}};
  const auto both = project::steppedAndSmooth(areas, nullptr, {}, {});
  CHECK(*both.stepped->levelAt({7, 7}) == 12);
  CHECK(*both.stepped->levelAt({15, 7}) == 10);
  CHECK_THROWS_AS(project::steppedAndSmooth({}, nullptr, {}, {}), Error);
}

TEST_CASE("Working space goes on at the area's level, as a works and as a stepped ground alike") {
  const auto flat = gridGround(
      200, 4, [](double, double) { return 50; }, -50, -50);
  const double side = 30, space = 2.5, depth = 1.5;
  const double held = (side * side + 4 * side * space + std::acos(-1.0) * space * space) * depth;
  works::LevelArea area;
  area.outline = rectangle(10, 10, 10 + side, 10 + side);
  area.level = 50;
  area.adjust = {{-1.2, "pavement"}, {-0.3, "compaction"}};
  area.space = space;
  const auto placed = works::costOf(works::place(area, *flat, {}, {}), *flat, {});
  const auto p =
      project::withNewWorks(*project::emptyProject("areas"), project::emptyProject("areas")->finished(), "Floor", area);
  const auto areas = project::flatAreasOf(*p);
  const auto both = project::steppedAndSmooth(areas, flat.get(), {}, {});
  // Chords within 1 mm at the corners.
  CHECK(both.steppedOver.cut == Approx(held).epsilon(1e-4));
  CHECK(placed.cut == Approx(held).epsilon(1e-4));
  CHECK(*both.stepped->levelAt({8, 20}) == Approx(48.5));
  CHECK_FALSE(both.stepped->levelAt({7.4, 20}));
  CHECK_FALSE(both.stepped->levelAt({8, 8}));  // 2.83 m from the corner
  // A smooth ground ends at the outlines.
  CHECK(both.smoothOver.cut == Approx(side * side * depth).epsilon(1e-9));

  // The space of a later area is taken off an earlier one, and the earlier one's space is covered by the later.
  std::vector<FlatArea> two{{rectangle(0, 0, 10, 10), 10, 1}, {rectangle(10, 0, 20, 10), 12, 2}};
  const auto side2 = project::steppedAndSmooth(two, nullptr, {}, {});
  CHECK(*side2.stepped->levelAt({7.9, 5}) == 10);
  CHECK(*side2.stepped->levelAt({8.1, 5}) == 12);
  CHECK(*side2.stepped->levelAt({10.5, 5}) == 12);
}

TEST_CASE("An area whose corners lie on contours of two levels lies half-way between them") {
  const auto empty = project::emptyProject("sheet");
  project::SourceData data;
  const auto contour = [](double y, double z) {
    ground::Breakline line;
    line.contour = true;
    for (const double x : {0.0, 50.0, 100.0}) line.vertices.push_back({x, y, z});
    return line;
  };
  data.breaklines = std::vector<ground::Breakline>{contour(0, 71), contour(10, 72), contour(20, 73)};
  const auto p = project::withSource(*empty, {"contours", ""}, std::move(data), empty->surveyed());
  CHECK(*project::levelBetweenContours(*p, {{0, 0}, {50, 0}, {50, 10}, {0, 10}}) == 71.5);
  CHECK(*project::levelBetweenContours(*p, {{0, 10}, {50, 10}, {60, 14}, {50, 20}, {0, 20}}) == 72.5);
  CHECK_FALSE(project::levelBetweenContours(*p, {{0, 0}, {50, 0}, {50, 20}, {0, 10}}));
  CHECK_FALSE(project::levelBetweenContours(*p, {{0, 1}, {50, 0}, {50, 4}}));
}
