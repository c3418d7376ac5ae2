#include <tbb/global_control.h>

#include <algorithm>
#include <catch2/catch.hpp>

#include "ground/stamp.h"
#include "plane/boxes.h"
#include "quantity/volume.h"
#include "support/grounds.h"
#include "support/rule.h"
#include "works/form.h"
#include "works/works.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;
using works::Leg;
using works::Section;

namespace {

works::SectionsAlong along(Section section) {
  return {{0, {{}, std::move(section)}}};
}

// Compares the ground after a works with the rule, at random places around it. Levels may differ by 5 mm and the slope
// times the chord error; within a sample's spacing of where one leg gives way to another they are not compared.
struct Compared {
  int legs = 0, batters = 0, untouched = 0;
};
Compared compare(const ground::Tin& ground, const works::Placement& placed, const Rule& rule, plane::Box where,
                 const std::function<bool(Vec2)>& onTop, std::mt19937& random, double tolerance = 0.006) {
  constexpr int tries = 250;
  const auto after = ground::stamp(ground, *placed.facets, {});
  Compared done;
  std::uniform_real_distribution<double> x(where.minX, where.maxX), y(where.minY, where.maxY);
  for (int i = 0; i < tries; ++i) {
    const Vec2 p{x(random), y(random)};
    const auto g = ground.levelAt(p), got = after->levelAt(p);
    REQUIRE(g);
    REQUIRE(got);
    if (onTop(p) || rule.clearance(p) < 0.03 || rule.unsure(p)) continue;
    // Next to where stretches part, either may be the nearest.
    const auto same = [&](Vec2 q) {
      const auto a = rule.leg(p), b = rule.leg(q);
      return a.has_value() == b.has_value() && (!a || std::abs(*a - *b) < 0.012) && rule.blocked(p) == rule.blocked(q);
    };
    if (!same(p + Vec2{0.02, 0}) || !same(p - Vec2{0.02, 0}) || !same(p + Vec2{0, 0.02}) || !same(p - Vec2{0, 0.02}))
      continue;
    double expected = *g;
    if (const auto leg = rule.leg(p)) {
      expected = *leg;
      ++done.legs;
    } else if (rule.blocked(p)) {
      ++done.untouched;
    } else {
      const auto b = rule.batters(p);
      expected = std::min(std::max(*g, b.fill), b.cut);
      expected != *g ? ++done.batters : ++done.untouched;
    }
    CAPTURE(p.x, p.y, *g, expected);
    // Where slopes change quickly along a crest, the samples themselves are no nearer.
    CHECK(std::abs(*got - expected) < tolerance);
  }
  return done;
}

// A gentle plane: no land beyond ridges, where the first meeting would matter.
ground::TinPtr slope(double size) {
  return gridGround(size, 10, [](double x, double y) { return 50 + 0.03 * x - 0.02 * y; });
}

plane::Box boxOf(const plane::Ring& ring, double margin) {
  return plane::boundsOf(ring).grown(margin);
}

// A pad on a gentle plane, with the levels of its crest and the sections of its edges.
Compared comparePad(const works::Pad& pad, const ground::Tin& ground,
                    const std::function<double(std::size_t, double)>& levelAt,
                    const std::function<Section(std::size_t)>& sectionOf, double margin, std::mt19937& random,
                    double tolerance = 0.006) {
  const auto placed = works::place(pad, ground, {}, {});
  const Rule rule(sampled(pad.outline, true, 0.02, levelAt, [&](std::size_t edge, double) { return sectionOf(edge); }));
  return compare(
      ground, placed, rule, boxOf(pad.outline, margin), [&](Vec2 p) { return plane::contains(pad.outline, p); }, random,
      tolerance);
}

}  // namespace

TEST_CASE("Sections round level pads agree with the rule, point by point", "[random]") {
  for (unsigned round = 0; round < 5; ++round) {
    std::mt19937 random(900 + round);
    CAPTURE(round);
    const auto ground = slope(200);
    works::Pad pad;
    pad.outline = randomStar(random, {100, 100}, 10, 30, 4 + static_cast<int>(random() % 14));
    pad.level = 50.9 + (round % 3 - 1.0) * 3;
    const Section section{works::legOut(1.5, 2), works::legBy(round % 2 ? 0.8 : -0.6, 2.5), works::legOut(2, -1),
                          works::legToGround(2, 3)};
    pad.section = along(section);
    const auto done = comparePad(
        pad, *ground, [&](auto, auto) { return pad.level; }, [&](auto) { return section; }, 20, random);
    CHECK(done.legs > 10);
    CHECK(done.batters > 3);
  }
}

