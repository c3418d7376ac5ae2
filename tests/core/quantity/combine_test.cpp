// Combined grounds have the level they promise at every place; simplified ones stay within their tolerance.
#include "quantity/combine.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <random>
#include <set>

#include "ground/clip.h"
#include "ground/recut.h"
#include "ground/stamp.h"
#include "quantity/volume.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using quantity::Combine;

TEST_CASE("Guarantee 1: lower, higher and over have the right level at every place", "[random]") {
  std::mt19937 random(31);
  for (int round = 0; round < 8; ++round) {
    const auto a = scatteredGround(100, 250, random, randomHills(random, 5));
    const auto whole = scatteredGround(100, 200, random, randomHills(random, 5));
    // Every other time the second ground covers a part only.
    ground::TinParts part;
    part.points.assign(whole->points().begin(), whole->points().end());
    for (ground::Index t = 0; t < whole->triangles().size(); ++t) {
      const auto c = whole->corners(t);
      if (round % 2 == 0 || (c[0].x + c[1].x + c[2].x) / 3 > 40) part.triangles.push_back(whole->triangles()[t]);
    }
    ground::dropUnusedPoints(part);
    const ground::Tin b(std::move(part));
    std::uniform_real_distribution<double> any(0.5, 99.5);
    for (const Combine rule : {Combine::over, Combine::lower, Combine::higher}) {
      const auto both = quantity::combined(*a, b, rule, {});
      CAPTURE(round, static_cast<int>(rule));
      CHECK(ground::statistics(*both).planArea == Approx(10000).epsilon(1e-6));
      double worst = 0;
      for (int i = 0; i < 400; ++i) {
        const plane::Vec2 p{any(random), any(random)};
        const auto za = a->levelAt(p), zb = b.levelAt(p), z = both->levelAt(p);
        REQUIRE(z);
        double expected = *za;
        if (zb)
          expected = rule == Combine::over ? *zb : rule == Combine::lower ? std::min(*za, *zb) : std::max(*za, *zb);
        worst = std::max(worst, std::abs(*z - expected));
      }
      CHECK(worst < 1e-4);
    }
  }
}

TEST_CASE("Combining adds up: higher minus a plus lower minus a is b minus a", "[random]") {
  std::mt19937 random(5);
  const auto a = scatteredGround(100, 250, random, randomHills(random, 5));
  const auto b = scatteredGround(100, 200, random, randomHills(random, 5));
  const auto higher = quantity::combined(*a, *b, Combine::higher, {}),
             lower = quantity::combined(*a, *b, Combine::lower, {});
  const auto whole = quantity::volumeBetween(*a, *b, {}, {});
  const auto up = quantity::volumeBetween(*a, *higher, {}, {}), down = quantity::volumeBetween(*a, *lower, {}, {});
  CHECK(up.fill == Approx(whole.fill).epsilon(1e-5));
  CHECK(up.cut == Approx(0).margin(1e-3));
  CHECK(down.cut == Approx(whole.cut).epsilon(1e-5));
  CHECK(down.fill == Approx(0).margin(1e-3));
}

