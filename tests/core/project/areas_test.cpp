#include "project/areas.h"

#include <catch2/catch.hpp>
#include <random>

#include "support/grounds.h"
#include "support/projects.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;
using project::CoveragePart;
using project::DrawnArea;
using Kind = project::CoveragePart::Kind;

namespace {

DrawnArea box(const char* name, double x, double y, double width, double height) {
  return {name, {rectangle(x, y, x + width, y + height), {}}};
}
const std::vector<plane::Polygon> kSite{{rectangle(0, 0, 100, 60), {}}};

std::vector<CoveragePart> of(const project::Coverage& coverage, Kind kind) {
  std::vector<CoveragePart> found;
  for (const CoveragePart& part : coverage.parts) {
    if (part.kind == kind) found.push_back(part);
  }
  return found;
}

}  // namespace

TEST_CASE("What areas cover of a site, what they leave and what they claim twice") {
  const auto c =
      project::coverageOf({box("A", 0, 0, 40, 60), box("B", 35, 10, 30, 20), box("C", 90, 0, 20, 10)}, kSite);
  CHECK(c.site == Approx(6000));
  CHECK(c.covered == Approx(2400 + 500 + 100));
  CHECK(c.beyond == Approx(100));
  CHECK(c.left == Approx(3000));
  CHECK(c.twice == Approx(100));
  const auto twice = of(c, Kind::twice);
  REQUIRE(twice.size() == 1);
  CHECK(twice[0].which == "A and B");
  CHECK(plane::contains(twice[0].shape, twice[0].at));
  REQUIRE(of(c, Kind::left).size() == 1);
  CHECK(of(c, Kind::left)[0].area == Approx(3000));
  CHECK(of(c, Kind::sliver).empty());
}

TEST_CASE("Neighbours that do not meet leave a sliver, those that do leave none") {
  auto c = project::coverageOf({box("A", 0, 0, 50, 60), box("B", 50.3, 0, 49.7, 60)}, kSite);
  REQUIRE(of(c, Kind::sliver).size() == 1);
  CHECK(of(c, Kind::sliver)[0].area == Approx(18));
  CHECK(of(c, Kind::left).empty());
  CHECK(c.left == Approx(18));
  c = project::coverageOf({box("A", 0, 0, 50, 60), box("B", 50, 0, 50, 60)}, kSite);
  CHECK(c.parts.empty());
  CHECK(c.left == Approx(0).margin(1e-9));
  // Less than a hundredth of a square metre is the pointer's, not a gap.
  CHECK(project::coverageOf({box("A", 0, 0, 50, 60), box("B", 50.0001, 0, 49.9999, 60)}, kSite).parts.empty());
}

TEST_CASE("Without a boundary narrow gaps between areas are told, and nothing is left") {
  const std::vector<DrawnArea> ring{box("south", 0, 0, 50, 10), box("north", 0, 10.5, 50, 10),
                                    box("west", -5, 0, 5, 20.5), box("east", 50, 0, 5, 20.5)};
  const auto c = project::coverageOf(ring, {});
  CHECK(c.site == 0);
  CHECK(c.left == 0);
  CHECK(c.beyond == 0);
  CHECK(c.covered == Approx(1000 + 205));
  REQUIRE(c.parts.size() == 1);
  CHECK(c.parts[0].kind == Kind::sliver);
  CHECK(c.parts[0].area == Approx(25));
  CHECK(project::coverageOf({}, {}).parts.empty());
  CHECK(project::coverageOf({}, kSite).left == Approx(6000));
}

TEST_CASE("Covered and left make the site, for areas at random") {
  std::mt19937 random(41);
  std::uniform_real_distribution<double> at(-20, 100), size(1, 40);
  for (int round = 0; round < 40; ++round) {
    std::vector<DrawnArea> areas;
    double sum = 0;
    for (int i = 0; i < 12; ++i) {
      areas.push_back(box("area", at(random), at(random), size(random), size(random)));
      sum += plane::area(areas.back().area);
    }
    const auto c = project::coverageOf(areas, kSite);
    CAPTURE(round);
    CHECK(c.covered + c.left == Approx(c.site).epsilon(1e-9));
    CHECK(c.covered + c.beyond <= sum + 1e-9);
    double left = 0;
    for (const CoveragePart& part : c.parts) {
      CHECK(plane::contains(part.shape, part.at));
      CHECK(plane::area(part.shape) == Approx(part.area));
      if (part.kind != Kind::twice) left += part.area;
    }
    CHECK(left == Approx(c.left).margin(0.01 * 20));
    // What is claimed twice is what the areas have too much.
    const auto once = project::coverageOf({areas[0], areas[1]}, {});
    CHECK(once.covered + once.twice == Approx(plane::area(areas[0].area) + plane::area(areas[1].area)));
  }
}

TEST_CASE("The way along a neighbour is the shorter one, both ways") {
  const std::vector<DrawnArea> areas{box("A", 0, 0, 10, 10)};
  const auto way = [&](Vec2 from, Vec2 to) { return project::wayAlong(areas, from, to); };
  CHECK(way({2, 0}, {10, 4}) == std::vector<Vec2>{{10, 0}});
  CHECK(way({10, 4}, {2, 0}) == std::vector<Vec2>{{10, 0}});
  CHECK(way({2, 0}, {7, 10}) == std::vector<Vec2>{{0, 0}, {0, 10}});
  CHECK(way({7, 10}, {2, 0}) == std::vector<Vec2>{{0, 10}, {0, 0}});
  CHECK(way({0, 0}, {10, 10}).size() == 1);
  CHECK(way({1, 0}, {8, 0}).empty());
  CHECK(way({1, 0}, {8, 3}).empty());  // it does not lie on it
  CHECK(way({10, 0}, {10, 10}).empty());
}
