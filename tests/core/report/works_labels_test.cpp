#include "report/works_labels.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <set>

#include "support/grounds.h"
#include "works/works.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Box;
using plane::Vec2;
using project::PlacedWorks;
using report::WorksInSight;

namespace {

const Box kAll{-1000, -1000, 1000, 1000};

ground::TinPtr flat(double level) {
  return gridGround(
      200, 8, [level](double, double) { return level; }, -100, -100);
}

PlacedWorks placed(works::Shape shape, const ground::Tin& ground) {
  PlacedWorks made;
  made.placement = std::make_shared<works::Placement>(works::place(shape, ground, {}, {}));
  made.works = std::make_shared<works::Works>(works::Works{WorksId{1}, "Pad", false, std::move(shape)});
  return made;
}

works::Pad padAt(const Box& box, double level, double cut, double fill) {
  works::Pad pad{rectangle(box.minX, box.minY, box.maxX, box.maxY), level, {}};
  pad.batters.cut = Slope::horizontalPerVertical(cut), pad.batters.fill = Slope::horizontalPerVertical(fill);
  return pad;
}

}  // namespace

TEST_CASE("Each side of a pad tells the slope of its batter, in the middle of it, upright") {
  std::mt19937 random(11);
  std::uniform_real_distribution<double> run(1, 4), height(-6, 6);
  const auto ground = flat(50);
  for (int round = 0; round < 60; ++round) {
    const double cut = std::round(run(random) * 10) / 10, fill = std::round(run(random) * 10) / 10;
    const double h = height(random);
    if (std::abs(h) < 2) continue;
    const std::vector<PlacedWorks> works{placed(padAt({-20, -15, 25, 20}, 50 + h, cut, fill), *ground)};
    const double mm = 0.25, s = h < 0 ? cut : fill;  // 1:250
    const auto labels = report::slopeLabels(WorksInSight(works), mm, kAll);
    CAPTURE(cut, fill, h);
    REQUIRE(labels.size() == 4);
    for (const auto& label : labels) {
      CHECK(std::stod(label.text) == Approx(s));
      CHECK(label.text.substr(label.text.size() - 2) == ":1");
      CHECK(plane::norm(label.along) == Approx(1));
      CHECK((label.along.x > 1e-9 || label.along.y > 0.99));
      // To half a step of the search.
      const double beyond = std::max({-20 - label.at.x, label.at.x - 25, -15 - label.at.y, label.at.y - 20});
      CHECK(beyond == Approx(0.5 * s * std::abs(h)).margin(mm));
    }
  }
}

TEST_CASE("Sides too short or batters too narrow for a text have none, and walls have none") {
  const auto ground = flat(50);
  const std::vector<PlacedWorks> pad{placed(padAt({-20, -5, 20, 5}, 52, 2, 2), *ground)};  // batters of 4 m
  const auto count = [&](double mm) { return report::slopeLabels(WorksInSight(pad), mm, kAll).size(); };
  CHECK(count(0.5) == 4);
  CHECK(count(1) == 2);    // the short sides have 10 mm
  CHECK(count(1.5) == 0);  // batters have 2.7 mm
  works::LevelArea area;
  area.outline = rectangle(-20, -20, 20, 20), area.level = 55;
  const std::vector<PlacedWorks> walled{placed(area, *ground)};
  CHECK(report::slopeLabels(WorksInSight(walled), 0.1, kAll).empty());
  // Only what is seen.
  CHECK(report::slopeLabels(WorksInSight(pad), 0.5, {-20, 4, 20, 30}).size() == 1);
}

TEST_CASE("A side whose batter is narrow in its middle tells its slope nearer to an end") {
  // A ridge across the middle of the long sides, 20 cm below the pad.
  const auto ground = gridGround(
      200, 200, [](double x, double) { return 49.8 - 0.1 * std::abs(x); }, -100, -100);
  const std::vector<PlacedWorks> works{placed(padAt({-40, -15, 40, 15}, 50, 1.5, 3), *ground)};
  const auto labels = report::slopeLabels(WorksInSight(works), 0.5, kAll);
  REQUIRE(labels.size() == 4);
  for (const auto& label : labels) {
    CHECK(label.text == "3:1");
    if (std::abs(label.along.x) > 0.5) CHECK(std::abs(label.at.x) == Approx(20));
  }
}

