// Looking up by a tree against going through everything.
#include "plane/static_index.h"

#include <catch2/catch.hpp>
#include <random>
#include <set>

#include "plane/inside.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Segment2;
using plane::Vec2;

TEST_CASE("A static index finds all segments within the margin, and few others", "[random]") {
  for (unsigned seed = 0; seed < 60; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    const double far = seed % 4 == 3 ? 6e6 : 0;
    std::uniform_real_distribution<double> place(0, 100), step(-2, 2);
    const auto anywhere = [&] { return Vec2{far + std::round(place(random) * 8) / 8, far + place(random)}; };
    std::vector<Segment2> all;
    for (std::size_t i = 0; i < 40 * seed; ++i) {
      const Vec2 a = anywhere();
      all.push_back({a, i % 50 == 0 ? anywhere() : i % 7 == 0 ? a : a + Vec2{step(random), step(random)}});
    }
    if (seed % 5 == 0) all.push_back({{0, 0}, {1e7, -3e6}});  // a stray one
    const plane::SegmentIndex index(all);
    std::size_t found = 0;
    for (int q = 0; q < 100; ++q) {
      const Vec2 a = anywhere();
      const Segment2 s{a, q % 3 == 0 ? anywhere() : q % 3 == 1 ? a : a + Vec2{step(random), step(random)}};
      const double margin = q % 2 ? 0.5 : 0;
      std::set<std::uint32_t> got;
      index.near(s, margin, [&](std::uint32_t i) { CHECK(got.insert(i).second); });
      found += got.size();
      for (std::uint32_t i = 0; i < all.size(); ++i) {
        if (plane::distanceBetween(s, all[i]) <= margin) CHECK(got.count(i) == 1);
      }
    }
    CHECK(static_cast<double>(found) < 200 + 15.0 * static_cast<double>(all.size()));
  }
}

TEST_CASE("Inside answers as the crossing rule of each polygon does", "[random]") {
  for (unsigned seed = 0; seed < 40; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    std::vector<plane::Polygon> polygons;
    for (unsigned i = 0; i <= seed % 5; ++i) {
      const Vec2 centre{30.0 + 12 * i, 50};
      polygons.push_back(
          {randomStar(random, centre, 15, 30, 5 + static_cast<int>(seed) * 3), {randomStar(random, centre, 3, 10, 6)}});
    }
    const plane::Inside inside(polygons);
    std::uniform_real_distribution<double> place(-10, 120);
    for (int i = 0; i < 500; ++i) {
      Vec2 p{place(random), place(random)};
      if (i % 10 == 0) p.y = polygons[0].outer[static_cast<std::size_t>(i) % polygons[0].outer.size()].y;
      const bool expected =
          std::any_of(polygons.begin(), polygons.end(), [&](const auto& g) { return contains(g, p); });
      CHECK(inside(p) == expected);
    }
  }
  CHECK_FALSE(plane::Inside(std::span<const plane::Polygon>{})({0, 0}));
}
