#include "ground/tin.h"

#include <array>
#include <catch2/catch.hpp>
#include <set>

#include "ground/clip.h"
#include "ground/stamp.h"
#include "ground/tin_index.h"
#include "quantity/overlap.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;
using plane::Vec3;

TEST_CASE("The plane of a triangle goes through its corners") {
  const std::array<Vec3, 3> c{Vec3{1, 2, 3}, {11, 3, 5}, {4, 9, -2}};
  const ground::Plane plane = ground::planeOf(c);
  for (const Vec3& p : c) CHECK(plane(p.plan()) == Approx(p.z).epsilon(1e-12));
}

TEST_CASE("The plane of a sliver is finite and has the level of its longest side") {
  for (const double off : {0.0, 1e-16, 1e-12}) {
    const ground::Plane plane = ground::planeOf({Vec3{0, 0, 10}, {100, 0, 20}, {40, off, 14.5}});
    CHECK(plane({0, 0}) == Approx(10));
    CHECK(plane({100, 0}) == Approx(20));
    CHECK(plane({40, 0}) == Approx(14));
    CHECK(plane.gradient.y == 0);
  }
  CHECK(ground::planeOf({Vec3{5, 5, 1}, {5, 5, 1}, {5, 5, 1}})({5, 5}) == 1);
}

TEST_CASE("A place off the ground has no level, and a place on a side the level of either triangle") {
  const auto ground = gridGround(100, 10, [](double x, double y) { return 0.1 * x - 0.2 * y; });
  CHECK_FALSE(ground->levelAt({-0.001, 50}));
  CHECK_FALSE(ground->levelAt({50, 100.001}));
  std::mt19937 random(5);
  std::uniform_real_distribution<double> place(0, 100);
  for (int i = 0; i < 200; ++i) {
    const Vec2 p{i % 2 ? 10.0 * (i % 11) : place(random), place(random)};
    REQUIRE(ground->levelAt(p));
    CHECK(*ground->levelAt(p) == Approx(0.1 * p.x - 0.2 * p.y).margin(1e-9));
  }
}

TEST_CASE("Locating agrees with a search through all triangles", "[random]") {
  std::mt19937 random(11);
  const auto ground = scatteredGround(100, 400, random, randomHills(random, 5));
  std::uniform_real_distribution<double> place(-5, 105);
  for (int i = 0; i < 500; ++i) {
    const Vec2 p{place(random), place(random)};
    bool inside = false;
    for (ground::Index t = 0; t < ground->triangles().size(); ++t) {
      const auto c = ground->corners(t);
      inside |= plane::turn(c[0].plan(), c[1].plan(), p) >= 0 && plane::turn(c[1].plan(), c[2].plan(), p) >= 0 &&
                plane::turn(c[2].plan(), c[0].plan(), p) >= 0;
    }
    CHECK((ground->locate(p) != ground::kNone) == inside);
  }
}

TEST_CASE("A place in line with a sliver, but beyond it, is not covered") {
  for (const double wide : {1e-9, 1e-8, 1e-7}) {
    const ground::Tin sliver({{{1, 0.2, 0}, {0, 0, 0}, {1, 0.2 + wide, 0}, {-3, -3, 0}, {-2, -3, 0}, {-3, -2, 0}},
                              {{{0, 2, 1}, {3, 4, 5}}},
                              {},
                              {}});
    CHECK(sliver.locate({0.5, 0.1}) != ground::kNone);
    CHECK(sliver.locate({-1e-8, 0}) != ground::kNone);
    for (const double beyond : {-1e-3, -0.3, -2.0, 1.001, 1.5})
      CHECK(sliver.locate({beyond, 0.2 * beyond}) == ground::kNone);
  }
}

TEST_CASE("Locating from a triangle nearby, far off or none finds what locating finds", "[random]") {
  std::mt19937 random(8);
  const auto whole = scatteredGround(100, 400, random, [](double, double) { return 0; });
  // With a gap in it, which no way leads across.
  const auto ground = ground::keepOutside(*whole, std::vector<plane::Polygon>{{rectangle(40, 20, 60, 90), {}}}, {});
  std::uniform_real_distribution<double> place(-5, 105);
  ground::Index near = ground::kNone;
  int found = 0;
  for (int i = 0; i < 3000; ++i) {
    const Vec2 p{place(random), place(random)};
    const ground::Index t = ground->locate(p), before = near;
    CHECK(ground->locate(p, near) == t);
    CHECK(near == (t == ground::kNone ? before : t));
    found += t != ground::kNone;
  }
  CHECK(found > 1000);
}

