#include <catch2/catch.hpp>
#include <numbers>

#include "ground/stamp.h"
#include "quantity/volume.h"
#include "support/grounds.h"
#include "works/pad.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;
using works::CornerStyle;

namespace {

constexpr double kPi = std::numbers::pi;

works::Pad padOf(plane::Ring outline, double level, double run, CornerStyle corners) {
  works::Pad pad{std::move(outline), level, {}};
  pad.batters.cut = pad.batters.fill = Slope::horizontalPerVertical(run);
  pad.batters.corners = corners;
  return pad;
}

quantity::Volume placedVolume(const ground::Tin& ground, const works::Pad& pad) {
  const works::Placement placed = works::place(pad, ground, {}, {});
  return quantity::volumeBetween(ground, *placed.facets, {}, {});
}

// The level of the top of a level or tilted pad.
double topAt(const works::Pad& pad, Vec2 p) {
  if (pad.top == works::PadTop::level) return pad.level;
  const Vec2 d = p - plane::centroid(pad.outline);
  const double bearing = pad.bearing * kPi / 180;
  return pad.level - pad.fall / 100 * (d.x * std::sin(bearing) + d.y * std::cos(bearing));
}

// The highest fill and the lowest cut at p of batters square to each side, and round outward corners.
struct Governing {
  double fill = -1e300, cut = 1e300;
};
Governing battersAt(const works::Pad& pad, Vec2 p) {
  Governing g;
  const std::size_t n = pad.outline.size();
  const auto from = [&](Vec2 crest) {
    const double d = plane::distance(p, crest), z = topAt(pad, crest);
    g.fill = std::max(g.fill, z - d / pad.batters.fill.run());
    g.cut = std::min(g.cut, z + d / pad.batters.cut.run());
  };
  for (std::size_t i = 0; i < n; ++i) {
    const Vec2 before = pad.outline[(i + n - 1) % n], a = pad.outline[i], b = pad.outline[(i + 1) % n];
    const double along = plane::dot(p - a, b - a) / plane::dot(b - a, b - a);
    if (along >= 0 && along <= 1 && plane::turn(a, b, p) <= 0) from(a + along * (b - a));
    const bool outward = plane::turn(before, a, b) > 0;
    if (outward && plane::dot(p - a, a - before) >= 0 && plane::dot(p - a, b - a) <= 0) from(a);
  }
  return g;
}

// The batter rule taken literally on a grid of cells: min(max(ground, z - d/fill), z + d/cut), kept only where it hangs
// together with the pad.
struct Raster {
  double cut = 0, fill = 0;
};
Raster byCells(const ground::Tin& ground, const works::Pad& pad, double size, int n) {
  const double cell = size / n;
  std::vector<double> change(static_cast<std::size_t>(n) * n, 0);
  std::vector<char> kind(change.size(), 0);  // 1 pad, 2 fill, 3 cut
  std::vector<int> stack;
  for (int j = 0; j < n; ++j) {
    for (int i = 0; i < n; ++i) {
      const Vec2 p{(i + 0.5) * cell, (j + 0.5) * cell};
      const auto level = ground.levelAt(p);
      if (!level) continue;
      const int at = j * n + i;
      if (plane::contains(pad.outline, p)) {
        kind[at] = 1;
        change[at] = topAt(pad, p) - *level;
        stack.push_back(at);
        continue;
      }
      const Governing governing = battersAt(pad, p);
      const double fill = governing.fill - *level, cut = governing.cut - *level;
      if (fill > 0) kind[at] = 2, change[at] = fill;
      if (cut < 0) kind[at] = 3, change[at] = cut;
    }
  }
  std::vector<char> reached(change.size(), 0);
  for (const int at : stack) reached[at] = 1;
  while (!stack.empty()) {
    const int at = stack.back();
    stack.pop_back();
    const int i = at % n, j = at / n;
    for (const auto& [di, dj] : {std::pair{1, 0}, {-1, 0}, {0, 1}, {0, -1}}) {
      const int x = i + di, y = j + dj;
      if (x < 0 || y < 0 || x >= n || y >= n) continue;
      const int to = y * n + x;
      if (reached[to] || kind[to] == 0 || (kind[at] != 1 && kind[at] != kind[to])) continue;
      reached[to] = 1;
      stack.push_back(to);
    }
  }
  Raster sum;
  for (std::size_t k = 0; k < change.size(); ++k) {
    if (!reached[k]) continue;
    (change[k] > 0 ? sum.fill : sum.cut) += std::abs(change[k]) * cell * cell;
  }
  return sum;
}

// The daylight lines are closed and lie on the ground, and nowhere else does a batter end.
void checkDaylight(const works::Placement& placed, const ground::Tin& ground) {
  CHECK(placed.ends.empty());
  for (const auto& line : placed.daylight) {
    CHECK(line.closed);
    for (const auto& p : line.points) CHECK(std::abs(*ground.levelAt(p.plan()) - p.z) < 1e-6);
  }
}

}  // namespace

