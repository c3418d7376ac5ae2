#include <catch2/catch.hpp>

#include "ground/drape.h"
#include "ground/stamp.h"
#include "support/grounds.h"
#include "works/works.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;
using works::Detail;

namespace {

// Works that a draft makes less of, at (100, 100) near level 50.
std::vector<std::pair<const char*, works::Shape>> heavyWorks(std::mt19937& random) {
  const auto ring = [&] { return randomStar(random, {100, 100}, 24, 25, 90); };
  plane::Ring line;
  for (int i = 0; i <= 12; ++i) line.push_back({40.0 + 10 * i, 100 + 6 * std::sin(0.9 * i)});
  works::Pad tilted{ring(), 51, {}};
  tilted.top = works::PadTop::tilted, tilted.fall = 2, tilted.bearing = 130;
  tilted.section = {{0, works::parsedSection("out 1.5 at 2 %; to ground 2:1")}};
  works::Pad benched{ring(), 54, {}};
  benched.section = {{0, works::parsedSection("out 2; to ground 2:1, bench every 2 by 1 at 2 %")}};
  works::Pond pond;
  pond.outline = ring(), pond.bottom = 49, pond.top = 52, pond.crest = 2;
  works::Berm berm;
  berm.line = line, berm.height = 1.2;
  works::Swale swale;
  swale.line = line, swale.depth = 0.6;
  return {{"tilted", tilted}, {"benched", benched}, {"pond", pond}, {"berm", berm}, {"swale", swale}};
}

}  // namespace

TEST_CASE("A draft lies within what it may of the works in full, with a good part of the triangles", "[random]") {
  for (unsigned round = 0; round < 4; ++round) {
    std::mt19937 random(5100 + round);
    const auto ground = scatteredGround(200, 12'000, random, randomHills(random, 3));
    for (const auto& [name, shape] : heavyWorks(random)) {
      CAPTURE(round, name);
      const auto full = works::place(shape, *ground, {}, {});
      const auto draft = works::place(shape, *ground, {}, {}, Detail::draft);
      CHECK(20 * draft.facets->triangles().size() < 17 * full.facets->triangles().size());
      CHECK(draft.footprintArea == Approx(full.footprintArea).epsilon(0.003));
      const auto after = ground::stamp(*ground, *full.facets, {}), drafted = ground::stamp(*ground, *draft.facets, {});
      const plane::Box box = full.facets->bounds();
      std::uniform_real_distribution<double> x(box.minX, box.maxX), y(box.minY, box.maxY);
      // Each line that the next starts from adds its own.
      constexpr double kMost = 3 * works::kDraft;
      double farthest = 0;
      for (int i = 0; i < 2000; ++i) {
        const Vec2 p{x(random), y(random)};
        farthest = std::max(farthest, std::abs(*after->levelAt(p) - *drafted->levelAt(p)));
      }
      CHECK(farthest < kMost);
      CHECK(farthest > 1e-6);
    }
  }
}

TEST_CASE("A draft of a line that follows the ground keeps its corners, and lies within a centimetre all along",
          "[random]") {
  for (unsigned round = 0; round < 6; ++round) {
    std::mt19937 random(5200 + round);
    CAPTURE(round);
    const auto ground = scatteredGround(200, 20'000, random, randomHills(random, 3));
    works::Berm berm;
    for (int i = 0; i < 9; ++i) berm.line.push_back({20.0 + 20 * i, 100 + 30 * std::sin(1.7 * i + round)});
    berm.width = 0, berm.height = 1;
    const auto placed = works::place(berm, *ground, {}, {}, Detail::draft);
    // How far off the crest is from a metre above a place on the ground.
    const auto off = [&](const plane::Vec3& p) {
      double least = 1e300;
      for (const works::Line3& crest : placed.crests) {
        for (std::size_t i = 0; i + 1 < crest.points.size(); ++i) {
          const plane::Vec3 &a = crest.points[i], &b = crest.points[i + 1];
          const auto at = plane::nearestOnSegment(p.plan(), a.plan(), b.plan());
          if (at.distance < 1e-5) least = std::min(least, std::abs(a.z + at.along * (b.z - a.z) - p.z - 1));
        }
      }
      return least;
    };
    double farthest = 0;
    for (const plane::Vec3& p : ground::draped(*ground, berm.line, false)) farthest = std::max(farthest, off(p));
    CHECK(farthest < works::kDraft + 1e-6);
    CHECK(farthest > 0.1 * works::kDraft);
    for (const Vec2 corner : berm.line) CHECK(off({corner.x, corner.y, *ground->levelAt(corner)}) < 1e-5);
  }
}