TEST_CASE("Legs to a level from a sloping crest agree with the rule", "[random]") {
  for (unsigned round = 0; round < 4; ++round) {
    std::mt19937 random(950 + round);
    CAPTURE(round);
    const auto ground = slope(200);
    works::Pad pad;
    pad.outline = randomStar(random, {100, 100}, 12, 25, 4 + static_cast<int>(random() % 8));
    pad.top = works::PadTop::tilted;
    pad.level = 52, pad.fall = 4, pad.bearing = 40.0 * round;
    const Section section{works::legToLevel(54, 2), works::legOut(1, 0), works::legToGround(2, 2)};
    pad.section = along(section);
    const Vec2 middle = plane::centroid(pad.outline);
    const double b = pad.bearing * 3.14159265358979 / 180;
    const auto top = [&](Vec2 p) {
      return 52 - 0.04 * ((p.x - middle.x) * std::sin(b) + (p.y - middle.y) * std::cos(b));
    };
    const std::size_t n = pad.outline.size();
    const auto done = comparePad(
        pad, *ground,
        [&](std::size_t e, double t) { return top(pad.outline[e] + t * (pad.outline[(e + 1) % n] - pad.outline[e])); },
        [&](auto) { return section; }, 20, random);
    CHECK(done.legs > 10);
    CHECK(done.batters > 3);
  }
}

TEST_CASE("Edges with sections of their own, and walls, agree with the rule", "[random]") {
  for (unsigned round = 0; round < 5; ++round) {
    std::mt19937 random(1000 + round);
    CAPTURE(round);
    const auto ground = slope(200);
    works::Pad pad;
    pad.outline = randomStar(random, {100, 100}, 12, 28, 5 + static_cast<int>(random() % 7));
    pad.level = round % 2 ? 54 : 47;
    const Section usual{works::legOut(2, 2), works::legToGround(2, 2)},
        steep{works::legOut(3, 5), works::legToGround(1, 1.5)}, other{works::legToGround(3, 3)};
    pad.section = along(usual);
    pad.edges = {{0, {}}, {2, {{}, steep}}, {3, {{}, other}}};
    const auto done = comparePad(
        pad, *ground, [&](auto, auto) { return pad.level; },
        [&](std::size_t e) { return e == 0   ? Section()
                                    : e == 2 ? steep
                                    : e == 3 ? other
                                             : usual; }, 15, random, 0.03);
    CHECK(done.legs > 5);
    CHECK(done.untouched > 10);
  }
}

TEST_CASE("Runs with transitions agree with the rule", "[random]") {
  for (unsigned round = 0; round < 4; ++round) {
    std::mt19937 random(1100 + round);
    CAPTURE(round);
    const auto ground = slope(300);
    std::uniform_real_distribution<double> wobble(-0.6, 0.6);
    works::Run run;
    Vec2 at{60, 150};
    double heading = 0;
    run.line.push_back(at);
    for (int k = 0; k < 6; ++k) {
      at = at + 30.0 * Vec2{std::cos(heading), std::sin(heading)};
      run.line.push_back(at);
      heading += wobble(random);
    }
    run.levels = {{0, 51}, {60, 55}, {180, 50}};
    run.curves = {{60, 40}};
    const Section a{works::legOut(3, 2.5), works::legBy(-0.5, 1.5), works::legOut(0.5, 0), works::legToGround(2, 2)};
    const Section b{works::legOut(5, 4), works::legBy(-1, 2), works::legOut(1.5, 0), works::legToGround(1.5, 3)};
    run.left = along(a);
    run.right = {{40, {{}, a}}, {110, {{}, b}}};
    run.ends = works::RunEnds::open;
    const auto placed = works::place(run, *ground, {}, {});
    const works::Grades grades(run.levels, run.curves);
    std::vector<double> stations{0};
    for (std::size_t i = 1; i < run.line.size(); ++i)
      stations.push_back(stations.back() + plane::distance(run.line[i - 1], run.line[i]));
    const auto stationOf = [&](std::size_t e, double t) { return stations[e] + t * (stations[e + 1] - stations[e]); };
    std::vector<CrestSample> crest = sampled(
        run.line, false, 0.05, [&](std::size_t e, double t) { return grades.level(stationOf(e, t)); },
        [&](std::size_t e, double t) { return *works::sectionAt(run.right, stationOf(e, t)); });
    const std::vector<Vec2> back(run.line.rbegin(), run.line.rend());
    const std::size_t edges = run.line.size() - 1;
    for (CrestSample& s : sampled(
             back, false, 0.05, [&](std::size_t e, double t) { return grades.level(stationOf(edges - 1 - e, 1 - t)); },
             [&](auto, auto) { return a; }))
      crest.push_back(std::move(s));
    // Square ends: nothing where an end is the nearest.
    const auto beyond = [&](Vec2 p) {
      double best = 1e300;
      bool end = false;
      for (std::size_t e = 0; e < edges; ++e) {
        const auto near = plane::nearestOnSegment(p, run.line[e], run.line[e + 1]);
        if (near.distance >= best) continue;
        best = near.distance;
        end = (e == 0 && near.along < 1e-9) || (e + 1 == edges && near.along > 1 - 1e-9);
      }
      return end;
    };
    const Rule rule(std::move(crest));
    const auto done = compare(*ground, placed, rule, boxOf(run.line, 14), beyond, random, 0.04);
    CHECK(done.legs > 10);
    CHECK(done.batters > 3);
  }
}