TEST_CASE("The grid of a ground made from another finds what one of its own finds", "[random]") {
  std::mt19937 random(21);
  std::uniform_real_distribution<double> place(0, 100), size(2, 30);
  for (int round = 0; round < 12; ++round) {
    CAPTURE(round);
    ground::TinPtr ground = scatteredGround(100, round % 2 ? 300 : 3000, random, randomHills(random, 5));
    for (int step = 0; step < 5; ++step) {
      CAPTURE(step);
      if (step == 2) {  // the same triangles at other levels
        std::vector<plane::Vec3> points(ground->points().begin(), ground->points().end());
        for (plane::Vec3& p : points) p.z += 0.1 * p.x;
        ground = ground::atLevels(*ground, std::move(points));
      } else {  // facets set in, and once beyond its border
        const double x = step == 4 ? 90 : place(random) * 0.6, y = place(random) * 0.6;
        const int across = std::array{6, 30, 1}[static_cast<std::size_t>(round) % 3];
        const auto facets = gridGround(
            size(random), across, [](double, double) { return 60; }, x, y);
        ground = ground::stamp(*ground, *facets, {});
      }
      const ground::Tin alone({{ground->points().begin(), ground->points().end()},
                               {ground->triangles().begin(), ground->triangles().end()},
                               {},
                               {}});
      for (int i = 0; i < 200; ++i) {
        const Vec2 p{place(random) * 1.3 - 5, place(random) * 1.3 - 5};
        const auto level = ground->levelAt(p), own = alone.levelAt(p);
        REQUIRE(level.has_value() == own.has_value());
        if (level) CHECK(*level == Approx(*own).margin(1e-9));
        // Every triangle that a shape touches is among those it is told of.
        const std::array<Vec2, 3> shape{p, p + Vec2{size(random), 0}, p + Vec2{0, size(random)}};
        std::set<ground::Index> found;
        ground->index().touching(shape, 0, [&](ground::Index t) { found.insert(t); });
        const auto c = [&](ground::Index t) { return quantity::plansOf(ground->corners(t)); };
        quantity::Convex both;
        alone.index().touching(shape, 0, [&](ground::Index t) {
          quantity::overlapOfTriangles(shape, c(t), both);
          if (both.n >= 3) CHECK(found.contains(t));
        });
        CHECK((found.empty() || *found.rbegin() < ground->triangles().size()));
      }
    }
  }
}

TEST_CASE("Neighbours lead back to where they came from") {
  std::mt19937 random(3);
  const auto ground = scatteredGround(50, 200, random, randomHills(random, 2));
  std::size_t borders = 0;
  for (ground::Index t = 0; t < ground->triangles().size(); ++t) {
    for (int k = 0; k < 3; ++k) {
      const ground::Index other = ground->neighbours()[t][k];
      if (other == ground::kNone) {
        ++borders;
        continue;
      }
      CHECK(ground->neighbours()[other][ground->sideBack(t, k)] == t);
    }
  }
  CHECK(borders >= 4);
}

TEST_CASE("Plan and surface area are told apart") {
  const auto ground = gridGround(100, 4, [](double x, double) { return x; });
  const auto s = ground::statistics(*ground);
  CHECK(s.planArea == Approx(10000));
  CHECK(s.surfaceArea == Approx(10000 * std::sqrt(2.0)));
  CHECK(s.minLevel == 0);
  CHECK(s.maxLevel == 100);
}

TEST_CASE("A place within the tolerance beside the bounds is covered, one beyond is not") {
  const auto ground = gridGround(
      100, 10, [](double x, double) { return x; }, 0.3, 0.7);
  for (const double along : {0.3, 37.0, 100.3}) {
    for (const double low : {0.3, 100.3}) {
      const double out = low < 50 ? -1 : 1;
      CHECK(ground->locate({low + out * 5e-8, along + 0.4}) != ground::kNone);
      CHECK(ground->locate({along, low + 0.4 + out * 5e-8}) != ground::kNone);
      CHECK(ground->locate({low + out * 3e-7, along + 0.4}) == ground::kNone);
      CHECK(ground->locate({along, low + 0.4 + out * 3e-7}) == ground::kNone);
    }
  }
}