TEST_CASE("A square pad on level ground gives the closed form with square corners") {
  const auto ground = gridGround(200, 20, [](double, double) { return 10; });
  for (const double h : {0.5, 3.0, -4.0}) {
    const double a = 40, s = 2;
    const auto v = placedVolume(*ground, padOf(rectangle(80, 80, 120, 120), 10 + h, s, CornerStyle::square));
    const double depth = std::abs(h), a1 = a * a, a2 = (a + 2 * s * depth) * (a + 2 * s * depth);
    const double expected = depth / 3 * (a1 + a2 + std::sqrt(a1 * a2));
    CHECK((h > 0 ? v.fill : v.cut) == Approx(expected).epsilon(1e-9));
    CHECK((h > 0 ? v.cut : v.fill) == Approx(0).margin(1e-9));
    CHECK(v.planArea() == Approx(a2).epsilon(1e-9));
  }
}

TEST_CASE("A square pad on level ground gives the closed form with round corners up to the chord error") {
  const auto ground = gridGround(200, 7, [](double, double) { return 10; });
  const double a = 40, h = 3, s = 2;
  const double expected = a * a * h + 2 * a * s * h * h + kPi * s * s * h * h * h / 3;
  const auto v = placedVolume(*ground, padOf(rectangle(80, 80, 120, 120), 13, s, CornerStyle::round));
  const double chordLoss = 1e-3 * 2 * kPi * s * h * h;
  CHECK(v.fill <= expected + 1e-9);
  CHECK(v.fill >= expected - chordLoss);
}

TEST_CASE("A pad at the level of the ground moves nothing") {
  const auto ground = gridGround(100, 10, [](double, double) { return 10; });
  const auto v = placedVolume(*ground, padOf(rectangle(33, 33, 62, 71), 10, 2, CornerStyle::round));
  CHECK(v.cut == Approx(0).margin(1e-9));
  CHECK(v.fill == Approx(0).margin(1e-9));
  CHECK(v.untouchedArea == Approx(29 * 38).epsilon(1e-9));
}

TEST_CASE("On a tilted plane the cut and fill of a crosswise-balanced pad are equal") {
  const auto ground = gridGround(200, 16, [](double x, double) { return 0.1 * x; });
  const auto v = placedVolume(*ground, padOf(rectangle(80, 80, 120, 120), 10, 2, CornerStyle::square));
  CHECK(v.cut == Approx(v.fill).epsilon(1e-9));
  CHECK(v.cut > 400);
}

TEST_CASE("After guarantee 1 land beyond a ridge is left alone") {
  // A ridge along x = 150 rises above the batter; beyond it the land drops below the prolonged plane again.
  const auto level = [](double x, double) {
    return x < 140 ? 0.0 : x < 150 ? (x - 140) * 0.8 : x < 160 ? (160 - x) * 0.8 : -20.0;
  };
  const auto ground = gridGround(200, 40, level);
  const auto placed = works::place(padOf(rectangle(80, 80, 120, 120), 10, 3, CornerStyle::round), *ground, {}, {});
  CHECK(placed.facets->bounds().maxX < 150);
  CHECK(placed.doubts.empty());
}

TEST_CASE("After guarantee 1 ground standing out of a batter stays as an island") {
  const auto level = [](double x, double y) { return std::abs(x - 130) < 1.5 && std::abs(y - 100) < 1.5 ? 12.0 : 0.0; };
  const auto ground = gridGround(200, 200, level);
  const auto placed = works::place(padOf(rectangle(80, 80, 120, 120), 10, 4, CornerStyle::round), *ground, {}, {});
  CHECK(placed.facets->locate({130, 100}) == ground::kNone);
  CHECK(placed.facets->locate({137, 100}) != ground::kNone);
  CHECK(placed.daylight.size() == 2);
}

