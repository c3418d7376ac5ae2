// Water goes on from full hollows, each lower than the one before, until it leaves the ground.
#include "ground/water_legs.h"

#include <catch2/catch.hpp>

#include "ground/catchment.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using ground::Vec2;
using ground::Vec3;
using ground::WaterPath;

namespace {

// A trough that falls to the east with a dam across it at x = 50: water behind it stands, then runs over the dam's
// lowest place at y = 50.
ground::TinPtr dammed() {
  return evenGridGround(100, 50, [](double x, double y) {
    const double trough = 20 - 0.02 * x + 0.1 * std::abs(y - 50);
    return std::abs(x - 50) < 1.5 ? std::max(trough, 19.8 + 0.01 * std::abs(y - 50)) : trough;
  });
}

bool atEdge(const ground::Tin& tin, Vec2 p) {
  const auto& box = tin.bounds();
  return p.x < box.minX + 1e-6 || p.y < box.minY + 1e-6 || p.x > box.maxX - 1e-6 || p.y > box.maxY - 1e-6;
}

// Bumps and hollows, on land that falls to the east.
ground::TinPtr bumpy(std::mt19937& random, std::size_t points) {
  std::uniform_real_distribution<double> wave(3, 8);
  const double a = wave(random), b = wave(random);
  return scatteredGround(100, static_cast<int>(points), random,
                         [=](double x, double y) { return 20 + 2 * std::sin(x / a) * std::cos(y / b) - 0.02 * x; });
}

}  // namespace

TEST_CASE("Behind a dam water stands, and then runs over its lowest place and off the ground") {
  const auto tin = dammed();
  const auto legs = ground::waterLegs(*tin, {20, 60}, {});
  REQUIRE(legs.size() == 2);
  CHECK(legs[0].end == WaterPath::End::hollow);
  CHECK(legs[0].way.back().x == Approx(48));
  CHECK(legs[1].way.front().z == Approx(19.8));
  CHECK(legs[1].way.front().y == Approx(50));
  CHECK(legs[1].end == WaterPath::End::border);
  CHECK(legs[1].way.back().x == Approx(100));
  // Below the dam there is one leg only, and off the ground none.
  CHECK(ground::waterLegs(*tin, {70, 60}, {}).size() == 1);
  CHECK(ground::waterLegs(*tin, {-70, 60}, {}).empty());
}

TEST_CASE("What a hollow holds counts apart in a catchment") {
  const auto tin = dammed();
  const auto meets = [](Vec2 from, Vec2 to) { return from.x < 90 && to.x >= 90; };
  const auto found = ground::catchmentOf(*tin, meets, 10000, {});
  CHECK(found.cell == Approx(1));
  CHECK(found.area == Approx(40 * 100).epsilon(0.1));      // between the dam and the line
  CHECK(found.areaOver == Approx(50 * 100).epsilon(0.1));  // behind it
  for (const Vec2 p : found.cellsOver) CHECK(p.x < 52);
  // To the foot of the dam comes what lies behind it, and nothing more when it is full.
  const auto foot = ground::catchmentOf(*tin,
                                        [](Vec2 from, Vec2 to) {
                                          return plane::nearestOnSegment({48, 50}, from, to).distance < 1;
                                        },
                                        10000, {});
  CHECK(foot.area == Approx(48 * 100).epsilon(0.1));
  CHECK(foot.areaOver < 0.02 * foot.area);
}

TEST_CASE("From every place water comes to the edge of the ground, over hollows each lower than the last", "[random]") {
  std::mt19937 random(3);
  std::size_t hollows = 0;
  for (int round = 0; round < 40; ++round) {
    CAPTURE(round);
    const auto tin = bumpy(random, 400);
    std::uniform_real_distribution<double> any(1, 99);
    for (int i = 0; i < 10; ++i) {
      const auto legs = ground::waterLegs(*tin, {any(random), any(random)}, {});
      REQUIRE_FALSE(legs.empty());
      CHECK(legs.back().end == WaterPath::End::border);
      CHECK(atEdge(*tin, legs.back().way.back().plan()));
      double bottom = 1e9;
      for (std::size_t k = 0; k < legs.size(); ++k) {
        REQUIRE_FALSE(legs[k].way.empty());
        for (const Vec3& p : legs[k].way) {
          CHECK(p.z <= legs[k].way.front().z + 1e-9);
          CHECK(*tin->levelAt(p.plan()) == Approx(p.z).margin(1e-6));
        }
        if (legs[k].end != WaterPath::End::hollow) continue;
        CHECK(legs[k].way.back().z < bottom);
        bottom = legs[k].way.back().z;
        ++hollows;
        // The next begins at the rim of what was found to hold it.
        const auto hollow = ground::hollowAt(*tin, legs[k].way.back().plan(), {});
        REQUIRE(hollow);
        REQUIRE(k + 1 < legs.size());
        CHECK(legs[k + 1].way.front().z == Approx(hollow->rim).margin(1e-9));
        CHECK(hollow->spill == hollow->on.front());
      }
    }
  }
  CHECK(hollows > 200);
}

TEST_CASE("A catchment past hollows is what its cells' own legs say", "[random]") {
  std::mt19937 random(9);
  int over = 0, away = 0;
  for (int round = 0; round < 12; ++round) {
    CAPTURE(round);
    const auto tin = bumpy(random, 300);
    std::uniform_real_distribution<double> any(20, 80);
    const Vec2 place{any(random), any(random)};
    const auto meets = [&](Vec2 from, Vec2 to) { return plane::nearestOnSegment(place, from, to).distance < 4; };
    const auto found = ground::catchmentOf(*tin, meets, 900, {});
    const auto on = [&](const WaterPath& leg) {
      for (std::size_t k = 0; k < leg.way.size(); ++k) {
        if (meets(leg.way[k > 0 ? k - 1 : 0].plan(), leg.way[k].plan())) return true;
      }
      return false;
    };
    const auto told = [](const std::vector<Vec2>& cells, Vec2 p) {
      return std::find(cells.begin(), cells.end(), p) != cells.end();
    };
    // All cells that either knows, and some beside them.
    std::vector<Vec2> all = found.cells;
    all.insert(all.end(), found.cellsOver.begin(), found.cellsOver.end());
    const std::size_t known = all.size();
    for (std::size_t i = 0; i < known; ++i) {
      for (const Vec2 by : {Vec2{found.cell, 0}, Vec2{0, found.cell}, Vec2{-found.cell, 0}, Vec2{0, -found.cell}}) {
        const Vec2 p = all[i] + by;
        const bool beside = std::none_of(all.begin(), all.end(), [&](Vec2 q) { return plane::distance(p, q) < 0.1; });
        if (beside && tin->levelAt(p)) all.push_back(p);
      }
    }
    for (std::size_t i = 0; i < all.size(); ++i) {
      const auto legs = ground::waterLegs(*tin, all[i], {});
      const bool first = on(legs.front()), later = std::any_of(legs.begin() + 1, legs.end(), on);
      if (i >= known) {
        CHECK_FALSE((first || later));
        ++away;
        continue;
      }
      CHECK(first == told(found.cells, all[i]));
      CHECK((!first && later) == told(found.cellsOver, all[i]));
      over += !first;
    }
  }
  CHECK(over > 100);
  CHECK(away > 100);
}
