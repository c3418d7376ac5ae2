// Strips against their rules.
#include "works/strip.h"

#include <catch2/catch.hpp>

#include <optional>

#include "ground/clip.h"
#include "plane/inside.h"
#include "quantity/volume.h"
#include "support/grounds.h"
#include "works/depth_surface.h"
#include "works/pit_depths.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;
using plane::Vec3;

namespace {

plane::Ring star(std::mt19937& random, Vec2 centre, double radius, int corners) {
  std::uniform_real_distribution<double> some(0.6, 1);
  plane::Ring ring;
  for (int i = 0; i < corners; ++i) {
    const double angle = 2 * M_PI * i / corners, r = radius * some(random);
    ring.push_back({centre.x + r * std::cos(angle), centre.y + r * std::sin(angle)});
  }
  return ring;
}

double fromRing(Vec2 p, const plane::Ring& ring) {
  double least = 1e9;
  for (std::size_t i = 0; i < ring.size(); ++i)
    least = std::min(least, plane::nearestOnSegment(p, ring[i], ring[(i + 1) % ring.size()]).distance);
  return least;
}

// How far a depth is off what the pits' is at a place; beside their hull that may be as steep as a wall, so off what it
// is there or within 5 cm.
double off(const works::PitDepths& rule, Vec2 p, double depth) {
  double low = rule.at(p), high = low;
  if (std::abs(depth - low) < 2e-3) return std::abs(depth - low);
  for (int k = 0; k < 8; ++k) {
    const double there = rule.at(p + 0.05 * Vec2{std::cos(k * M_PI / 4), std::sin(k * M_PI / 4)});
    low = std::min(low, there), high = std::max(high, there);
  }
  return std::max({0.0, low - depth, depth - high});
}

}  // namespace

TEST_CASE("Depths at and beside pits and the lines between them at the edge are those there", "[random]") {
  std::mt19937 random(11);
  std::uniform_real_distribution<double> place(0, 100), some(0.1, 0.5);
  for (int round = 0; round < 200; ++round) {
    CAPTURE(round);
    std::vector<plane::Vec3> pits;
    for (int i = 0; i < 3 + round % 5; ++i) pits.push_back({place(random), place(random), some(random)});
    const works::PitDepths depths(pits);
    for (const double off : {0.0, 1e-15, -1e-14, 1e-12, -1e-9, 1e-7}) {
      for (const auto& pit : pits) CHECK(depths.at({pit.x + off, pit.y - off}) == Approx(pit.z).margin(1e-5));
      for (const auto& [a, b] : depths.hull()) {
        for (const double t : {0.1, 0.5, 0.77}) {
          const Vec2 p = a + t * (b - a);
          const double expected = (1 - t) * depths.at(a) + t * depths.at(b);
          CHECK(depths.at({p.x + off, p.y + off}) == Approx(expected).margin(1e-4));
        }
      }
    }
  }
}

TEST_CASE("What is stripped by pits lies below the ground by no more than the deepest pit everywhere", "[random]") {
  std::mt19937 random(5);
  std::uniform_real_distribution<double> place(5, 95), some(0.1, 0.5);
  for (int round = 0; round < 20; ++round) {
    CAPTURE(round);
    const auto tin = scatteredGround(100, 800, random, randomHills(random, 5));
    works::Strip strip;
    for (int i = 0; i < 12; ++i) {
      const double angle = 2 * M_PI * (i + some(random)) / 12;
      strip.outline.push_back({50 + 40 * std::cos(angle), 50 + 40 * std::sin(angle)});
    }
    for (int i = 0; i < 6; ++i) strip.pits.push_back({place(random), place(random), some(random)});
    const works::StripArea area{&strip, {{strip.outline, {}}}};
    const auto made = works::stripped(tin, {area}, {});
    const auto volume = quantity::volumeBetween(*tin, *made.tin, {}, {});
    CHECK(volume.fill < 1e-6);
    CHECK(volume.maxCut < 0.5 + 1e-6);
    for (const auto& p : made.tin->points()) {
      const auto level = tin->levelAt(p.plan());
      if (level) CHECK((p.z > *level - 0.51 && p.z < *level + 1e-4));
    }
  }
}

TEST_CASE("A strip that ends at the border of the ground leaves no slivers there") {
  std::mt19937 random(9);
  const plane::Ring site{{3, 5}, {60, 2.5}, {97, 8}, {92, 95}, {40, 91}, {4, 88}};
  const auto hills = scatteredGround(100, 900, random, randomHills(random, 5));
  const auto tin = ground::keepInside(*hills, std::vector<plane::Polygon>{{site, {}}}, {});
  works::Strip strip;
  strip.outline = site, strip.depth = 0.3;
  for (const bool pits : {false, true}) {
    CAPTURE(pits);
    if (pits) strip.pits = {{20, 20, 0.2}, {80, 30, 0.4}, {50, 80, 0.3}};
    for (const plane::Ring& area : {site, plane::Ring{{3, 5}, {60, 2.5}, {55, 50}, {4, 88}}}) {
      const auto made = works::stripped(tin, {{&strip, {{area, {}}}}}, {});
      for (const auto& p : made.tin->points()) {
        const auto level = hills->levelAt(p.plan());
        REQUIRE(level);
        CHECK((p.z > *level - 0.41 && p.z < *level + 1e-3));
      }
      CHECK(ground::statistics(*made.tin).planArea == Approx(ground::statistics(*tin).planArea).epsilon(1e-9));
    }
  }
}

