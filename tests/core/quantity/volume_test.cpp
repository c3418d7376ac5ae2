#include "quantity/volume.h"

#include <catch2/catch.hpp>
#include <numbers>

#include "ground/clip.h"
#include "ground/stamp.h"
#include "quantity/combine.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Polygon;
using plane::Vec2;
using plane::Vec3;
using quantity::Volume;
using quantity::volumeBetween;

namespace {

// The difference of level on a fine grid of cells: the plain oracle.
struct Cells {
  double cut = 0, fill = 0, both = 0;
};
Cells byCells(const ground::Tin& from, const ground::Tin& to, const std::vector<Polygon>& region, double size, int n) {
  Cells sum;
  const double cell = size / n;
  for (int j = 0; j < n; ++j) {
    for (int i = 0; i < n; ++i) {
      const Vec2 p{(i + 0.5) * cell, (j + 0.5) * cell};
      if (!region.empty() &&
          std::none_of(region.begin(), region.end(), [&](const Polygon& g) { return plane::contains(g, p); }))
        continue;
      const auto a = from.levelAt(p), b = to.levelAt(p);
      if (!a || !b) continue;
      sum.both += cell * cell;
      (*b > *a ? sum.fill : sum.cut) += std::abs(*b - *a) * cell * cell;
    }
  }
  return sum;
}

ground::TinPtr raised(const ground::Tin& tin, double h) {
  ground::TinParts parts;
  for (const Vec3& p : tin.points()) parts.points.push_back({p.x, p.y, p.z + h});
  parts.triangles.assign(tin.triangles().begin(), tin.triangles().end());
  return std::make_shared<ground::Tin>(std::move(parts));
}

Polygon randomRegion(std::mt19937& random) {
  return plane::sound({randomStar(random, {50, 50}, 10, 48, 5 + static_cast<int>(random() % 12)), {}}, {});
}

}  // namespace

TEST_CASE("A tilted plane over a level one gives the wedge's closed form") {
  const auto flat = gridGround(100, 3, [](double, double) { return 10; });
  const auto tilted = gridGround(100, 7, [](double x, double) { return 10 + 0.1 * (x - 40); });
  const Volume v = volumeBetween(*flat, *tilted, {}, {});
  CHECK(v.cut == Approx(100 * 40 * 4 / 2).epsilon(1e-9));
  CHECK(v.fill == Approx(100 * 60 * 6 / 2).epsilon(1e-9));
  CHECK(v.cutArea == Approx(4000).epsilon(1e-9));
  CHECK(v.fillArea == Approx(6000).epsilon(1e-9));
  CHECK(v.maxCut == Approx(4).epsilon(1e-12));
  CHECK(v.maxFill == Approx(6).epsilon(1e-12));
  REQUIRE(v.maxFillAt);
  CHECK(v.maxFillAt->x == Approx(100));
}

TEST_CASE("A pyramid far from the origin gives its closed form") {
  for (const double away : {0.0, 1e4, 1e5}) {
    CAPTURE(away);
    ground::BuildInput base, top;
    for (const Vec2 p : {Vec2{0, 0}, {30, 0}, {30, 30}, {0, 30}}) {
      base.points.push_back({away + p.x, away + p.y, 100});
      top.points.push_back({away + p.x, away + p.y, 100});
    }
    top.points.push_back({away + 11, away + 17, 109});
    const Volume v = volumeBetween(*ground::build(base, {}, {}, {}).tin, *ground::build(top, {}, {}, {}).tin, {}, {});
    CHECK(v.fill == Approx(30.0 * 30 * 9 / 3).epsilon(1e-9));
    CHECK(v.cut == 0);
  }
}

TEST_CASE("After guarantee 1 a ground against itself gives exactly 0") {
  std::mt19937 random(1);
  const auto ground = scatteredGround(100, 300, random, randomHills(random, 5));
  const Volume v = volumeBetween(*ground, *ground, {}, {});
  CHECK(v.cut == 0);
  CHECK(v.fill == 0);
  CHECK(v.cutArea == 0);
  CHECK(v.untouchedArea == Approx(10000));
}

TEST_CASE("Two triangulations of one plane have no cut and no fill area") {
  std::mt19937 random(2);
  const Level plane = [](double x, double y) { return 3 + 0.07 * x - 0.11 * y; };
  const Volume v =
      volumeBetween(*scatteredGround(100, 200, random, plane), *scatteredGround(100, 150, random, plane), {}, {});
  CHECK(v.cutArea == 0);
  CHECK(v.fillArea == 0);
  CHECK(v.maxCut == 0);
  CHECK(v.untouchedArea == Approx(10000).epsilon(1e-9));
  CHECK(v.cut + v.fill < 1e-8);
}