TEST_CASE("A batter that runs off the ground ends at its edge with a doubt") {
  const auto ground = gridGround(100, 10, [](double, double) { return 0; });
  const auto placed = works::place(padOf(rectangle(80, 40, 95, 60), 5, 2, CornerStyle::round), *ground, {}, {});
  REQUIRE(placed.doubts.size() == 1);
  CHECK(placed.doubts[0].kind == ground::DoubtKind::noDaylight);
  CHECK(placed.facets->bounds().maxX == Approx(100));
  CHECK_FALSE(placed.ends.empty());
}

TEST_CASE("A batter stops at the reach limit with a doubt") {
  const auto ground = gridGround(100, 10, [](double, double) { return 0; });
  auto pad = padOf(rectangle(40, 40, 60, 60), 5, 2, CornerStyle::square);
  pad.batters.reach = 4;
  const auto placed = works::place(pad, *ground, {}, {});
  REQUIRE(placed.doubts.size() == 1);
  CHECK(placed.facets->bounds().maxX == Approx(64).margin(1e-6));
}

TEST_CASE("A batter with benches ends at its reach as well, in the midst of a step") {
  const auto under = gridGround(
      200, 10, [](double, double) { return 50.0; }, -100, -100);
  works::Pad pad{rectangle(0, 0, 30, 20), 70, {}};
  pad.section = {{0, works::parsedSection("to ground 2:1, bench every 2 by 1 at 2 %")}};
  for (const double reach : {4.5, 7.0, 9.25}) {  // on a bench, and on slopes
    CAPTURE(reach);
    pad.batters.reach = reach;
    const auto placed = works::place(pad, *under, {}, {});
    REQUIRE(placed.doubts.size() == 1);
    CHECK(placed.doubts[0].kind == ground::DoubtKind::noDaylight);
    const plane::Box box = placed.facets->bounds();
    CHECK(box.minX == Approx(-reach).margin(1e-6));
    CHECK(box.maxY == Approx(20 + reach).margin(1e-6));
    // As far as it goes it is as one that goes on.
    const double steps = std::floor(reach / 5), rest = reach - 5 * steps;
    const double end = 70 - steps * 2.02 - std::min(rest, 4.0) / 2 - std::max(0.0, rest - 4) * 0.02;
    CHECK(*placed.facets->levelAt({15, -reach + 1e-7}) == Approx(end).margin(1e-5));
  }
}

TEST_CASE("A pad beyond the edge of the ground is kept whole, with a doubt") {
  const auto ground = gridGround(100, 10, [](double x, double) { return 0.02 * x; });
  const auto placed = works::place(padOf(rectangle(80, 40, 120, 60), 3, 2, CornerStyle::round), *ground, {}, {});
  CHECK(placed.facets->locate({115, 50}) != ground::kNone);
  REQUIRE_FALSE(placed.doubts.empty());
  CHECK(placed.doubts.back().kind == ground::DoubtKind::outsideGround);
}

TEST_CASE("An L-shaped pad has an exact valley at its inward corner") {
  const auto ground = gridGround(200, 10, [](double, double) { return 0; });
  const plane::Ring outline{{60, 60}, {140, 60}, {140, 100}, {100, 100}, {100, 140}, {60, 140}};
  const double h = 4, s = 2, w = s * h;
  const auto v = placedVolume(*ground, padOf(outline, h, s, CornerStyle::square));
  // Strips along the perimeter, five mitres, and one valley where two strips share a square of side w.
  const double area = 80 * 40 + 40 * 40, perimeter = 320;
  const double expected = area * h + perimeter * w * h / 2 + 5 * (w * w * h / 3) - w * w * h / 3;
  CHECK(v.fill == Approx(expected).epsilon(1e-9));
}