TEST_CASE("Depths over a strip are those of their pits everywhere however crowded the pits", "[random]") {
  std::mt19937 random(8);
  std::uniform_real_distribution<double> place(-60, 60), some(0.1, 0.5), share(0, 1);
  for (int round = 0; round < 40; ++round) {
    CAPTURE(round);
    works::Strip strip;
    strip.outline = star(random, {0, 0}, 50, 7);
    for (int i = 0; i < 1 + round % 25; ++i) strip.pits.push_back({place(random), place(random), some(random)});
    // On a corner of the outline, on a side of it, and close to another.
    if (round % 3 == 0) strip.pits.push_back({strip.outline[2].x, strip.outline[2].y, 0.4});
    if (round % 4 == 0) {
      const Vec2 on = 0.5 * (strip.outline[4] + strip.outline[5]);
      strip.pits.push_back({on.x, on.y, 0.2});
    }
    if (round % 5 == 0) strip.pits.push_back({strip.pits[0].x + 3, strip.pits[0].y + 1, some(random)});
    const works::PitDepths rule(strip.pits);
    const auto depths = works::depthsOver({&strip, {{strip.outline, {}}}}, {});
    CHECK(ground::statistics(*depths).planArea == Approx(std::abs(plane::signedArea(strip.outline))).epsilon(1e-9));
    double worst = 0;
    for (ground::Index t = 0; t < depths->triangles().size(); ++t) {
      const auto [a, b, c] = depths->corners(t);
      for (int i = 0; i < 10; ++i) {
        double u = share(random), v = share(random);
        if (u + v > 1) u = 1 - u, v = 1 - v;
        const auto at = [&](auto&& of) { return of(a) + u * (of(b) - of(a)) + v * (of(c) - of(a)); };
        const Vec2 p{at([](const Vec3& w) { return w.x; }), at([](const Vec3& w) { return w.y; })};
        worst = std::max(worst, off(rule, p, at([](const Vec3& w) { return w.z; })));
      }
    }
    CHECK(worst < 3e-3);
  }
}

TEST_CASE("The greatest depth of several strips rules once wherever the ground is coarse or fine", "[random]") {
  std::mt19937 random(12);
  std::uniform_real_distribution<double> place(15, 85), some(0.1, 0.5);
  for (int round = 0; round < 16; ++round) {
    CAPTURE(round);
    const auto tin = scatteredGround(100, round % 2 ? 60 : 4000, random, randomHills(random, 5));
    std::vector<works::Strip> strips(2 + round % 2);
    for (works::Strip& strip : strips) {
      strip.outline = star(random, {place(random), place(random)}, 40, 6);
      strip.depth = some(random);
      for (int i = 0; i < 4; ++i) strip.pits.push_back({place(random), place(random), some(random)});
    }
    if (strips.size() == 3) strips[1].pits.clear();
    std::vector<works::StripArea> areas;
    std::vector<std::optional<works::PitDepths>> rules(strips.size());
    for (std::size_t i = 0; i < strips.size(); ++i) {
      areas.push_back({&strips[i], {{strips[i].outline, {}}}});
      if (!strips[i].pits.empty()) rules[i].emplace(strips[i].pits);
    }
    const auto made = works::stripped(tin, areas, {});
    CHECK(ground::statistics(*made.tin).planArea == Approx(ground::statistics(*tin).planArea).epsilon(1e-9));
    std::vector<double> volumes(strips.size());
    constexpr int kCells = 400;
    constexpr double kCell = 100.0 / kCells;
    for (int j = 0; j < kCells; ++j) {
      for (int i = 0; i < kCells; ++i) {
        const Vec2 p{(i + 0.5) * kCell, (j + 0.5) * kCell};
        const auto ground = tin->levelAt(p);
        if (!ground) continue;
        double greatest = 0;
        std::size_t ruler = 0;
        bool edge = false;
        for (std::size_t k = 0; k < strips.size(); ++k) {
          edge |= fromRing(p, strips[k].outline) < 1e-3;
          if (!plane::contains(strips[k].outline, p)) continue;
          const double t = rules[k] ? rules[k]->at(p) : strips[k].depth;
          if (t > greatest) greatest = t, ruler = k;
        }
        volumes[ruler] += greatest * kCell * kCell;
        if (!edge && (i + j) % 7 == 0) CHECK(*ground - *made.tin->levelAt(p) == Approx(greatest).margin(3e-3));
      }
    }
    for (std::size_t k = 0; k < strips.size(); ++k) {
      if (!made.parts[k]) {
        CHECK(volumes[k] == 0);
        continue;
      }
      const auto own = quantity::volumeBetween(*made.before[k], *made.parts[k], {}, {});
      CHECK(own.cut == Approx(volumes[k]).epsilon(0.01).margin(1));
      CHECK(own.fill == 0);
      const auto below = quantity::volumeBetween(*tin, *made.parts[k], {}, {});
      CHECK(own.cut == Approx(below.cut).epsilon(1e-9));
    }
  }
}
