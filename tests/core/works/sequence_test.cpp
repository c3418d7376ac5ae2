#include <catch2/catch.hpp>
#include <chrono>
#include <cstdlib>

#include "base/error.h"
#include "ground/border.h"
#include "ground/stamp.h"
#include "plane/static_index.h"
#include "quantity/volume.h"
#include "support/grounds.h"
#include "works/works.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;
using works::Section;

namespace {

// A works of some kind, of random size and place on 200 m of ground near level 50.
works::Shape randomWorks(std::mt19937& random) {
  std::uniform_real_distribution<double> u(0, 1);
  const auto between = [&](double a, double b) { return a + (b - a) * u(random); };
  const auto place = [&] { return Vec2{between(40, 160), between(40, 160)}; };
  const auto ring = [&] { return randomStar(random, place(), 4, between(8, 30), 3 + static_cast<int>(random() % 15)); };
  const auto line = [&] {
    plane::Ring points{place()};
    double heading = between(0, 6);
    for (std::size_t k = 0, n = 1 + random() % 5; k < n; ++k) {
      points.push_back(points.back() + between(4, 18) * Vec2{std::cos(heading), std::sin(heading)});
      heading += between(-1.2, 1.2);
    }
    return points;
  };
  const auto section = [&] {
    static const char* const texts[] = {"to ground 2:1",
                                        "out 2 at 2 %; to ground 1.5:1 cut 3:1 fill",
                                        "out 1; up 0.5 at 2:1; out 2 at -3 %; to ground 2:1",
                                        "to level 51 at 2:1; out 1; to ground 2:1",
                                        "out 1.5 at 3 %",
                                        "to ground 1:1, bench every 1 by 1 at 2 %",
                                        "wall"};
    return works::SectionsAlong{{0, works::parsedSection(texts[random() % 7])}};
  };
  const auto corners = random() % 2 ? works::CornerStyle::round : works::CornerStyle::square;
  switch (random() % 8) {
    case 0:
    case 1: {
      works::Pad pad{ring(), between(46, 55), {}};
      pad.top = random() % 2 ? works::PadTop::level : works::PadTop::tilted;
      pad.fall = between(0, 8), pad.bearing = between(0, 360);
      pad.batters.corners = corners;
      pad.section = section();
      if (random() % 3 == 0) pad.space = between(0.2, 3);
      if (random() % 3 == 0) pad.edges = {{0, {}}, {1, section().front().section}};
      if (random() % 4 == 0) {
        // Slopes of their own, perhaps benched.
        pad.section = {
            {0, works::parsedSection(random() % 2 ? "to ground 2:1" : "to ground 2:1, bench every 1 by 1 at 2 %")}};
        pad.edges.clear();
        for (std::size_t e = 0; e < pad.outline.size(); ++e) {
          works::NamedOrLegs own = pad.section.front().section;
          own.legs.back().cut = own.legs.back().fill = between(1, 3);
          pad.edges.push_back({e, own});
        }
      }
      return pad;
    }
    case 2: {
      works::Pad pad{ring(), between(48, 53), {}};
      pad.top = random() % 2 ? works::PadTop::ridge : works::PadTop::onGround;
      pad.ridge = line(), pad.offset = between(-1, 1);
      pad.batters.corners = corners;
      return pad;
    }
    case 3: {
      works::Pond pond;
      pond.outline = ring();
      pond.drawn = static_cast<works::PondDrawn>(random() % 3);
      pond.bottom = between(45, 50), pond.top = pond.bottom + between(1, 4);
      pond.water = pond.bottom + 0.7 * (pond.top - pond.bottom);
      pond.benchWidth = random() % 2 ? 1 : 0, pond.benchHeight = 0.3;
      pond.crest = between(0, 3);
      pond.corners = corners;
      return pond;
    }
    case 4: {
      works::Ramp ramp;
      ramp.axis = line(), ramp.from = between(47, 53), ramp.to = between(47, 53), ramp.width = between(0, 8);
      ramp.left = section(), ramp.right = section(), ramp.corners = corners;
      return ramp;
    }
    case 5: {
      works::Run run;
      run.line = line();
      const double length = works::lengthOf(run.line, false);
      run.levels = {{0, between(48, 53)}, {length / 2, between(48, 53)}, {length * 0.999, between(48, 53)}};
      run.curves = {{length / 2, length / 3}};
      run.left = section();
      run.right = {{0, works::parsedSection("out 2 at 2 %; to ground 2:1")},
                   {length / 2, works::parsedSection("out 4 at 5 %; to ground 1:1 cut 3:1 fill")}};
      run.corners = corners;
      return run;
    }
    case 6: {
      works::Berm berm;
      berm.line = line(), berm.width = between(0, 4), berm.height = between(-1, 2), berm.corners = corners;
      return berm;
    }
    default: {
      works::Swale swale;
      swale.line = line(), swale.width = between(0, 3), swale.depth = between(0.2, 2), swale.corners = corners;
      return swale;
    }
  }
}

// How many points of a surface lie along a border side of it, between its ends and at its level: there triangles that
// seem to meet do not.
std::size_t cracks(const ground::Tin& tin) {
  std::vector<plane::Segment2> sides;
  std::vector<std::pair<plane::Vec3, plane::Vec3>> ends;
  std::vector<char> onBorder(tin.points().size(), 0);
  for (ground::Index t = 0; t < tin.triangles().size(); ++t) {
    for (int k = 0; k < 3; ++k) {
      if (tin.neighbours()[t][k] != ground::kNone) continue;
      const ground::Index a = tin.triangles()[t][ground::next(k)], b = tin.triangles()[t][ground::before(k)];
      sides.push_back({tin.plan(a), tin.plan(b)});
      ends.emplace_back(tin.points()[a], tin.points()[b]);
      onBorder[a] = onBorder[b] = 1;
    }
  }
  constexpr double kNear = 1e-6, kEnd = 1e-4;  // m: what lines are noded to; nearer points may crowd
  const plane::SegmentIndex index(sides);
  std::size_t count = 0;
  for (std::size_t i = 0; i < onBorder.size(); ++i) {
    if (!onBorder[i]) continue;
    const plane::Vec3 p = tin.points()[i];
    index.near(p.plan(), kNear, [&](std::uint32_t s) {
      const auto& [a, b] = ends[s];
      const plane::Nearest near = plane::nearestOnSegment(p.plan(), sides[s].a, sides[s].b);
      if (near.distance > kNear || std::abs(a.z + near.along * (b.z - a.z) - p.z) > 1e-5) return;
      if (std::min(plane::distance(p.plan(), a.plan()), plane::distance(p.plan(), b.plan())) > kEnd) ++count;
    });
  }
  return count;
}

}  // namespace