TEST_CASE("Benched batters agree with the rule", "[random]") {
  for (unsigned round = 0; round < 6; ++round) {
    std::mt19937 random(1200 + round);
    CAPTURE(round);
    const auto ground = gridGround(200, 10, [](double x, double) { return 50 + 0.02 * x; });
    works::Pad pad;
    pad.outline = randomStar(random, {100, 100}, 12, 28, 4 + static_cast<int>(random() % 8));
    pad.level = round % 2 ? 61 : 43;
    Leg batter = works::legToGround(1.5, 2);
    batter.bench = works::Bench{3, 2, round < 3 ? 2.0 : -2.0};
    pad.section = along({batter});
    const auto done = comparePad(
        pad, *ground, [&](auto, auto) { return pad.level; }, [&](auto) { return Section{batter}; }, 25, random);
    CHECK(done.batters > 20);
  }
}

TEST_CASE("Benched batters agree with the rule where they overlap, in bays and beside falling crests", "[random]") {
  for (unsigned round = 0; round < 6; ++round) {
    std::mt19937 random(1250 + round);
    CAPTURE(round);
    const auto ground = gridGround(200, 10, [](double x, double) { return 50 + 0.02 * x; });
    works::Pad pad;
    // Bays whose sides face each other, and whose ends are round.
    const int n = 40 + 20 * static_cast<int>(round);
    for (int i = 0; i < n; ++i) {
      const double a = 2 * 3.14159265358979 * i / n, r = 24 + 7 * std::sin(3 * a + round);
      pad.outline.push_back({100 + r * std::cos(a), 100 + r * std::sin(a)});
    }
    pad.level = round % 2 ? 58 : 45;
    const bool falls = round >= 4;
    if (falls) pad.top = works::PadTop::tilted, pad.fall = 1.5, pad.bearing = 70;
    Leg batter = works::legToGround(1.5, 1.5);
    batter.bench = works::Bench{2, 1.5, round % 3 == 0 ? 3.0 : -3.0};
    pad.section = along({batter});
    const Vec2 middle = plane::centroid(pad.outline);
    const double b = pad.bearing * 3.14159265358979 / 180;
    const auto levelAt = [&](std::size_t e, double t) {
      const Vec2 from = pad.outline[e], p = from + t * (pad.outline[(e + 1) % pad.outline.size()] - from);
      return falls ? pad.level - 0.015 * ((p.x - middle.x) * std::sin(b) + (p.y - middle.y) * std::cos(b)) : pad.level;
    };
    const auto done = comparePad(
        pad, *ground, levelAt, [&](auto) { return Section{batter}; }, 20, random, 0.012);
    CHECK(done.batters > 20);
  }
}

TEST_CASE("Corners in the middle of sides change nothing, whatever lies over what", "[random]") {
  for (unsigned round = 0; round < 24; ++round) {
    std::mt19937 random(round);
    CAPTURE(round);
    const auto ground = gridGround(200, 10, [](double x, double) { return 50 + 0.02 * x; });
    works::Pad pad;
    pad.outline = randomStar(random, {100, 100}, 10, 28, 4 + static_cast<int>(random() % 9));
    pad.level = round % 2 ? 60 : 43;
    const bool square = round % 5 != 4, benched = round % 7 != 6;
    if (square) pad.batters.corners = works::CornerStyle::square;
    pad.top = works::PadTop::tilted, pad.fall = 3, pad.bearing = 50;
    Leg batter = works::legToGround(1.5, 1.5);
    if (benched) batter.bench = works::Bench{2, 1.5, round % 4 < 2 ? 3.0 : -3.0};
    pad.section = along({batter});
    works::Pad more = pad;
    more.outline.clear();
    for (std::size_t i = 0; i < pad.outline.size(); ++i) {
      const Vec2 a = pad.outline[i], b = pad.outline[(i + 1) % pad.outline.size()];
      for (const double t : {0.0, 0.25, 0.5}) more.outline.push_back(a + t * (b - a));
    }
    const auto one = works::place(pad, *ground, {}, {}), two = works::place(more, *ground, {}, {});
    std::uniform_real_distribution<double> place(60, 140);
    for (int i = 0; i < 4000; ++i) {
      const Vec2 p{place(random), place(random)};
      const auto a = one.facets->levelAt(p), b = two.facets->levelAt(p);
      if (a && b) {
        CHECK(std::abs(*a - *b) < 1e-5);
      } else if (a || b) {
        // At the very edge of daylight.
        CHECK(std::abs((a ? *a : *b) - *ground->levelAt(p)) < 1e-3);
      }
    }
  }
}

