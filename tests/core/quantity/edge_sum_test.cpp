#include "quantity/edge_sum.h"

#include <catch2/catch.hpp>

#include "ground/clip.h"
#include "plane/exact_side.h"
#include "plane/polygon.h"
#include "quantity/volume.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;
using plane::Vec3;
using quantity::Volume;
using quantity::volumeBetween;

namespace {

// Inside a region pairs of triangles are clipped: a way of its own, here over all of both grounds.
Volume byClipping(const ground::Tin& a, const ground::Tin& b) {
  plane::Box box = a.bounds();
  box.add(b.bounds());
  const plane::Box wide = box.grown(1);
  return volumeBetween(a, b, {{rectangle(wide.minX, wide.minY, wide.maxX, wide.maxY), {}}}, {});
}

// `depths`: whether depths are alike too. Where the grounds touch in a line or a corner alone, either way may look
// there.
void checkAlike(const ground::Tin& a, const ground::Tin& b, bool depths = true) {
  REQUIRE(quantity::sumOverEdges(a, b, {}));
  const Volume v = volumeBetween(a, b, {}, {}), w = byClipping(a, b);
  const double scale = 1 + w.cut + w.fill, area = 1 + w.planArea();
  CHECK(v.cut == Approx(w.cut).epsilon(1e-10).margin(1e-10 * scale));
  CHECK(v.fill == Approx(w.fill).epsilon(1e-10).margin(1e-10 * scale));
  CHECK(v.planArea() == Approx(w.planArea()).epsilon(1e-9));
  if (depths) CHECK(v.maxCut == Approx(w.maxCut).epsilon(1e-9).margin(1e-9));
  if (depths) CHECK(v.maxFill == Approx(w.maxFill).epsilon(1e-9).margin(1e-9));
  // The strip too thin to be a difference may be told apart by one way and not by the other.
  CHECK(v.cutArea == Approx(w.cutArea).margin(1e-4 * area));
  CHECK(v.fillArea == Approx(w.fillArea).margin(1e-4 * area));
  const Volume back = volumeBetween(b, a, {}, {});
  CHECK(back.cut == v.fill);
  CHECK(back.fill == v.cut);
}

// A ground whose corners lie on a coarse lattice, so that those of two such grounds coincide and their sides run along
// each other; without the triangles that `keep` does not keep.
ground::TinPtr lattice(std::mt19937& random, int cells, double step, double keep) {
  ground::BuildInput in;
  std::uniform_real_distribution<double> level(0, 3), chance(0, 1);
  for (int j = 0; j <= cells; ++j) {
    for (int i = 0; i <= cells; ++i) {
      if (chance(random) < 0.8) in.points.push_back({i * step, j * step, std::floor(level(random) * 4) / 4});
    }
  }
  const auto whole = ground::build(in, {}, {}, {}).tin;
  ground::TinParts parts;
  parts.points.assign(whole->points().begin(), whole->points().end());
  for (const ground::Triangle& t : whole->triangles()) {
    if (chance(random) < keep) parts.triangles.push_back(t);
  }
  ground::dropUnusedPoints(parts);
  return std::make_shared<ground::Tin>(std::move(parts));
}

}  // namespace

TEST_CASE("The sum over edges is what clipping gives, between scattered grounds near and far", "[random]") {
  for (unsigned seed = 0; seed < 30; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    const double lift = std::array{0.0, 0.3, 12.0, -40.0}[seed % 4];
    const Level one = randomHills(random, 5), other = randomHills(random, 5);
    const auto a = scatteredGround(100, 20 + static_cast<int>(random() % 400), random, one);
    const auto b = scatteredGround(100, 20 + static_cast<int>(random() % 400), random,
                                   [&](double x, double y) { return other(x, y) + lift; });
    checkAlike(*a, *b);
  }
}

TEST_CASE("Corners on each other, sides along each other, gaps and islands: still what clipping gives", "[random]") {
  for (unsigned seed = 0; seed < 60; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    const int cells = 3 + static_cast<int>(random() % 7);
    const double keep = std::array{1.0, 0.9, 0.5}[seed % 3];
    const auto a = lattice(random, cells, 10, keep), b = lattice(random, cells, seed % 2 ? 10 : 5, keep);
    if (a->empty() || b->empty()) continue;
    checkAlike(*a, *b, keep == 1);
  }
}

TEST_CASE("Grounds side by side have no depth between them") {
  const auto left = gridGround(100, 4, [](double, double) { return 10; });
  ground::TinParts parts;
  for (const Vec3& p : left->points()) parts.points.push_back({p.x + 100, p.y, 12});
  parts.triangles.assign(left->triangles().begin(), left->triangles().end());
  const Volume v = volumeBetween(*left, ground::Tin(std::move(parts)), {}, {});
  CHECK(v.planArea() == Approx(0).margin(1e-9));
  CHECK(v.maxFill == 0);
  CHECK_FALSE(v.maxFillAt);
  CHECK(v.onlyFrom == Approx(10000));
}

TEST_CASE("A ground moved by less than rounding shows gives what clipping gives", "[random]") {
  for (unsigned seed = 0; seed < 20; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    const auto a = scatteredGround(100, 150, random, randomHills(random, 5));
    std::uniform_real_distribution<double> by(-1, 1);
    const double size = std::pow(10.0, -6.0 - static_cast<double>(seed % 9));
    ground::TinParts parts;
    for (const Vec3& p : a->points()) parts.points.push_back({p.x + size * by(random), p.y, p.z + by(random)});
    parts.triangles.assign(a->triangles().begin(), a->triangles().end());
    checkAlike(*a, ground::Tin(std::move(parts)));
  }
}