TEST_CASE("The lower and the higher of two grounds lose nothing of either, to rounding", "[random]") {
  std::mt19937 random(77);
  for (int round = 0; round < 16; ++round) {
    CAPTURE(round);
    auto a = scatteredGround(100, 300, random, randomHills(random, 5));
    const auto whole = scatteredGround(100, 250, random, randomHills(random, 5));
    const auto inStar = [&](const ground::Tin& tin, double far) {
      const plane::Ring star = randomStar(random, {50, 50}, 10, far, 11);
      return ground::keepInside(tin, std::vector<plane::Polygon>{{star, {}}}, {});
    };
    // By turns: all over; a part, beyond the ground too; the ground itself but for a part; a part of it lowered, with
    // walls in it.
    ground::TinPtr b = whole;
    if (round % 4 == 1) b = inStar(*whole, 70);
    if (round % 4 == 2) b = ground::stamp(*a, *inStar(*whole, 40), {});
    if (round % 4 == 3) {
      a = ground::stamp(*a, *inStar(*whole, 40), {});
      b = inStar(*quantity::shifted(*a, -0.2), 40);
    }
    const auto between = quantity::volumeBetween(*a, *b, {}, {});
    const auto lower = quantity::combined(*a, *b, Combine::lower, {}),
               higher = quantity::combined(*a, *b, Combine::higher, {});
    const auto down = quantity::volumeBetween(*a, *lower, {}, {}), up = quantity::volumeBetween(*a, *higher, {}, {});
    CHECK(down.cut == Approx(between.cut).epsilon(1e-8).margin(1e-6));
    CHECK(down.fill == Approx(0).margin(1e-6));
    CHECK(up.fill == Approx(between.fill).epsilon(1e-8).margin(1e-6));
    CHECK(up.cut == Approx(0).margin(1e-6));
    for (const auto& made : {lower, higher}) CHECK(ground::statistics(*made).planArea == Approx(10000).epsilon(1e-9));
    CHECK(lower->triangles().size() + higher->triangles().size() <
          2 * (a->triangles().size() + b->triangles().size()) + 5000);
  }
}

TEST_CASE("What lies wholly below a ground keeps its triangles in the lower of both", "[random]") {
  std::mt19937 random(78);
  const auto a = scatteredGround(100, 900, random, randomHills(random, 5));
  const auto deep = quantity::shifted(*scatteredGround(100, 20, random, randomHills(random, 5)), -30);
  const auto b =
      ground::keepInside(*deep, std::vector<plane::Polygon>{{randomStar(random, {50, 50}, 15, 40, 9), {}}}, {});
  const auto lower = quantity::combined(*a, *b, Combine::lower, {});
  std::size_t inside = 0, atBorder = 0, corners = 0;
  for (ground::Index t = 0; t < lower->triangles().size(); ++t)
    inside += b->locate(ground::centroid(*lower, t)) != ground::kNone;
  const auto border = ground::borderOf(*b);
  const auto isAt = [&](const plane::Vec3& p) {
    return std::any_of(border.begin(), border.end(), [&](const auto& line) {
      return plane::nearestOnSegment(p.plan(), line.a, line.b).distance < 1e-6;
    });
  };
  std::set<std::pair<double, double>> places;
  for (const plane::Vec3& p : lower->points()) {
    if (isAt(p)) places.insert({p.x, p.y});
  }
  atBorder = places.size(), corners = border.size();
  CHECK(atBorder > corners + 50);
  CHECK(inside == b->triangles().size() + atBorder - corners);
}

TEST_CASE("A simplified ground is within its tolerance everywhere, with fewer triangles and the same border",
          "[random]") {
  std::mt19937 random(12);
  const auto tin = scatteredGround(200, 4000, random, randomHills(random, 4));
  for (const double tolerance : {0.5, 0.1}) {
    const auto simple = quantity::simplified(*tin, tolerance, {});
    const auto v = quantity::volumeBetween(*tin, *simple, {}, {});
    CAPTURE(tolerance);
    CHECK(v.maxCut <= tolerance);
    CHECK(v.maxFill <= tolerance);
    CHECK(v.onlyFrom + v.onlyTo < 1e-6 * v.planArea());
    CHECK(simple->triangles().size() < tin->triangles().size());
  }
}

TEST_CASE("A shifted ground differs by its height times its area, exactly as much up as down") {
  const auto tin = gridGround(100, 10, [](double x, double y) { return 0.1 * x + 0.2 * y; });
  const auto v = quantity::volumeBetween(*tin, *quantity::shifted(*tin, 0.25), {}, {});
  CHECK(v.fill == Approx(2500));
  CHECK(v.cut == 0);
}