TEST_CASE("Random concave pads on random hills agree with the batter rule integrated over cells", "[random]") {
  const unsigned seed = 20261124;
  for (unsigned round = 0; round < 12; ++round) {
    std::mt19937 random(seed + round);
    CAPTURE(seed, round);
    const auto ground = scatteredGround(200, 1500, random, randomHills(random, 8));
    const int corners = 4 + static_cast<int>(random() % 20);
    const auto pad = padOf(randomStar(random, {100, 100}, 15, 40, corners),
                           *ground->levelAt({100, 100}) + (round % 3 - 1.0) * 1.5, 1 + round % 3, CornerStyle::round);
    const auto placed = works::place(pad, *ground, {}, {});
    const auto exact = quantity::volumeBetween(*ground, *placed.facets, {}, {});
    const Raster cells = byCells(*ground, pad, 200, 800);
    CHECK(exact.cut == Approx(cells.cut).epsilon(0.004).margin(2));
    CHECK(exact.fill == Approx(cells.fill).epsilon(0.004).margin(2));
    // Guarantee 2.
    checkDaylight(placed, *ground);
    // The stamped ground has the same volume, and the rest is untouched.
    const auto after = ground::stamp(*ground, *placed.facets, {});
    const auto seam = quantity::volumeBetween(*ground, *after, {}, {});
    CHECK(seam.cut == Approx(exact.cut).epsilon(1e-7).margin(1e-5));
    CHECK(seam.fill == Approx(exact.fill).epsilon(1e-7).margin(1e-5));
    CHECK(seam.planArea() == Approx(200.0 * 200).epsilon(1e-9));
    CHECK(seam.onlyFrom == 0);
    CHECK(seam.onlyTo == 0);
  }
}

TEST_CASE("A pad of hundreds of corners agrees with the batter rule integrated over cells", "[random]") {
  for (unsigned round = 0; round < 3; ++round) {
    std::mt19937 random(77 + round);
    CAPTURE(round);
    const auto ground = scatteredGround(200, 3000, random, randomHills(random, 6));
    const auto pad = padOf(randomStar(random, {100, 100}, 30, 38, 300), *ground->levelAt({100, 100}) + round - 1.0, 2,
                           CornerStyle::round);
    const auto v = placedVolume(*ground, pad);
    const Raster cells = byCells(*ground, pad, 200, 800);
    CHECK(v.cut == Approx(cells.cut).epsilon(0.004).margin(2));
    CHECK(v.fill == Approx(cells.fill).epsilon(0.004).margin(2));
  }
}

TEST_CASE("Pads across the edge of the ground agree with the batter rule integrated over cells", "[random]") {
  for (unsigned round = 0; round < 8; ++round) {
    std::mt19937 random(400 + round);
    CAPTURE(round);
    const auto ground = scatteredGround(200, 1200, random, randomHills(random, 6));
    // Centres on the edge and at the corners.
    const Vec2 centre{round % 2 ? 195.0 : 100.0, round % 4 < 2 ? 198.0 : 6.0};
    const auto pad = padOf(randomStar(random, centre, 12, 30, 9), *ground->levelAt(centre) + (round % 3 - 1.0) * 2, 2,
                           CornerStyle::round);
    const auto placed = works::place(pad, *ground, {}, {});
    const auto v = works::costOf(placed, *ground, {});
    const Raster cells = byCells(*ground, pad, 200, 800);
    CHECK(v.cut == Approx(cells.cut).epsilon(0.006).margin(2));
    CHECK(v.fill == Approx(cells.fill).epsilon(0.006).margin(2));
    CHECK(v.onlyFrom == 0);
    CHECK(v.planArea() + v.onlyTo == Approx(placed.footprintArea).epsilon(1e-8));
    CHECK_FALSE(placed.doubts.empty());
    // Batters never leave the ground's cover; the outline is covered whole.
    const auto after = ground::stamp(*ground, *placed.facets, {});
    CHECK(ground::statistics(*after).planArea == Approx(40000 + v.onlyTo).epsilon(1e-8));
  }
}

TEST_CASE("Steep and flat batters, in cut and fill at once, agree with the rule over cells", "[random]") {
  for (unsigned round = 0; round < 6; ++round) {
    std::mt19937 random(700 + round);
    CAPTURE(round);
    const auto ground = scatteredGround(200, 1500, random, randomHills(random, 9));
    works::Pad pad =
        padOf(randomStar(random, {100, 100}, 20, 35, 12), *ground->levelAt({100, 100}), 2, CornerStyle::round);
    pad.batters.cut = Slope::horizontalPerVertical(0.5 + 0.5 * round);
    pad.batters.fill = Slope::horizontalPerVertical(4.0 - 0.5 * round);
    const auto v = placedVolume(*ground, pad);
    const Raster cells = byCells(*ground, pad, 200, 800);
    CHECK(v.cut == Approx(cells.cut).epsilon(0.006).margin(2));
    CHECK(v.fill == Approx(cells.fill).epsilon(0.006).margin(2));
  }
}