TEST_CASE("After guarantees 2 and 4 exchanging swaps exactly, and raising adds height times area", "[random]") {
  for (unsigned seed = 0; seed < 15; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    const auto a = scatteredGround(100, 60 + static_cast<int>(random() % 400), random, randomHills(random, 6));
    const auto b = scatteredGround(100, 60 + static_cast<int>(random() % 400), random, randomHills(random, 6));
    std::vector<Polygon> region;
    if (seed % 2) region.push_back(randomRegion(random));
    const Volume v = volumeBetween(*a, *b, region, {}), w = volumeBetween(*b, *a, region, {});
    CHECK(v.cut == w.fill);
    CHECK(v.fill == w.cut);
    CHECK(v.cutArea == w.fillArea);
    CHECK(v.maxCut == w.maxFill);
    for (const double h : {0.5, -3.0}) {
      const Volume up = volumeBetween(*a, *raised(*b, h), region, {});
      CHECK(up.fill - up.cut == Approx(v.fill - v.cut + h * v.planArea()).epsilon(1e-9).margin(1e-7));
    }
    const Cells cells = byCells(*a, *b, region, 100, 300);
    CHECK(v.cut == Approx(cells.cut).epsilon(0.02).margin(3));
    CHECK(v.fill == Approx(cells.fill).epsilon(0.02).margin(3));
    CHECK(v.planArea() == Approx(cells.both).epsilon(0.02));
    if (region.empty()) CHECK(v.planArea() == Approx(10000).epsilon(1e-9));
    if (!region.empty()) CHECK(v.planArea() == Approx(plane::area(region[0])).epsilon(1e-9));
  }
}

TEST_CASE("After guarantee 3 a region cut in two gives the sum", "[random]") {
  for (unsigned seed = 20; seed < 30; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    const auto a = scatteredGround(100, 250, random, randomHills(random, 6));
    const auto b = scatteredGround(100, 350, random, randomHills(random, 6));
    const double x = 10.0 + static_cast<double>(random() % 80);
    const std::vector<Polygon> whole{{rectangle(5, 5, 95, 95), {}}}, left{{rectangle(5, 5, x, 95), {}}},
        right{{rectangle(x, 5, 95, 95), {}}};
    const Volume v = volumeBetween(*a, *b, whole, {}), l = volumeBetween(*a, *b, left, {}),
                 r = volumeBetween(*a, *b, right, {});
    CHECK(l.cut + r.cut == Approx(v.cut).epsilon(1e-9));
    CHECK(l.fill + r.fill == Approx(v.fill).epsilon(1e-9));
    CHECK(l.planArea() + r.planArea() == Approx(8100).epsilon(1e-9));
    // Both halves in one region are the whole too.
    const Volume both = volumeBetween(*a, *b, {left[0], right[0]}, {});
    CHECK(both.cut == Approx(v.cut).epsilon(1e-9));
  }
}

TEST_CASE("A region through corners and along sides of the triangles misses nothing") {
  // Sides and corners of region and ground fall together: clipped pieces have sides without length.
  ground::BuildInput star;
  star.points = {{-50, -50, 10}, {50, -50, 10}, {50, 50, 10}, {-50, 50, 10}, {0, 0, 10}};
  const auto low = ground::build(star, {}, {}, {}).tin;
  const auto high = gridGround(
      100, 8, [](double, double) { return 12; }, -50, -50);
  for (const plane::Ring& ring : {rectangle(-5, -5, 0, 5), rectangle(0, 0, 50, 50), rectangle(-50, -50, 50, 50),
                                  plane::Ring{{0, 0}, {25, 25}, {-25, 25}}}) {
    const Volume v = volumeBetween(*low, *high, {{ring, {}}}, {});
    CHECK(v.fill == Approx(2 * plane::signedArea(ring)).epsilon(1e-12));
  }
}

TEST_CASE("Uncovered area is told beside the volume") {
  const auto big = gridGround(100, 5, [](double, double) { return 0; });
  const auto small = gridGround(
      50, 4, [](double, double) { return 1; }, 25, 25);
  const Volume v = volumeBetween(*big, *small, {}, {});
  CHECK(v.fill == Approx(2500).epsilon(1e-9));
  CHECK(v.onlyFrom == Approx(7500).epsilon(1e-9));
  CHECK(v.onlyTo == 0);
  const Volume w = volumeBetween(*big, *small, {{rectangle(50, 50, 150, 100), {}}}, {});
  CHECK(w.planArea() == Approx(25 * 25).epsilon(1e-9));
  CHECK(w.onlyFrom == Approx(2500 - 625).epsilon(1e-9));
  CHECK(w.outside == Approx(2500).epsilon(1e-9));
}

