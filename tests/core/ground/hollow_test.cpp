#include "ground/hollow.h"

#include <catch2/catch.hpp>
#include <numbers>

#include "ground/stamp.h"
#include "support/grounds.h"
#include "works/pond_storage.h"
#include "works/works.h"

using namespace inselberg;
using namespace inselberg::testing;

TEST_CASE("A pond dug into level ground holds its frustum, to the rim") {
  const auto ground = gridGround(200, 10, [](double, double) { return 50; });
  works::Pond pond;
  pond.outline = rectangle(80, 90, 120, 110);  // the bottom: 40 x 20
  pond.bottom = 47, pond.top = 50;
  pond.inside = Slope::horizontalPerVertical(2);
  pond.corners = works::CornerStyle::square;
  const auto placed = works::place(pond, *ground, {}, {});
  const auto after = ground::stamp(*ground, *placed.facets, {});
  const auto hollow = ground::hollowAt(*after, {100, 100}, {});
  REQUIRE(hollow);
  CHECK(hollow->bottom == Approx(47));
  CHECK(hollow->rim == Approx(50));
  for (const double h : {0.5, 1.0, 2.5, 3.0}) {
    const double a = 40 + 4 * h, b = 20 + 4 * h;  // 2:1 on both sides
    const double middle = (40 + 2 * h) * (20 + 2 * h);
    const auto storage = ground::storageAt(*after, *hollow, 47 + h);
    CHECK(storage.area == Approx(a * b).epsilon(1e-9));
    CHECK(storage.volume == Approx(h / 6 * (800 + 4 * middle + a * b)).epsilon(1e-9));
  }
  const auto table = ground::storageTable(*after, *hollow, 0.1);
  CHECK(table.size() == 31);
  CHECK(table.front().volume == 0);
  CHECK(table.back().level == Approx(50));
}

TEST_CASE("Water leaves a hollow over its lowest notch, and a slope holds none") {
  const auto bowl = gridGround(100, 20, [](double x, double y) {
    const double r = std::hypot(x - 50, y - 50);
    const double rim = r < 40 ? 40 + 0.1 * r : 44 - 0.2 * (r - 40);
    return x > 50 && std::abs(y - 50) < 6 && r > 20 ? std::min(rim, 42.0 - 0.01 * (r - 20)) : rim;
  });
  const auto hollow = ground::hollowAt(*bowl, {50, 50}, {});
  REQUIRE(hollow);
  CHECK(hollow->rim < 42.1);
  CHECK(hollow->rim > 41.5);
  const auto slope = gridGround(100, 10, [](double x, double) { return 50 + 0.1 * x; });
  CHECK_FALSE(ground::hollowAt(*slope, {50, 50}, {}));
}

TEST_CASE("The rim is the lowest level at which the water's place reaches the edge, or what lies lower", "[random]") {
  int hollows = 0;
  for (unsigned round = 0; round < 30; ++round) {
    std::mt19937 random(60 + round);
    CAPTURE(round);
    const auto hills = randomHills(random, 6);
    // A pit in random hills.
    const auto ground = scatteredGround(100, 400, random, [&](double x, double y) {
      return hills(x, y) - 5 * std::exp(-((x - 50) * (x - 50) + (y - 50) * (y - 50)) / 300);
    });
    const auto hollow = ground::hollowAt(*ground, {50, 50}, {});
    if (!hollow) continue;
    ++hollows;
    // Whether water that stands at a level has left, by walking over all sides that lie below it.
    const auto leaves = [&](double level) {
      std::vector<char> seen(ground->triangles().size(), 0);
      std::vector<ground::Index> waiting{hollow->start};
      seen[hollow->start] = 1;
      while (!waiting.empty()) {
        const ground::Index t = waiting.back();
        waiting.pop_back();
        const auto c = ground->corners(t);
        for (int k = 0; k < 3; ++k) {
          if (c[k].z < hollow->bottom - 1e-6) return true;
          if (std::min(c[ground::next(k)].z, c[ground::before(k)].z) > level) continue;
          const ground::Index other = ground->neighbours()[t][k];
          if (other == ground::kNone) return true;
          if (!seen[other]) seen[other] = 1, waiting.push_back(other);
        }
      }
      return false;
    };
    CHECK(leaves(hollow->rim + 1e-6));
    CHECK_FALSE(leaves(hollow->rim - 1e-6));
  }
  CHECK(hollows > 10);
}