namespace {

// The rule for a tilted pad with square corners, whose legs and batter are the same all round. At an outward corner,
// square to neither of its sides, the legs part on the bisector, and of the batters, each prolonged, the lower counts.
struct SquareRule {
  struct Side {
    Vec2 from, along, out;
    double length;
  };
  std::vector<Side> sides;
  double sign = 1;                            // of fill; of cut, heights are levels turned
  std::function<double(Vec2)> top;            // its plane
  double legs = 0;                            // how wide they are
  std::function<double(double)> leg, batter;  // what is above the crest, by the distance from it

  SquareRule(const plane::Ring& ring) {
    for (std::size_t i = 0; i < ring.size(); ++i) {
      const Vec2 a = ring[i], b = ring[(i + 1) % ring.size()], along = plane::unit(b - a);
      sides.push_back({a, along, plane::rightOf(along), plane::distance(a, b)});
    }
  }
  const Side& side(std::size_t i) const { return sides[i % sides.size()]; }
  double out(std::size_t i, Vec2 p) const { return plane::dot(p - side(i).from, side(i).out); }
  double along(std::size_t i, Vec2 p) const { return plane::dot(p - side(i).from, side(i).along); }
  double turn(std::size_t i) const {
    return std::atan2(plane::cross(side(i).along, side(i + 1).along), plane::dot(side(i).along, side(i + 1).along));
  }
  double height(std::size_t i, Vec2 p, const std::function<double(double)>& profile) const {
    const double d = out(i, p);
    return sign * top(p - d * side(i).out) + profile(d);
  }
  // How much longer than side i what lies so far out is, after it.
  double more(std::size_t i, double d) const { return d * std::tan(turn(i) / 2); }

  // Nothing where no leg is.
  std::optional<double> legAt(Vec2 p) const {
    double nearest = 1e300;
    std::size_t at = 0;
    for (std::size_t i = 0; i < sides.size(); ++i) {
      const auto near = plane::nearestOnSegment(p, side(i).from, side(i + 1).from);
      if (near.distance > nearest - 1e-12) continue;
      nearest = near.distance, at = i;
      if (near.along > 1 - 1e-12 && out(i + 1, p) > out(i, p)) at = i + 1;
      if (near.along < 1e-12 && out(i + sides.size() - 1, p) > out(i, p)) at = i + sides.size() - 1;
    }
    return out(at, p) > legs ? std::nullopt : std::optional(height(at, p, leg));
  }
  double batterAt(Vec2 p) const {
    double highest = -1e300;
    for (std::size_t i = 0; i < sides.size(); ++i) {
      const double start = -more(i + sides.size() - 1, legs), end = side(i).length + more(i, legs);
      if (out(i, p) > legs && along(i, p) >= start && along(i, p) <= end)
        highest = std::max(highest, height(i, p, batter));
      if (turn(i) > 0 && along(i, p) > end && along(i + 1, p) < -more(i, legs) &&
          std::max(out(i, p), out(i + 1, p)) > legs)
        highest = std::max(highest, std::min(height(i, p, batter), height(i + 1, p, batter)));
    }
    return highest;
  }
};

}  // namespace

