// Grounds along lines, against levels asked for place by place, and closed forms.
#include "section/section.h"

#include <catch2/catch.hpp>

#include "ground/clip.h"
#include "ground/stamp.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;
using section::Named;
using section::Row;
using section::Section;

namespace {

std::vector<Vec2> randomLine(std::mt19937& random, int points, double low, double high) {
  std::uniform_real_distribution<double> place(low, high);
  std::vector<Vec2> line;
  for (int i = 0; i < points; ++i) line.push_back({place(random), place(random)});
  return line;
}

std::vector<plane::Polygon> hole(plane::Ring ring) {
  return {{std::move(ring), {}}};
}

// Two level squares that meet in a wall of 2 m along x = 50.
ground::TinPtr walled() {
  ground::TinParts parts;
  parts.points = {{0, 0, 10},  {50, 0, 10},  {50, 100, 10},  {0, 100, 10},
                  {50, 0, 12}, {100, 0, 12}, {100, 100, 12}, {50, 100, 12}};
  parts.triangles = {{0, 1, 2}, {0, 2, 3}, {4, 5, 6}, {4, 6, 7}};
  return std::make_shared<ground::Tin>(std::move(parts));
}

}  // namespace

TEST_CASE("A section has the ground's level everywhere along it and a row wherever it crosses a side", "[random]") {
  int covered = 0;
  for (unsigned seed = 0; seed < 40; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    const auto a = scatteredGround(100, 200, random, randomHills(random, 6));
    const auto whole = scatteredGround(90, 150, random, randomHills(random, 6));
    const auto b = ground::keepOutside(*whole, hole(randomStar(random, {45, 45}, 5, 25, 9)), {});
    const Section s =
        section::sectionAlong(std::vector<Named>{{"a", a}, {"b", b}}, randomLine(random, 2 + seed % 4, -20, 120));
    if (!s.covered()) continue;  // the line passes by
    ++covered;
    std::uniform_real_distribution<double> along(0, s.length());
    for (int i = 0; i < 200; ++i) {
      const double station = along(random);
      const Vec2 p = s.at(station);
      for (std::size_t g = 0; g < 2; ++g) {
        const auto level = (g == 0 ? a : b)->levelAt(p), told = s.level(g, station);
        REQUIRE(level.has_value() == told.has_value());
        if (level) CHECK(*told == Approx(*level).margin(1e-8));
      }
    }
    const auto rows = section::rowsOf(s);
    CHECK(rows.front().station == 0);
    CHECK(rows.back().station == s.length());
    // Every crossing with a side of a triangle is a row.
    for (const auto& tin : {a, b}) {
      for (const ground::Triangle& t : tin->triangles()) {
        for (int k = 0; k < 3; ++k) {
          const Vec2 p = tin->plan(t[k]), q = tin->plan(t[ground::next(k)]);
          for (std::size_t i = 1; i < s.line.size(); ++i) {
            const auto u = plane::crossingAlong(s.line[i - 1], s.line[i], p, q);
            if (!u) continue;
            const double station = s.corners[i - 1] + *u * (s.corners[i] - s.corners[i - 1]);
            const auto near = std::lower_bound(rows.begin(), rows.end(), station - 1e-6,
                                               [](const Row& r, double at) { return r.station < at; });
            REQUIRE(near != rows.end());
            CHECK(near->station == Approx(station).margin(1e-6));
          }
        }
      }
    }
  }
  CHECK(covered > 30);
}

TEST_CASE("Where a wall stands a station has two rows, and where the ground has a gap none of its levels") {
  const Section s = section::sectionAlong(std::vector<Named>{{"g", walled()}}, {{10, 30}, {90, 30}});
  const auto rows = section::rowsOf(s);
  std::vector<double> levels;
  for (const Row& r : rows) {
    if (std::abs(r.station - 40) < 1e-9) levels.push_back(r.levels[0].value());
  }
  CHECK(levels == std::vector<double>{10, 12});

  const auto holed = ground::keepOutside(*evenGridGround(100, 2, [](double, double) { return 5; }),
                                         hole(rectangle(60, 10, 70, 90)), {});
  const Section g = section::sectionAlong(std::vector<Named>{{"g", holed}}, {{52, 30}, {90, 30}});
  CHECK_FALSE(g.level(0, 13));
  const auto gap = section::rowsOf(g);
  CHECK(std::count_if(gap.begin(), gap.end(), [](const Row& r) { return !r.levels[0]; }) == 1);
  for (const Row& r : gap) CHECK(r.levels[0].has_value() == (r.at.x <= 60 + 1e-9 || r.at.x >= 70 - 1e-9));
}

TEST_CASE("A line along the sides of triangles and through their corners is covered whole, once") {
  const Level level = [](double x, double y) { return 3 + 0.1 * x * y / 100; };
  const auto ground = evenGridGround(100, 10, level);
  for (const auto& line : std::vector<std::vector<Vec2>>{{{0, 30}, {100, 30}},
                                                         {{0, 0}, {100, 100}},
                                                         {{0, 0}, {100, 0}},
                                                         {{100, 100}, {0, 0}},
                                                         {{30, 0}, {30, 100}, {80, 100}}}) {
    const Section s = section::sectionAlong(std::vector<Named>{{"g", ground}}, line);
    const auto rows = section::rowsOf(s);
    CHECK(std::all_of(rows.begin(), rows.end(), [](const Row& r) { return r.levels[0].has_value(); }));
    for (std::size_t i = 1; i < rows.size(); ++i) CHECK(rows[i].station > rows[i - 1].station);
    CHECK(rows.size() < 32);
    for (const Row& r : rows) CHECK(*r.levels[0] == Approx(ground->levelAt(r.at).value()).margin(1e-9));
  }
}