// Level plates, or scattered places with terraces of up to 4 m, steep down to all but upright, whose corners make
// slivers.
ground::TinPtr terraces(std::mt19937& random, double far, bool level) {
  std::uniform_real_distribution<double> chance(0, 1), turn(0, 6.28);
  ground::BuildInput in;
  const auto add = [&](double x, double y, double z) {
    in.points.push_back({far + std::clamp(x, 0.0, 100.0), far + std::clamp(y, 0.0, 100.0), level ? 10 : z});
  };
  for (const double x : {0.0, 100.0}) add(x, 0, 5 * chance(random)), add(x, 100, 5 * chance(random));
  const double width = std::pow(10.0, -1 - 4 * chance(random));
  for (int i = 20 + static_cast<int>(random() % 200); i > 0; --i) {
    const double x = 100 * chance(random), y = 100 * chance(random), z = 5 * chance(random), way = turn(random);
    add(x, y, z), add(x + width * std::cos(way), y + width * std::sin(way), z + 4 * chance(random));
  }
  return ground::build(in, {}, {}, {}).tin;
}

TEST_CASE("Terraces that are all but upright, slivers and level plates: what clipping gives, near and far",
          "[random]") {
  for (unsigned seed = 0; seed < 60; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    const double far = std::array{0.0, 5e5, 4e6}[seed % 3];
    const auto a = terraces(random, far, false), b = terraces(random, far, seed % 4 == 0);
    checkAlike(*a, *b, false);
  }
}

// Their borders run along each other to rounding, so that crossings there may be computed far beyond an edge's ends.
TEST_CASE("Grounds cut along the same border have the depths that clipping gives", "[random]") {
  for (unsigned seed = 330; seed < 370; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    const auto a = scatteredGround(100, 300, random, randomHills(random, 6));
    const auto b = scatteredGround(seed % 2 ? 100 : 70, 200, random, randomHills(random, 6));
    const plane::Ring star = randomStar(random, {50, 50}, 10, 48, 5 + static_cast<int>(random() % 12));
    const std::vector region{plane::sound({star, {}}, {})};
    const auto cutA = ground::keepInside(*a, region, {}), cutB = ground::keepInside(*b, region, {});
    if (!cutA->empty() && !cutB->empty()) checkAlike(*cutA, *cutB);
  }
}

TEST_CASE("Where one ground lies above the other in part of their levels, nothing at all lies below", "[random]") {
  for (unsigned seed = 0; seed < 20; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    const Level hills = randomHills(random, 5);
    const auto a = scatteredGround(100, 300, random, hills);
    const auto b = scatteredGround(100, 300, random, [&](double x, double y) { return hills(x, y) + 3; });
    const Volume v = volumeBetween(*a, *b, {}, {}), w = byClipping(*a, *b);
    REQUIRE(w.cut == 0);
    CHECK(v.cut == 0);
    CHECK(v.cutArea == 0);
    CHECK(v.fill == Approx(w.fill).epsilon(1e-10));
  }
}

TEST_CASE("Where both grounds share triangles nothing is cut or filled") {
  std::mt19937 random(5);
  const auto a = scatteredGround(100, 400, random, randomHills(random, 5));
  ground::TinParts parts;
  parts.points.assign(a->points().begin(), a->points().end());
  parts.triangles.assign(a->triangles().begin(), a->triangles().end());
  const ground::Index raised = parts.triangles[parts.triangles.size() / 2][0];
  double around = 0;
  for (const ground::Triangle& t : parts.triangles) {
    if (std::ranges::find(t, raised) != t.end()) around += plane::turn(a->plan(t[0]), a->plan(t[1]), a->plan(t[2])) / 2;
  }
  parts.points[raised].z += 2;
  const Volume v = volumeBetween(*a, ground::Tin(std::move(parts)), {}, {});
  CHECK(v.cut == 0);
  CHECK(v.fill == Approx(around * 2 / 3).epsilon(1e-9));
  CHECK(v.fillArea == Approx(around).epsilon(1e-9));
  CHECK(v.planArea() == Approx(10000).epsilon(1e-9));
}

TEST_CASE("Triangles over each other are found out, and measured by clipping") {
  const auto flat = gridGround(100, 5, [](double, double) { return 10; });
  ground::TinParts parts;
  parts.points = {{10, 10, 12}, {60, 10, 12}, {10, 60, 12}, {20, 20, 13}, {70, 20, 13}, {20, 70, 13}};
  parts.triangles = {{0, 1, 2}, {3, 4, 5}};
  const ground::Tin twice(std::move(parts));
  CHECK_FALSE(quantity::sumOverEdges(twice, *flat, {}));
  CHECK(volumeBetween(*flat, twice, {}, {}).fill == Approx(1250 * 2 + 1250 * 3).epsilon(1e-9));
}

TEST_CASE("Sides are told without rounding") {
  double rounded = 0;
  const Vec2 a{0.1, 0.1}, b{0.3, 0.3};
  CHECK(plane::exactSide(a, b, {0.1, 0.1}, rounded) == 0);
  CHECK(plane::exactSide(a, b, {12, 12.000000000000002}, rounded) > 0);
  CHECK(plane::exactSide(a, b, {12, 11.999999999999998}, rounded) < 0);
  CHECK(plane::exactSide({0, 0}, {1e8, 1e8 * 3}, {1, 3}, rounded) == 0);
  CHECK(plane::exactSide({0, 0}, {1e8, 1e8 * 3}, {1, std::nextafter(3.0, 4.0)}, rounded) > 0);
}