TEST_CASE("Legs and batters of tilted pads with square corners agree with the rule, benched or not", "[random]") {
  const auto ground = gridGround(200, 10, [](double x, double) { return 50 + 0.02 * x; });
  for (unsigned round = 0; round < 12; ++round) {
    std::mt19937 random(400 + round);
    CAPTURE(round);
    works::Pad pad;
    // Beside blunt corners the line in which planes meet may lead over what lies square to one of them.
    const auto isBlunt = [](const SquareRule& rule) {
      for (std::size_t i = 0; i < rule.sides.size(); ++i) {
        if (std::abs(rule.turn(i)) < 0.35) return true;
      }
      return false;
    };
    do pad.outline = randomStar(random, {100, 100}, 12, 26, 4 + static_cast<int>(random() % 5));
    while (isBlunt(SquareRule(pad.outline)));
    const bool legs = round % 3 != 0, benched = round % 4 < 2;
    SquareRule rule(pad.outline);
    rule.sign = round % 2 ? 1 : -1;
    pad.batters.corners = works::CornerStyle::square;
    pad.top = works::PadTop::tilted, pad.level = round % 2 ? 60 : 43, pad.fall = 3, pad.bearing = 37.0 * round;
    Leg batter = works::legToGround(1.5, 2);
    const double run = batter.run(rule.sign), fall = rule.sign * 2;
    if (benched) batter.bench = works::Bench{2, 1.5, fall};
    pad.section = legs ? along({works::legOut(1.5, 2), works::legBy(-0.4, 1.5), batter}) : along({batter});
    const double bearing = pad.bearing * 3.14159265358979 / 180;
    const Vec2 middle = plane::centroid(pad.outline), down{std::sin(bearing), std::cos(bearing)};
    rule.top = [&](Vec2 p) { return pad.level - 0.03 * plane::dot(p - middle, down); };
    rule.legs = legs ? 2.1 : 0;
    rule.leg = [&](double d) { return rule.sign * (d < 1.5 ? -0.02 * d : -0.03 - (d - 1.5) / 1.5); };
    rule.batter = [&](double d) {
      const double from = legs ? rule.sign * -0.43 : 0, own = d - rule.legs;
      if (!benched || own < 0) return from - own / run;
      const double each = 2 * run + 1.5, steps = std::floor(own / each), rest = own - steps * each;
      return from - steps * (2 + 0.02 * 1.5) - std::min(rest / run, 2.0) - 0.02 * std::max(0.0, rest - 2 * run);
    };
    const auto placed = works::place(pad, *ground, {}, {});
    std::uniform_real_distribution<double> place(50, 150);
    int legsSeen = 0, battersSeen = 0;
    for (int i = 0; i < 5000; ++i) {
      const Vec2 p{place(random), place(random)};
      const auto got = placed.facets->levelAt(p);
      if (!got || plane::contains(pad.outline, p)) continue;
      const auto leg = rule.legAt(p);
      CAPTURE(p.x, p.y, leg.has_value());
      // A step of up to 2 mm between two sides is made even, at every leg.
      CHECK(std::abs(rule.sign * *got - leg.value_or(rule.batterAt(p))) < 4e-3);
      ++(leg ? legsSeen : battersSeen);
    }
    CHECK(battersSeen > 400);
    CHECK((!legs || legsSeen > 50));
  }
}

TEST_CASE("Working space beyond a top that is no plane prolongs the level lines of its sides in square corners",
          "[random]") {
  const auto ground = gridGround(200, 10, [](double x, double) { return 50 + 0.02 * x; });
  for (unsigned round = 0; round < 8; ++round) {
    std::mt19937 random(700 + round);
    CAPTURE(round);
    std::uniform_real_distribution<double> shift(-4, 4), level(58, 62), place(70, 130);
    works::Pad pad;
    for (const Vec2 p : {Vec2{85, 88}, Vec2{118, 86}, Vec2{112, 109}})
      pad.outline.push_back(p + Vec2{shift(random), shift(random)});
    pad.top = works::PadTop::corners;
    for (std::size_t i = 0; i < 3; ++i) pad.cornerLevels.push_back(level(random));
    pad.batters.corners = works::CornerStyle::square;
    pad.space = 2.5;
    pad.section = along({});  // walls
    const auto placed = works::place(pad, *ground, {}, {});
    int seen = 0;
    for (int i = 0; i < 4000; ++i) {
      const Vec2 p{place(random), place(random)};
      // The side it lies farthest beyond, and by how much farther than beyond the others.
      double out = -1e9, next = -1e9, expected = 0;
      for (std::size_t k = 0; k < 3; ++k) {
        const Vec2 a = pad.outline[k], b = pad.outline[(k + 1) % 3], side = plane::unit(b - a);
        const double beyond = -plane::cross(side, p - a);
        if (beyond > out) {
          const double part = plane::dot(side, p - a) / plane::distance(a, b);
          next = out, out = beyond;
          expected = pad.cornerLevels[k] + part * (pad.cornerLevels[(k + 1) % 3] - pad.cornerLevels[k]);
        } else {
          next = std::max(next, beyond);
        }
      }
      if (out < 0.01 || out > pad.space - 0.01 || out - next < 0.02) continue;
      const auto got = placed.facets->levelAt(p);
      CAPTURE(p.x, p.y);
      REQUIRE(got);
      CHECK(*got == Approx(expected).margin(1e-6));
      ++seen;
    }
    CHECK(seen > 150);
  }
}