TEST_CASE("Holes of a region and of a ground are left out") {
  const auto low = gridGround(100, 9, [](double, double) { return 0; });
  const auto high = gridGround(100, 6, [](double, double) { return 2; });
  Polygon region{rectangle(10, 10, 90, 90), {rectangle(40, 40, 60, 60)}};
  region = plane::sound(std::move(region), {});
  CHECK(volumeBetween(*low, *high, {region}, {}).fill == Approx(2 * (6400 - 400)).epsilon(1e-9));
  const auto holed = ground::keepInside(*high, std::vector{region}, {});
  const Volume v = volumeBetween(*low, *holed, {}, {});
  CHECK(v.fill == Approx(2 * 6000).epsilon(1e-9));
  CHECK(v.onlyFrom == Approx(4000).epsilon(1e-9));
}

TEST_CASE("Grounds compared in regions give what the grounds cut to these give", "[random]") {
  for (unsigned seed = 0; seed < 24; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    const auto a = scatteredGround(100, 300, random, randomHills(random, 6));
    // By turns: a part set in, the whole raised, another ground, and one that covers less.
    ground::TinPtr b;
    if (seed % 4 == 0) {
      const auto part = ground::keepInside(*scatteredGround(100, 80, random, randomHills(random, 3)),
                                           std::vector{randomRegion(random)}, {});
      b = ground::stamp(*a, *part, {});
    } else if (seed % 4 == 1) {
      b = raised(*a, 0.3);
    } else {
      b = scatteredGround(seed % 4 == 2 ? 100 : 70, 200, random, randomHills(random, 6));
    }
    using quantity::Comparison;
    Comparison there(a, b, Comparison::Of::grounds, {}), back(b, a, Comparison::Of::grounds, {});
    if (seed % 8 < 4) there.measure({}), back.measure({});
    const Volume all = there.everywhere({}), between = volumeBetween(*a, *b, {}, {});
    CHECK(all.cut == Approx(between.cut).epsilon(1e-9).margin(1e-9));
    CHECK(all.fill == Approx(between.fill).epsilon(1e-9).margin(1e-9));
    CHECK(all.planArea() == Approx(between.planArea()).epsilon(1e-9));
    CHECK(all.onlyFrom == Approx(between.onlyFrom).margin(1e-6));
    CHECK(all.onlyTo == Approx(between.onlyTo).margin(1e-6));
    for (int k = 0; k < 3; ++k) {
      Polygon area = randomRegion(random);
      if (k == 2) {  // beyond the ground
        for (Vec2& p : area.outer) p = p + Vec2{40, 10};
      }
      quantity::Region region({area}, {});
      const Volume v = there.in(region, {});
      const auto cutA = ground::keepInside(*a, std::vector{area}, {}),
                 cutB = ground::keepInside(*b, std::vector{area}, {});
      const Volume w = volumeBetween(*cutA, *cutB, {}, {});
      CHECK(v.cut == Approx(w.cut).epsilon(1e-8).margin(1e-6));
      CHECK(v.fill == Approx(w.fill).epsilon(1e-8).margin(1e-6));
      CHECK(v.planArea() == Approx(w.planArea()).epsilon(1e-8));
      CHECK(v.cutArea == Approx(w.cutArea).margin(1e-3));
      CHECK(v.untouchedArea == Approx(w.untouchedArea).margin(1e-3));
      CHECK(v.onlyFrom == Approx(w.onlyFrom).margin(1e-3));
      CHECK(v.onlyTo == Approx(w.onlyTo).margin(1e-3));
      CHECK(v.planArea() + v.unmeasured() == Approx(plane::area(area)).epsilon(1e-8));
      CHECK(v.maxCut == Approx(w.maxCut).margin(1e-5));
      CHECK(v.maxFill == Approx(w.maxFill).margin(1e-5));
      CHECK(region.coverOf(a, {}) == Approx(v.planArea() + v.onlyFrom).epsilon(1e-9));
      CHECK(region.coverOf(b, {}) == Approx(v.planArea() + v.onlyTo).epsilon(1e-9));
      const Volume exchanged = back.in(region, {});
      CHECK(exchanged.cut == v.fill);
      CHECK(exchanged.fill == v.cut);
    }
  }
}