TEST_CASE("After any sequence of works the ground is whole: nothing overlaps, nothing is missing", "[random]") {
  const int rounds = std::getenv("INSELBERG_ROUNDS") ? std::atoi(std::getenv("INSELBERG_ROUNDS")) : 6;
  const int first = std::getenv("INSELBERG_FIRST") ? std::atoi(std::getenv("INSELBERG_FIRST")) : 0;
  for (int round = first; round < first + rounds; ++round) {
    std::mt19937 random(static_cast<unsigned>(5000 + round));
    ground::TinPtr ground = scatteredGround(200, 800, random, randomHills(random, 4));
    double area = ground::statistics(*ground).planArea;
    for (int k = 0; k < 6; ++k) {
      const works::Shape shape = randomWorks(random);
      CAPTURE(round, k, shape.kind().name);
      const auto began = std::chrono::steady_clock::now();
      works::Placement placed;
      try {
        placed = works::place(shape, *ground, {}, {});
      } catch (const Error& e) {
        // What cannot be placed says why; a ridge must not leave the outline's reach, and lines stay on the ground.
        INFO(e.what());
        CHECK(std::string(e.what()).size() > 10);
        continue;
      }
      if (std::getenv("INSELBERG_ROUNDS")) {
        const double took = std::chrono::duration<double>(std::chrono::steady_clock::now() - began).count();
        if (took > 0.3)
          WARN("round " << round << " works " << k << " " << shape.kind().name << " took " << took << " s");
      }
      CHECK(ground::facesOver(*placed.facets, {}).length < 0.01);
      CHECK(cracks(*placed.facets) == 0);
      for (const auto& line : placed.daylight) {
        for (const auto& p : line.points) CHECK(std::abs(ground->levelAt(p.plan()).value_or(1e9) - p.z) < 1e-3);
      }
      area += works::costOf(placed, *ground, {}).onlyTo;  // tops and legs may reach beyond the ground
      ground = placed.facets->empty() ? ground : ground::stamp(*ground, *placed.facets, {});
      CHECK(ground::statistics(*ground).planArea == Approx(area).epsilon(1e-7));
    }
  }
}
