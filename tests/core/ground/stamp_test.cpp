// Facets set into a ground keep their levels and their triangles, and the ground keeps its own beyond them.
#include "ground/stamp.h"

#include <algorithm>
#include <array>
#include <catch2/catch.hpp>
#include <random>
#include <set>

#include "ground/clip.h"
#include "ground/recut.h"
#include "quantity/volume.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using ground::Index;
using ground::kNone;

namespace {

// Places of a ground's points within a micron of lines.
std::set<std::pair<double, double>> placesOn(const ground::Tin& tin, const std::vector<ground::Line2>& lines) {
  std::set<std::pair<double, double>> places;
  for (const plane::Vec3& p : tin.points()) {
    if (std::any_of(lines.begin(), lines.end(), [&](const ground::Line2& line) {
          return plane::nearestOnSegment(p.plan(), line.a, line.b).distance < 1e-6;
        }))
      places.insert({p.x, p.y});
  }
  return places;
}

std::size_t countOver(const ground::Tin& tin, const ground::Tin& facets) {
  std::size_t n = 0;
  for (Index t = 0; t < tin.triangles().size(); ++t) n += facets.locate(ground::centroid(tin, t)) != kNone;
  return n;
}

}  // namespace

TEST_CASE("Under facets the level is theirs and elsewhere the ground's, at every place", "[random]") {
  std::mt19937 random(3);
  for (int round = 0; round < 10; ++round) {
    CAPTURE(round);
    const auto land = scatteredGround(100, 400, random, randomHills(random, 5));
    const auto other = scatteredGround(120, round % 2 ? 30 : 1500, random, randomHills(random, 5));
    // Some reach beyond the ground.
    const plane::Ring star = randomStar(random, {50, 50}, 10, 25 + 5.0 * round, 13);
    const auto facets = ground::keepInside(*other, std::vector<plane::Polygon>{{star, {}}}, {});
    const auto made = ground::stamp(*land, *facets, {});
    const auto inside = quantity::volumeBetween(*made, *facets, {}, {});
    CHECK(inside.cut + inside.fill < 1e-6);
    CHECK(inside.onlyTo == 0);
    const auto rest = ground::keepOutside(*land, std::vector<plane::Polygon>{{star, {}}}, {});
    const auto outside = quantity::volumeBetween(*made, *rest, {}, {});
    CHECK(outside.cut + outside.fill < 1e-6);
    CHECK(outside.onlyTo == 0);
    CHECK(ground::statistics(*made).planArea ==
          Approx(ground::statistics(*facets).planArea + ground::statistics(*rest).planArea).epsilon(1e-9));
  }
}

TEST_CASE("Facets keep their triangles but for those added at their border", "[random]") {
  std::mt19937 random(4);
  for (int round = 0; round < 6; ++round) {
    CAPTURE(round);
    const auto land = scatteredGround(100, 3000, random, randomHills(random, 5));
    const auto other = scatteredGround(100, 40, random, randomHills(random, 5));
    const auto facets =
        ground::keepInside(*other, std::vector<plane::Polygon>{{randomStar(random, {50, 50}, 10, 40, 13), {}}}, {});
    const auto made = ground::stamp(*land, *facets, {});
    const auto border = ground::borderOf(*facets);
    const std::size_t before = placesOn(*facets, border).size(), after = placesOn(*made, border).size();
    CHECK(after > before + 100);
    CHECK(countOver(*made, *facets) == facets->triangles().size() + after - before);
    std::set<std::array<double, 6>> unchanged;
    const auto key = [](const ground::Tin& tin, Index t) {
      std::array<std::pair<double, double>, 3> c;
      for (std::size_t k = 0; k < 3; ++k) {
        const plane::Vec2 p = tin.plan(tin.triangles()[t][k]);
        c[k] = {p.x, p.y};
      }
      std::sort(c.begin(), c.end());
      return std::array{c[0].first, c[0].second, c[1].first, c[1].second, c[2].first, c[2].second};
    };
    for (Index t = 0; t < made->triangles().size(); ++t) unchanged.insert(key(*made, t));
    const auto touched = ground::touchedBy(*land, border, {});
    for (Index t = 0; t < touched.size(); ++t) {
      if (!touched[t] && facets->locate(ground::centroid(*land, t)) == kNone)
        REQUIRE(unchanged.contains(key(*land, t)));
    }
  }
}

TEST_CASE("A ground keeps what facets leave of it under its numbers, and all of it hangs together", "[random]") {
  std::mt19937 random(11);
  std::uniform_real_distribution<double> place(5, 60), size(10, 35);
  int smaller = 0, larger = 0;
  for (int round = 0; round < 12; ++round) {
    CAPTURE(round);
    ground::TinPtr land = scatteredGround(100, 2000, random, randomHills(random, 5));
    for (int step = 0; step < 4; ++step) {
      CAPTURE(step);
      const int across = std::array{30, 5, 1}[static_cast<std::size_t>(round + step) % 3];
      const auto facets = gridGround(
          size(random), across, [](double, double) { return 60; }, place(random), place(random));
      const auto made = ground::stamp(*land, *facets, {});
      CHECK(std::ranges::equal(made->neighbours(), ground::findNeighbours(made->points().size(), made->triangles())));
      std::vector<char> used(made->points().size(), 0);
      for (const ground::Triangle& t : made->triangles()) {
        for (const Index v : t) used.at(v) = 1;
      }
      CHECK(std::ranges::count(used, 0) == 0);
      const auto touched = ground::touchedBy(*land, ground::borderOf(*facets), {});
      for (Index t = 0; t < std::min(touched.size(), made->triangles().size()); ++t) {
        if (touched[t] || facets->locate(ground::centroid(*land, t)) != kNone) continue;
        const auto was = land->corners(t), is = made->corners(t);
        for (std::size_t k = 0; k < 3; ++k)
          REQUIRE(plane::distance(was[k].plan(), is[k].plan()) + std::abs(was[k].z - is[k].z) == 0);
        REQUIRE(made->breakBits(t) == land->breakBits(t));
      }
      (made->triangles().size() < land->triangles().size() ? smaller : larger) += 1;
      land = made;
    }
  }
  CHECK(smaller > 10);
  CHECK(larger > 10);
}