TEST_CASE("Facets compared in regions add up to what they are everywhere", "[random]") {
  for (unsigned seed = 0; seed < 16; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    const auto land = scatteredGround(100, 300, random, randomHills(random, 6));
    auto other = scatteredGround(120, seed % 2 ? 60 : 1500, random, randomHills(random, 6));
    // Later of the land's own triangles, at other levels or at its very own.
    if (seed >= 8) other = seed % 2 ? land : quantity::shifted(*land, 0.4);
    const auto facets = ground::keepInside(*other, std::vector{randomRegion(random)}, {});
    quantity::Comparison comparison(land, facets, quantity::Comparison::Of::facets, {});
    if (seed % 4 < 2) comparison.measure({});
    const Volume whole = quantity::volumeOfFacets(*land, *facets, {});
    const Volume all = comparison.everywhere({});
    Volume sum;
    const double mid = 20 + 60 * std::uniform_real_distribution<double>(0, 1)(random);
    for (const Polygon& half :
         {Polygon{rectangle(-50, -50, mid, 200), {}}, Polygon{rectangle(mid, -50, 200, 200), {}}}) {
      quantity::Region region({half}, {});
      const Volume v = comparison.in(region, {});
      sum.cut += v.cut, sum.fill += v.fill, sum.onlyTo += v.onlyTo;
      sum.cutArea += v.cutArea, sum.fillArea += v.fillArea, sum.untouchedArea += v.untouchedArea;
      sum.maxCut = std::max(sum.maxCut, v.maxCut), sum.maxFill = std::max(sum.maxFill, v.maxFill);
      CHECK(v.onlyFrom + v.outside == 0);
    }
    for (const Volume& v : {all, sum}) {
      CHECK(v.cut == Approx(whole.cut).epsilon(1e-9).margin(1e-9));
      CHECK(v.fill == Approx(whole.fill).epsilon(1e-9).margin(1e-9));
      CHECK(v.planArea() == Approx(whole.planArea()).epsilon(1e-9));
      CHECK(v.onlyTo == Approx(whole.onlyTo).margin(1e-6));
      CHECK(v.maxCut == Approx(whole.maxCut).margin(1e-9));
      CHECK(v.maxFill == Approx(whole.maxFill).margin(1e-9));
    }
  }
}

TEST_CASE("Facets that change bit by bit are measured as if anew", "[random]") {
  for (unsigned seed = 0; seed < 6; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    const std::array land{scatteredGround(100, 900, random, randomHills(random, 6)),
                          scatteredGround(100, 900, random, randomHills(random, 6))};
    ground::TinPtr under = land[0], facets = scatteredGround(80, 250, random, randomHills(random, 6));
    quantity::FacetVolumes volumes;
    for (int step = 0; step < 12; ++step) {
      CAPTURE(step);
      const Volume v = volumes.of(under, facets, {}), anew = quantity::volumeOfFacets(*under, *facets, {});
      CHECK(v.cut == Approx(anew.cut).epsilon(1e-12));
      CHECK(v.fill == Approx(anew.fill).epsilon(1e-12));
      CHECK(v.cutArea == Approx(anew.cutArea).epsilon(1e-12));
      CHECK(v.fillArea == Approx(anew.fillArea).epsilon(1e-12));
      CHECK(v.onlyTo == Approx(anew.onlyTo).margin(1e-9));
      CHECK(v.maxCut == Approx(anew.maxCut).epsilon(1e-12));
      CHECK(v.maxFill == Approx(anew.maxFill).epsilon(1e-12));
      // A few levels change, all do, some facets go, or the ground is another.
      ground::TinParts parts;
      parts.points.assign(facets->points().begin(), facets->points().end());
      parts.triangles.assign(facets->triangles().begin(), facets->triangles().end());
      if (step % 4 == 0) {
        for (int k = 0; k < 9; ++k) parts.points[random() % parts.points.size()].z += 0.7;
      } else if (step % 4 == 1) {
        for (Vec3& p : parts.points) p.z += 0.1;
      } else if (step % 4 == 2) {
        std::shuffle(parts.triangles.begin(), parts.triangles.end(), random);
        parts.triangles.resize(parts.triangles.size() - 12);
        ground::dropUnusedPoints(parts);
      } else {
        under = land[static_cast<std::size_t>(step / 4 + 1) % 2];
      }
      facets = std::make_shared<ground::Tin>(std::move(parts));
    }
  }
}

TEST_CASE("Measuring can be stopped") {
  const auto a = gridGround(100, 80, [](double x, double y) { return std::sin(x) * y; });
  const auto b = gridGround(100, 70, [](double, double) { return 0; });
  CHECK_THROWS_AS(volumeBetween(*a, *b, {}, Progress([] { return true; })), Cancelled);
}

TEST_CASE("A difference of a micrometre is the least that counts as cut or fill") {
  const auto flat = gridGround(100, 7, [](double, double) { return 20; });
  for (const auto& [height, counts] : {std::pair{5e-7, false}, {2e-6, true}, {1e-4, true}}) {
    CAPTURE(height);
    const auto raised = gridGround(100, 9, [h = height](double, double) { return 20 + h; });
    const auto v = quantity::volumeBetween(*flat, *raised, {}, {});
    CHECK(v.fillArea == Approx(counts ? 10000 : 0).margin(1e-6));
    CHECK(v.untouchedArea == Approx(counts ? 0 : 10000).margin(1e-6));
    CHECK(v.fill == Approx(height * 10000));
  }
}