TEST_CASE("Edges with slopes of their own meet at round corners, and inwards where the flatter goes round",
          "[random]") {
  const auto ground = gridGround(200, 10, [](double x, double) { return 50 + 0.02 * x; });
  for (unsigned round = 0; round < 10; ++round) {
    std::mt19937 random(600 + round);
    CAPTURE(round);
    works::Pad pad;
    // An even number, so that all slopes beside each other differ.
    pad.outline = randomStar(random, {100, 100}, 12, 26, 4 + 2 * static_cast<int>(random() % 3));
    const double sign = round % 2 ? 1 : -1;
    const bool benched = round % 5 == 4;
    pad.level = round % 2 ? 60 : 43;
    const auto runOf = [](std::size_t edge) { return edge % 2 ? 1.5 : 2.6; };
    for (std::size_t e = 0; e < pad.outline.size(); ++e) {
      Leg leg = works::legToGround(runOf(e), runOf(e));
      if (benched) leg.bench = works::Bench{2, 1.5, 0};
      pad.edges.push_back({e, {{}, {leg}}});
    }
    const auto height = [&](double d, double run) {
      if (!benched) return sign * pad.level - d / run;
      const double each = 2 * run + 1.5, steps = std::floor(d / each);
      return sign * pad.level - 2 * steps - std::min((d - steps * each) / run, 2.0);
    };
    const auto rule = [&](Vec2 p) {
      double highest = -1e300;
      const std::size_t n = pad.outline.size();
      for (std::size_t e = 0; e < n; ++e) {
        const Vec2 a = pad.outline[e], b = pad.outline[(e + 1) % n], c = pad.outline[(e + 2) % n];
        const Vec2 along = plane::unit(b - a), next = plane::unit(c - b), out = plane::rightOf(along);
        const double t = plane::dot(p - a, along), d = plane::dot(p - a, out), far = plane::distance(p, b);
        const bool beyond = plane::dot(p - b, along) > 0, before = plane::dot(p - b, next) < 0;
        if (d > 0 && t >= 0 && t <= plane::distance(a, b)) highest = std::max(highest, height(d, runOf(e)));
        if (plane::cross(along, next) < 0) {
          if (beyond) highest = std::max(highest, height(far, runOf(e)));
          if (before) highest = std::max(highest, height(far, runOf(e + 1)));
        } else if (beyond && before) {
          const auto angle = [&](Vec2 to) { return std::atan2(plane::cross(out, to), plane::dot(out, to)); };
          const double part = angle(p - b) / angle(plane::rightOf(next));
          highest = std::max(highest, height(far, runOf(e) + part * (runOf(e + 1) - runOf(e))));
        }
      }
      return highest;
    };
    const auto placed = works::place(pad, *ground, {}, {});
    std::uniform_real_distribution<double> place(50, 150);
    int seen = 0;
    for (int i = 0; i < 5000; ++i) {
      const Vec2 p{place(random), place(random)};
      const auto got = placed.facets->levelAt(p);
      if (!got || plane::contains(pad.outline, p)) continue;
      CAPTURE(p.x, p.y);
      CHECK(std::abs(sign * *got - rule(p)) < 6e-3);
      ++seen;
    }
    CHECK(seen > 800);
  }
}

TEST_CASE("Facets of benches in round bays grow with the corners, not with their pairs") {
  const auto ground = gridGround(300, 12, [](double, double) { return 60.0; });
  const auto facets = [&](int n) {
    works::Pad pad;
    for (int i = 0; i < n; ++i) {
      const double a = 2 * 3.14159265358979 * i / n, r = 45 * (1 + 0.12 * std::sin(5 * a));
      pad.outline.push_back({150 + r * std::cos(a), 150 + r * std::sin(a)});
    }
    pad.level = 50;
    pad.section = {{0, works::parsedSection("to ground 2:1, bench every 2 by 1 at 2 %")}};
    return static_cast<double>(works::place(pad, *ground, {}, {}).facets->triangles().size());
  };
  CHECK(facets(1200) < 4.5 * facets(300));
}