TEST_CASE("Beside a crest that falls the slope is told square to it, as it was designed") {
  const auto ground = flat(40);
  works::Ramp ramp;
  ramp.axis = {{-40, 0}, {40, 10}}, ramp.from = 52, ramp.to = 42;
  ramp.left = {{0, works::parsedSection("to ground 2:1")}}, ramp.right = {{0, works::parsedSection("to ground 1.5:1")}};
  const std::vector<PlacedWorks> works{placed(ramp, *ground)};
  std::multiset<std::string> told;
  for (const auto& label : report::slopeLabels(WorksInSight(works), 0.5, kAll)) told.insert(label.text);
  CHECK(told == std::multiset<std::string>{"1.5:1", "2:1"});
}

TEST_CASE("Corners are told with their levels, those that lie together once, ends of open crests too") {
  const auto ground = flat(50);
  std::vector<PlacedWorks> works{placed(padAt({0, 0, 30, 30}, 52, 0.1, 0.1), *ground)};
  const auto corners = [&](double mm) { return report::crestCorners(WorksInSight(works), mm, kAll); };
  REQUIRE(corners(0.5).size() == 4);
  for (const auto& p : corners(0.5)) CHECK(p.z == Approx(52));
  // A second one beside it at the same level, 1 m apart: two of its corners are told with the first one's.
  works.push_back(placed(padAt({31, 0, 60, 30}, 52, 0.1, 0.1), *ground));
  CHECK(corners(0.5).size() == 6);
  CHECK(corners(0.2).size() == 8);
  works.back() = placed(padAt({31, 0, 60, 30}, 52.5, 0.1, 0.1), *ground);
  CHECK(corners(0.5).size() == 8);
  CHECK(report::crestCorners(WorksInSight(works), 0.5, {-1, -1, 1, 1}).size() == 1);
  works::Ramp ramp;
  ramp.axis = {{0, -50}, {0, -20}}, ramp.from = 51, ramp.to = 53;
  works = {placed(ramp, *ground)};
  std::multiset<double> levels;
  for (const auto& p : corners(0.2)) levels.insert(std::round(p.z * 1e6) / 1e6);
  CHECK(levels == std::multiset<double>{51, 51, 53, 53});
}

TEST_CASE("What a later works covers is told no more") {
  const auto ground = flat(50);
  const auto first = placed(padAt({0, 0, 30, 30}, 52, 2, 2), *ground);
  const auto over = placed(padAt({20, -20, 60, 60}, 51, 2, 2), *ground);
  const std::vector<PlacedWorks> works{first, over};
  const WorksInSight sight(works);
  CHECK(sight.shows(works[0], {10, 10}));
  CHECK_FALSE(sight.shows(works[0], {25, 10}));
  CHECK(sight.shows(works[1], {25, 10}));
  CHECK_FALSE(sight.onBatter({10, 10}));
  CHECK(sight.onBatter({-1, 10}));
  CHECK_FALSE(sight.onBatter({30.5, 10}));  // a batter of the first, under the second
  CHECK_FALSE(sight.onBatter({-90, -90}));
  for (const auto& p : report::crestCorners(sight, 0.1, kAll)) {
    if (p.z > 51.5) CHECK(p.x < 1);
  }
  std::size_t ofFirst = 0;
  for (const auto& label : report::slopeLabels(sight, 0.2, kAll)) {
    if (label.at.x > 0 && label.at.x < 18 && label.at.y > -5 && label.at.y < 35) ++ofFirst;
  }
  CHECK(ofFirst == 2);  // below and above
}

TEST_CASE("Beside a corner a text has four places that are clear of it") {
  const double half = 3, mm = 0.5;
  const auto places = report::besideCorner({10, 20}, half, mm);
  REQUIRE(places.size() == 4);
  std::set<std::pair<bool, bool>> sides;
  for (const Vec2 p : places) {
    CHECK(std::abs(p.x - 10) - half == Approx(1.2 * mm));
    sides.insert({p.x > 10, p.y > 20});
  }
  CHECK(sides.size() == 4);
}