TEST_CASE("A pad turned and moved costs the same on turned and moved ground", "[random]") {
  // The ground is a cone of few triangles: nothing but rounding may change.
  const auto at = [](double angle, Vec2 p) {
    return Vec2{500 + std::cos(angle) * p.x - std::sin(angle) * p.y,
                300 + std::sin(angle) * p.x + std::cos(angle) * p.y};
  };
  std::vector<double> fills;
  for (const double angle : {0.0, 0.3, 1.0, 2.5}) {
    ground::BuildInput input;
    for (int i = 0; i < 12; ++i) {
      const Vec2 p = at(angle, {90 * std::cos(i * kPi / 6), 90 * std::sin(i * kPi / 6)});
      input.points.push_back({p.x, p.y, 0});
    }
    const Vec2 top = at(angle, {5, -3});
    input.points.push_back({top.x, top.y, 9});
    const auto ground = ground::build(input, {}, {}, {}).tin;
    plane::Ring outline;
    for (const Vec2 p : {Vec2{-20, -15}, {25, -15}, {25, 5}, {5, 5}, {5, 20}, {-20, 20}})
      outline.push_back(at(angle, p));
    const auto v = placedVolume(*ground, padOf(outline, 7, 1.5, CornerStyle::square));
    fills.push_back(v.fill);
    CHECK(v.cut > 1);
  }
  for (const double f : fills) CHECK(f == Approx(fills[0]).epsilon(1e-8));
}

TEST_CASE("A pad of thousands of corners meets the ground all round, without a doubt") {
  std::mt19937 random(11);
  const auto ground = scatteredGround(400, 3000, random, randomHills(random, 4));
  std::uniform_real_distribution<double> wobble(-0.02, 0.02);
  plane::Ring outline;
  const int n = 3000;
  for (int i = 0; i < n; ++i) {
    const double a = 2 * std::numbers::pi * i / n, r = 100 + 12 * std::sin(5 * a) + wobble(random);
    outline.push_back({200 + r * std::cos(a), 200 + r * std::sin(a)});
  }
  works::Pad pad;
  pad.outline = outline;
  pad.level = 51;
  const auto placed = works::place(pad, *ground, {}, {});
  for (const auto& d : placed.doubts) UNSCOPED_INFO(d.text);
  CHECK(placed.doubts.empty());
}

TEST_CASE("Tilted pads on random hills agree with the batter rule integrated over cells", "[random]") {
  for (unsigned round = 0; round < 12; ++round) {
    std::mt19937 random(500 + round);
    CAPTURE(round);
    const auto ground = scatteredGround(200, 1500, random, randomHills(random, 8));
    const int corners = 4 + static_cast<int>(random() % 20);
    auto pad = padOf(randomStar(random, {100, 100}, 12, 28, corners),
                     *ground->levelAt({100, 100}) + (round % 3 - 1.0) * 1.5, 1 + 0.5 * (round % 3), CornerStyle::round);
    pad.top = works::PadTop::tilted;
    pad.fall = 1 + 0.5 * round;
    pad.bearing = 31.0 * round;
    const auto placed = works::place(pad, *ground, {}, {});
    const auto exact = quantity::volumeBetween(*ground, *placed.facets, {}, {});
    const Raster cells = byCells(*ground, pad, 200, 800);
    CHECK(exact.cut == Approx(cells.cut).epsilon(0.004).margin(2));
    CHECK(exact.fill == Approx(cells.fill).epsilon(0.004).margin(2));
    checkDaylight(placed, *ground);
    // Inside the outline it is the plane, to the corners.
    for (const Vec2 p : pad.outline) {
      const Vec2 in = p + 1e-3 * (plane::centroid(pad.outline) - p);
      if (plane::contains(pad.outline, in)) CHECK(*placed.facets->levelAt(in) == Approx(topAt(pad, in)).margin(1e-6));
    }
  }
}