TEST_CASE(
    "A bank round a bend has the volume of its section carried along, however near its slopes come to the centre") {
  // A deep place far off makes batters look far out; the rays of the inner side all meet in the centre.
  const auto ground = gridGround(200, 20, [](double x, double y) { return x < 25 && y < 25 ? 20.0 : 50.0; });
  constexpr double height = 4, angle = 3.6;
  for (const double radius : {8.3, 12.0, 20.0}) {
    for (const int parts : {40, 300, 1500}) {
      CAPTURE(radius, parts);
      works::Run run;
      for (int i = 0; i <= parts; ++i) {
        const double a = angle * i / parts;
        run.line.push_back(Vec2{100, 100} + radius * Vec2{std::cos(a), std::sin(a)});
      }
      run.levels = {{0, 50 + height}};
      const auto placed = works::place(run, *ground, {}, {});
      const auto after = ground::stamp(*ground, *placed.facets, {});
      const auto volume = quantity::volumeBetween(*ground, *after, {}, {});
      // By the middle of its section, as a body of revolution; on the chords, with round corners outside.
      const double slope = 2, area = slope * height * height, half = angle / parts / 2;
      const double chords = 2 * radius * std::sin(half) * parts;
      const double corner = 2 * half * (parts - 1);  // of all turns
      const double reach = slope * height;
      const double outside = chords * area / 2 + corner * area / 2 * reach / 3;
      const double inside = chords * area / 2 - 2 * std::tan(half) * (parts - 1) * area / 2 * reach / 3;
      CHECK(volume.fill == Approx(outside + inside).epsilon(2e-4));
      CHECK(volume.cut < 1e-6);
    }
  }
}

TEST_CASE("The crest of a ramp is the edge of its top, whichever way it runs", "[random]") {
  const auto ground = gridGround(200, 8, [](double, double) { return 40; });
  for (int round = 0; round < 40; ++round) {
    CAPTURE(round);
    const double a = 0.157 * round, length = 80;
    works::Ramp ramp;
    const Vec2 along{std::cos(a), std::sin(a)};
    ramp.axis = {Vec2{100, 100} - 0.5 * length * along, Vec2{100, 100} + 0.5 * length * along};
    ramp.from = 50, ramp.to = 42, ramp.width = 6;
    const auto placed = works::place(ramp, *ground, {}, {});
    double crest = 0;
    for (const works::Line3& line : placed.crests) {
      for (std::size_t i = 0; i + (line.closed ? 0 : 1) < line.points.size(); ++i)
        crest += plane::distance(line.points[i].plan(), line.points[(i + 1) % line.points.size()].plan());
    }
    CHECK(crest == Approx(2 * (length + ramp.width)).margin(1e-3));
  }
}

TEST_CASE("A batter that runs out of ground is told with the slope that stays on it") {
  const auto ground = gridGround(100, 10, [](double, double) { return 50; });
  works::Pad pad{rectangle(60, 40, 94, 60), 54, {}};
  const auto told = [&] {
    std::string all;
    for (const auto& doubt : works::place(pad, *ground, {}, {}).doubts) all += doubt.text;
    return all;
  };
  // 6 m to the edge, 4 m high.
  CHECK(told().find("a slope of 1.50:1") != std::string::npos);
  pad.section = along({works::legToGround(1.49, 1.49)});
  CHECK(told().empty());
}

TEST_CASE("A ramp that joins what is there follows it, and its greatest grade governs") {
  const auto land = gridGround(200, 10, [](double, double) { return 50; });
  works::Ramp ramp;
  ramp.axis = {{60, 100}, {100, 100}};
  ramp.from = 50, ramp.to = 53;
  const auto figure = [](const works::Placement& placed, const char* name) {
    for (const auto& f : placed.figures) {
      if (f.name == name) return f.value;
    }
    return std::nan("");
  };
  ramp.toJoins = true;
  for (const double level : {52.0, 56.0}) {
    const auto pad = works::place(works::Pad{rectangle(100, 80, 140, 120), level, {}}, *land, {}, {});
    const auto ground = ground::stamp(*land, *pad.facets, {});
    ramp.axis.back().x = 100.01;  // on the pad
    ramp.greatest = 0;
    auto placed = works::place(ramp, *ground, {}, {});
    CHECK(figure(placed, "to_level_m") == Approx(level));
    CHECK(figure(placed, "grade_percent") == Approx(-100 * (level - 50) / 40.01));
    CHECK(placed.doubts.empty());
    ramp.greatest = 8;
    placed = works::place(ramp, *ground, {}, {});
    const double reached = std::min(level, 50 + 0.08 * 40.01);
    CHECK(figure(placed, "to_level_m") == Approx(reached));
    CHECK(placed.doubts.size() == (reached < level ? 1 : 0));
    if (reached < level) CHECK(figure(placed, "missing_m") == Approx(level - reached));
  }
  // Off the ground its own level stands by.
  ramp.axis = {{60, 100}, {210, 100}};
  CHECK(figure(works::place(ramp, *land, {}, {}), "to_level_m") == Approx(53));
}