TEST_CASE("Cut and fill of a section are exact") {
  const auto flat = gridGround(100, 3, [](double, double) { return 10; });
  const auto tilted = gridGround(100, 7, [](double x, double) { return 10 + 0.1 * (x - 40); });
  const Section s = section::sectionAlong(std::vector<Named>{{"flat", flat}, {"tilted", tilted}}, {{0, 45}, {100, 45}});
  const auto areas = section::between(s, 0, 1);
  CHECK(areas.cut == Approx(40 * 4 / 2).epsilon(1e-9));
  CHECK(areas.fill == Approx(60 * 6 / 2).epsilon(1e-9));
  const auto back = section::between(s, 1, 0);
  CHECK(back.cut == areas.fill);
  CHECK(back.fill == areas.cut);
  // Beyond the ground nothing is told, and how much is missing.
  const auto half = gridGround(50, 3, [](double, double) { return 9; });
  const Section t = section::sectionAlong(std::vector<Named>{{"flat", flat}, {"half", half}}, {{-10, 25}, {90, 25}});
  CHECK(section::between(t, 0, 1).cut == Approx(50).epsilon(1e-9));
  CHECK(section::between(t, 0, 1).missing == Approx(40).epsilon(1e-9));
}

TEST_CASE("Cross lines stand square to their line from left to right") {
  const auto lines = section::crossLines(std::vector<Vec2>{{0, 0}, {0, 30}, {40, 30}}, 15, 20);
  REQUIRE(lines.size() == 5);
  CHECK(lines[0].line == std::vector<Vec2>{{-10, 0}, {10, 0}});
  CHECK(lines[1].line == std::vector<Vec2>{{-10, 15}, {10, 15}});
  CHECK(lines[2].station == 30);
  CHECK(lines[2].line == std::vector<Vec2>{{0, 40}, {0, 20}});  // square to what follows
  CHECK(lines[4].line == std::vector<Vec2>{{30, 40}, {30, 20}});
  CHECK(section::crossLines(std::vector<Vec2>{{0, 0}, {10, 0}}, 2.5, 1).size() == 5);
}

TEST_CASE("Areas along a line add up by average end areas") {
  // A wedge that deepens evenly along the line: linear areas, so that their sum is the volume itself.
  const auto flat = gridGround(100, 3, [](double, double) { return 10; });
  const auto wedge = gridGround(100, 3, [](double, double y) { return 10 - 0.02 * y; });
  const std::vector<Named> both{{"flat", flat}, {"wedge", wedge}};
  const auto cross = section::crossLines(std::vector<Vec2>{{50, 0}, {50, 90}}, 15, 40);
  std::vector<Section> sections;
  for (const auto& c : cross) sections.push_back(section::sectionAlong(both, c.line));
  const auto areas = section::areasAlong(sections, cross, 0, 1);
  REQUIRE(areas.size() == 7);
  for (const auto& a : areas) {
    CHECK(a.cut == Approx(40 * 0.02 * a.station).margin(1e-9));
    CHECK(a.cutSoFar == Approx(40 * 0.01 * a.station * a.station).margin(1e-9));
    CHECK(a.fill == 0);
  }
  const auto back = section::areasAlong(sections, cross, 1, 0);
  CHECK(back.back().fillSoFar == Approx(areas.back().cutSoFar));
  CHECK(back.back().cutSoFar == 0);
  CHECK(section::areasAlong({}, {}, 0, 1).empty());
}

TEST_CASE("The sum of close sections comes near the volume") {
  std::mt19937 random(4);
  const auto a = scatteredGround(100, 300, random, randomHills(random, 5));
  const auto b = scatteredGround(100, 200, random, randomHills(random, 5));
  double cut = 0, before = 0, whole = 0;
  std::vector<Section> all;
  const std::vector<Named> both{{"a", a}, {"b, \"new\"", b}};
  for (const auto& c : section::crossLines(std::vector<Vec2>{{50, 0}, {50, 100}}, 0.5, 100)) {
    all.push_back(section::sectionAlong(both, c.line));
    const double now = section::between(all.back(), 0, 1).cut;
    if (all.size() > 1) cut += 0.5 * (before + now) / 2;
    before = now;
    whole = std::max(whole, now);
  }
  REQUIRE(whole > 0);
  double cells = 0;
  for (int i = 0; i < 400; ++i) {
    for (int j = 0; j < 400; ++j) {
      const Vec2 p{(i + 0.5) / 4, (j + 0.5) / 4};
      cells += std::max(0.0, *a->levelAt(p) - *b->levelAt(p)) / 16;
    }
  }
  CHECK(cut == Approx(cells).epsilon(2e-3));
  const std::string csv = section::asCsv(std::span(all).first(1), {}, {400000, 6000000});
  CHECK(csv.starts_with("station,easting,northing,a,\"b, \"\"new\"\"\"\n0.000000,400000.000000,6000000.000000,"));
}