TEST_CASE("Walls in the water hold nothing back but up to their tops") {
  const auto ground = gridGround(200, 10, [](double, double) { return 50; });
  // A walled basin 4 m deep, a block standing in it, and a walled way out at 49.
  auto tin = ground;
  const auto set = [&](plane::Ring outline, double level) {
    const auto placed = works::place(works::LevelArea{std::move(outline), level, {}}, *tin, {}, {});
    tin = ground::stamp(*tin, *placed.facets, {});
  };
  set(rectangle(80, 80, 120, 110), 46);
  set(rectangle(95, 90, 105, 100), 48);
  set(rectangle(115, 84, 200, 88), 49);
  const auto hollow = ground::hollowAt(*tin, {85, 105}, {});
  REQUIRE(hollow);
  CHECK(hollow->bottom == Approx(46));
  CHECK(hollow->rim == Approx(49));
  CHECK(hollow->spill.y >= 84 - 1e-6);
  CHECK(hollow->spill.y <= 88 + 1e-6);
  // The floor less the block and the step that the way out makes in it; then over the block.
  CHECK(ground::storageAt(*tin, *hollow, 47).volume == Approx(1200 - 100 - 20));
  CHECK(ground::storageAt(*tin, *hollow, 49).volume == Approx(3 * (1200 - 100 - 20) + 100));
}

TEST_CASE("A pond holds what it does though its outer batters come to lie below its bottom") {
  const auto land = gridGround(200, 10, [](double x, double) { return 50 - 0.1 * x; });
  works::Pond pond;
  pond.outline = rectangle(90, 90, 110, 110);
  pond.bottom = 40.5, pond.top = 42, pond.crest = 2;
  pond.inside = Slope::horizontalPerVertical(2);
  const auto placed = works::place(pond, *land, {}, {});
  REQUIRE(placed.facets->minLevel() < pond.bottom - 1);
  const auto after = ground::stamp(*land, *placed.facets, {});
  const auto storage = works::storageOf(pond, placed, *after, {});
  REQUIRE(storage);
  CHECK(storage->hollow.bottom == Approx(40.5));
  CHECK(storage->hollow.rim == Approx(42));
  const double sides = 80 * 2 * 1.5 * 1.5 / 2, corners = std::numbers::pi * 4 * std::pow(1.5, 3) / 3;
  CHECK(storage->held == Approx(400 * 1.5 + sides + corners).epsilon(1e-4));
}

TEST_CASE("Ponds are sized for a volume by their levels and by their outlines", "[random]") {
  std::mt19937 random(31);
  std::uniform_real_distribution<double> u(0, 1);
  const auto ground = gridGround(300, 30, [](double x, double y) { return 50 + 0.01 * x + 0.005 * y; });
  int reached = 0;
  for (int round = 0; round < 24; ++round) {
    works::Pond pond;
    pond.outline = randomStar(random, {150, 150}, 18, 30, 9);
    pond.drawn = static_cast<works::PondDrawn>(round % 3);
    pond.top = 52.5 + u(random), pond.bottom = pond.top - 2 - u(random);
    pond.crest = 2, pond.wet = round % 2, pond.water = pond.top - 0.6;
    pond.inside = Slope::horizontalPerVertical(2);
    const double volume = 300 + 3500 * u(random);
    const auto by = round % 4 < 2 ? works::SizeBy::level : works::SizeBy::outline;
    const auto sized = works::sizedFor(pond, volume, by, *ground, {}, {});
    CAPTURE(round, volume, sized.held);
    if (!sized.reached) continue;
    ++reached;
    // What it is said to hold is what it holds.
    const auto placed = works::place(sized.pond, *ground, {}, {});
    const auto after = ground::stamp(*ground, *placed.facets, {});
    const auto storage = works::storageOf(sized.pond, placed, *after, {});
    REQUIRE(storage);
    CHECK(storage->held == Approx(volume).epsilon(2e-4));
    if (by == works::SizeBy::level) CHECK(sized.pond.outline == pond.outline);
    if (by == works::SizeBy::outline) CHECK(sized.pond.bottom == pond.bottom);
    if (by == works::SizeBy::outline) CHECK(sized.pond.top == pond.top);
  }
  CHECK(reached > 18);
}

TEST_CASE("A pond that cannot be made large enough by its levels says so") {
  const auto ground = gridGround(200, 10, [](double, double) { return 50; });
  works::Pond pond;
  pond.drawn = works::PondDrawn::top;
  pond.outline = rectangle(90, 90, 110, 110);
  pond.bottom = 48, pond.top = 50;
  pond.inside = Slope::horizontalPerVertical(2);
  pond.corners = works::CornerStyle::square;
  // A pyramid 5 m deep is all that its slopes allow.
  const auto sized = works::sizedFor(pond, 1000, works::SizeBy::level, *ground, {}, {});
  CHECK(!sized.reached);
  CHECK(sized.held == Approx(400 * 5 / 3.0));
  CHECK(works::sizedFor(pond, 1000, works::SizeBy::outline, *ground, {}, {}).reached);
}