TEST_CASE("What is placed does not depend on how many cores there are") {
  std::mt19937 random(31);
  const auto hills = randomHills(random, 6);
  const auto ground = scatteredGround(220, 6000, random, hills);
  plane::Ring outline;
  for (int i = 0; i < 120; ++i) {
    const double a = 2 * 3.14159265358979 * i / 120, r = 45 * (1 + 0.12 * std::sin(5 * a));
    outline.push_back({110 + r * std::cos(a), 110 + r * std::sin(a)});
  }
  works::Pad pad{outline, hills(110, 110) + 1, {}};
  pad.top = works::PadTop::tilted, pad.fall = 2, pad.bearing = 70;
  pad.section = {{0, works::parsedSection("out 1.5 at 2 %; to ground 2:1, bench every 2 by 1 at 2 %")}};
  works::Pond pond;
  pond.outline = outline, pond.bottom = hills(110, 110) - 2, pond.top = pond.bottom + 3, pond.crest = 2;
  for (const works::Shape& shape : {works::Shape(pad), works::Shape(pond)}) {
    const works::Placement many = works::place(shape, *ground, {}, {});
    const tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);
    const works::Placement alone = works::place(shape, *ground, {}, {});
    REQUIRE(many.facets->points().size() == alone.facets->points().size());
    CHECK(std::ranges::equal(many.facets->triangles(), alone.facets->triangles()));
    CHECK(std::ranges::equal(many.facets->points(), alone.facets->points()));
    CHECK(many.kinds == alone.kinds);
    CHECK(many.doubts.size() == alone.doubts.size());
  }
}

TEST_CASE("Nothing rises from the steps of a surface that is set in") {
  // Four plates around a point, each at its own level, with an open square among them.
  const auto land = gridGround(200, 10, [](double, double) { return 50; });
  std::mt19937 random(8);
  std::uniform_real_distribution<double> level(50.5, 53), x(70, 130);
  const std::array<plane::Box, 4> plates{plane::Box{80, 80, 110, 96}, plane::Box{110, 80, 120, 110},
                                         plane::Box{92, 110, 120, 120}, plane::Box{80, 96, 92, 120}};
  ground::TinParts parts;
  std::array<double, 4> levels;
  for (std::size_t k = 0; k < plates.size(); ++k) {
    levels[k] = level(random);
    const auto first = static_cast<ground::Index>(parts.points.size());
    for (const Vec2 p : plane::cornersOf(plates[k])) parts.points.push_back({p.x, p.y, levels[k]});
    parts.triangles.push_back({first, first + 1, first + 2});
    parts.triangles.push_back({first, first + 2, first + 3});
  }
  works::Inlay inlay;
  inlay.ground = {"plates", std::make_shared<ground::Tin>(std::move(parts))};
  inlay.section = {{0, works::parsedSection("out 1.5 at 4 %; to ground 2:1")}};
  const auto placed = works::place(inlay, *land, {}, {});
  const auto after = ground::stamp(*land, *placed.facets, {});
  int compared = 0;
  for (int i = 0; i < 4000; ++i) {
    const Vec2 p{x(random), x(random)};
    const auto away = [&](std::size_t k) {
      const plane::Box& b = plates[k];
      return std::hypot(std::max({b.minX - p.x, 0.0, p.x - b.maxX}), std::max({b.minY - p.y, 0.0, p.y - b.maxY}));
    };
    std::array<std::size_t, 4> order{0, 1, 2, 3};
    std::ranges::sort(order, {}, away);
    // Where two are as near the level steps; among the plates several batters meet.
    const double d = away(order[0]);
    if (away(order[1]) - d < 0.01 || std::abs(d - 1.5) < 0.01) continue;
    if (d > 0 && plane::Box{92, 96, 110, 110}.contains(p)) continue;
    double expected = levels[order[0]];
    if (d > 0) expected = d < 1.5 ? expected - 0.04 * d : std::max(50.0, expected - 0.06 - (d - 1.5) / 2);
    // A higher plate's batter comes over beside the end of a step.
    if (d > 1.5 && away(order[1]) < 1.5 + 2 * (levels[order[1]] - 50)) continue;
    CAPTURE(p.x, p.y, d, levels[order[0]]);
    CHECK(*after->levelAt(p) == Approx(expected).margin(2e-3));
    ++compared;
  }
  CHECK(compared > 2000);
}
