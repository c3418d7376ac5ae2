// Strips, undercuts and build-ups against their rules and closed forms.
#include <catch2/catch.hpp>

#include <numbers>
#include <numeric>
#include <set>

#include "base/error.h"
#include "ground/clip.h"
#include "plane/inside.h"
#include "project/stage_paths.h"
#include "support/stages.h"
#include "works/pit_depths.h"
#include "works/undercut.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;
using project::Role;

namespace {

const Level kLevelLand = [](double, double) { return 50.0; };
const Level kSlope = [](double x, double y) { return 50 + 0.05 * x - 0.02 * y; };

const std::string kPad =
    R"({"kind": "pad", "name": "A", "outline": [[60, 60], [100, 60], [100, 80], [60, 80]], "level": )";

std::string padAt(double level, const std::string& more = "") {
  return kPad + std::to_string(level) + more + "}";
}

double sq(double a) {
  return a * a;
}

}  // namespace

TEST_CASE("A strip takes its depth off inside its outline and not in what is left out") {
  const auto s = staged(R"({"strips": [{"name": "Topsoil", "outline": [[20, 20], [120, 20], [120, 100], [20, 100]],
    "except": [[[40, 40], [60, 40], [60, 60], [40, 60]]], "depth": 0.3, "material": "topsoil"}],
    "materials": [{"name": "topsoil", "bulking": 0.25, "shrinkage": 0.1, "usable": 0}]})",
                        kSlope);
  const auto& strip = s.quantities.whole.strips.at(0);
  CHECK(strip.area == Approx(100 * 80 - 400).epsilon(1e-9));
  CHECK(strip.volume == Approx(0.3 * 7600).epsilon(1e-9));
  CHECK(strip.loose == Approx(0.3 * 7600 * 1.25).epsilon(1e-9));
  CHECK(s.quantities.whole.strip == strip.volume);
  CHECK(s.level(Role::stripped, {30, 30}) == Approx(kSlope(30, 30) - 0.3));
  CHECK(s.level(Role::stripped, {50, 50}) == Approx(kSlope(50, 50)));
  CHECK(s.level(Role::stripped, {10, 30}) == Approx(kSlope(10, 30)));
  CHECK(s.level(Role::finished, {30, 30}) == Approx(kSlope(30, 30) - 0.3));
  // Nothing of it can be filled with, and nothing is needed.
  CHECK(s.quantities.whole.available == 0);
  CHECK(s.quantities.whole.exported == Approx(strip.volume));
  REQUIRE(s.evaluation->seams.size() == 2);
  CHECK(s.evaluation->seams[0].volume->cut == Approx(strip.volume).epsilon(1e-9));
}

TEST_CASE("Where strips overlap the deeper rules once and is told and of equals the first") {
  const auto s = staged(R"({"strips": [
    {"name": "A", "outline": [[20, 20], [60, 20], [60, 60], [20, 60]], "depth": 0.2},
    {"name": "B", "outline": [[40, 20], [80, 20], [80, 60], [40, 60]], "depth": 0.3},
    {"name": "C", "outline": [[70, 20], [90, 20], [90, 60], [70, 60]], "depth": 0.3}]})",
                        kSlope);
  const auto& strips = s.quantities.whole.strips;
  CHECK(strips[0].volume == Approx(0.2 * 20 * 40).epsilon(1e-9));
  CHECK(strips[1].volume == Approx(0.3 * 40 * 40).epsilon(1e-9));
  CHECK(strips[2].volume == Approx(0.3 * 10 * 40).epsilon(1e-9));
  const auto& doubts = s.ground(Role::stripped).doubts;
  CHECK(std::count_if(doubts.begin(), doubts.end(),
                      [](const auto& d) { return d.kind == ground::DoubtKind::stripsOverlap; }) == 1);
}

TEST_CASE("Strips whose depths change leave what they would from nothing", "[random]") {
  const std::string design = R"({
    "works": [{"kind": "pad", "name": "A", "outline": [[40,40],[80,42],[82,75],[41,70]], "level": 51},
              {"kind": "pad", "name": "B", "outline": [[70,90],[140,90],[140,120],[70,120]], "level": 50}],
    "strips": [{"outline": [[10,10],[120,10],[120,150],[10,150]], "except": [[[20,20],[30,20],[30,35]]], "depth": 0.2},
               {"outline": [[60,30],[180,40],[170,130],[50,100]], "depth": 0.3}, {"under": ["B"], "depth": 0.4}],
    "undercuts": [{"under": ["A"], "depth": 1, "wider": 0.5}],
    "buildups": [{"over": ["A", "B"], "part": "top", "layers": [{"thickness": 0.3}]},
                 {"over": ["B"], "part": "batters", "slope_true": true, "layers": [{"thickness": 0.1}]}],
    "regions": [{"outline": [[0,0],[95,0],[95,110],[0,110]]}]})";
  std::mt19937 random(12);
  std::uniform_real_distribution<double> depth(0.05, 0.6), place(1, 199);
  auto project = siteWith(design, randomHills(random, 4));
  project::Cache cache;
  report::QuantityCache known;
  for (int round = 0; round < 8; ++round) {
    CAPTURE(round);
    project::Stages stages = project->stages;
    for (works::Strip& strip : stages.strips) strip.depth = round == 5 ? 0.3 : depth(random);
    if (round == 6) stages.strips[0].outline[1].x += 20;
    project = project::withStages(*project, stages);
    project::Cache none;
    const auto kept = project::evaluate(project, cache, {}), anew = project::evaluate(project, none, {});
    for (std::size_t g = 0; g < anew->grounds.size(); ++g) {
      const ground::Tin& tin = *kept->grounds[g].tin;
      CHECK(std::ranges::equal(tin.neighbours(), ground::findNeighbours(tin.points().size(), tin.triangles())));
      std::set<ground::Index> used;
      for (const ground::Triangle& t : tin.triangles()) used.insert(t.begin(), t.end());
      CHECK(used.size() == tin.points().size());
      for (int i = 0; i < 300; ++i) {
        const Vec2 p{place(random), place(random)};
        CHECK(*kept->grounds[g].levelAt(p) == Approx(*anew->grounds[g].levelAt(p)).margin(1e-9));
      }
    }
    const auto ofKept = report::quantitiesOf(*kept, known, {}), ofAnew = report::quantitiesOf(*anew, {});
    const auto same = [](double v) { return Approx(v).epsilon(1e-9); };
    for (std::size_t i = 0; i < 3; ++i) CHECK(ofKept.whole.strips[i].volume == same(ofAnew.whole.strips[i].volume));
    for (std::size_t i = 0; i < 2; ++i) CHECK(ofKept.regions[i].figures.strip == same(ofAnew.regions[i].figures.strip));
    CHECK(ofKept.whole.surplus() == same(ofAnew.whole.surplus()));
    CHECK(ofKept.whole.buildUp == same(ofAnew.whole.buildUp));
  }
}

TEST_CASE("Depths at pits are natural neighbours inside their hull and the nearest outside") {
  // A plane of depths is met to the letter inside the hull.
  const auto depth = [](double x, double y) { return 0.2 + 0.001 * x + 0.0005 * y; };
  std::string pits;
  std::vector<plane::Vec3> list;
  for (const Vec2 p : {Vec2{40, 40}, {120, 50}, {110, 130}, {50, 120}, {80, 90}}) {
    list.push_back({p.x, p.y, depth(p.x, p.y)});
    pits += (pits.empty() ? "[" : ", [") + std::to_string(p.x) + ", " + std::to_string(p.y) + ", " +
            std::to_string(depth(p.x, p.y)) + "]";
  }
  const auto s = staged(
      R"({"strips": [{"name": "T", "outline": [[20, 20], [150, 20], [150, 150], [20, 150]], "pits": [)" + pits + "]}]}",
      kSlope);
  const works::PitDepths rule(list);
  std::mt19937 random(3);
  std::uniform_real_distribution<double> place(21, 149);
  for (int i = 0; i < 2000; ++i) {
    const Vec2 p{place(random), place(random)};
    CHECK(kSlope(p.x, p.y) - s.level(Role::stripped, p) == Approx(rule.at(p)).margin(0.004));
  }
  CHECK(rule.at({80, 80}) == Approx(depth(80, 80)).margin(1e-9));
  CHECK(rule.at({40, 20}) == Approx(depth(40, 40)).margin(1e-9));
  double sum = 0;
  constexpr int kCells = 260;
  for (int j = 0; j < kCells; ++j) {
    for (int i = 0; i < kCells; ++i) sum += rule.at({20 + (i + 0.5) * 130 / kCells, 20 + (j + 0.5) * 130 / kCells});
  }
  CHECK(s.quantities.whole.strips[0].volume == Approx(sum * sq(130.0 / kCells)).epsilon(2e-3));
}

TEST_CASE("A strip under works covers their tops and legs and a margin with their corners") {
  const std::string square = R"(, "corners": "square", "section": [{"out": 2}, {"to_ground": {}}])";
  const auto s = staged(R"({"works": [)" + padAt(52, square) + R"(],
    "strips": [{"name": "T", "under": ["A"], "margin": 3, "depth": 0.25}]})",
                        kSlope);
  CHECK(s.quantities.whole.strips[0].area == Approx(50.0 * 30).epsilon(1e-6));
  CHECK(s.quantities.whole.strips[0].volume == Approx(0.25 * 50 * 30).epsilon(1e-6));
}

TEST_CASE("An undercut below a level pad is a bath and its dig stands apart from the bulk cut") {
  // Pad 1 m above ground: formation 51, bottom 2.5 m below at 48.5: 1.5 m below the ground.
  const std::string square = R"(, "corners": "square")";
  const auto s = staged(R"({"works": [)" + padAt(51, square) + R"(],
    "undercuts": [{"name": "U", "under": ["A"], "depth": 2.5, "wider": 1, "back_slope": "1:1"}]})",
                        kLevelLand);
  const double a = 42.0 * 22, b = 45.0 * 25, dig = 1.5 / 3 * (a + b + std::sqrt(a * b));
  // A prism with sloped sides is not a frustum of similar ends: by Simpson's rule it is exact.
  const double simpson = 1.5 / 6 * (a + b + 4 * 43.5 * 23.5);
  CHECK(dig == Approx(simpson).epsilon(1e-3));
  CHECK(s.quantities.whole.undercut == Approx(simpson).epsilon(1e-6));
  CHECK(s.quantities.whole.backfill == s.quantities.whole.undercut);
  CHECK(s.quantities.whole.undercuts[0].area == Approx(b).epsilon(1e-6));
  CHECK(s.level(Role::undercut, {80, 70}) == Approx(48.5));
  CHECK(s.level(Role::undercut, {59.5, 70}) == Approx(48.5));
  CHECK(s.level(Role::undercut, {58.5, 70}) == Approx(49).margin(1e-6));
  CHECK(s.level(Role::undercut, {50, 70}) == Approx(50));
  CHECK(s.quantities.whole.bulkCut == Approx(0).margin(1e-9));
  const double fill = 1.0 / 6 * (800 + 44.0 * 24 + 4 * 42 * 22);
  CHECK(s.quantities.whole.bulkFill == Approx(fill).epsilon(1e-6));
  CHECK(s.quantities.whole.import == Approx(fill + 0).epsilon(1e-6));
}

TEST_CASE("The bottom of an undercut goes on beyond round corners at the level of the top") {
  // Batters carry more than the top does, or less, and round corners are laid out finer the farther batters go from
  // them.
  const double onBatters = GENERATE(0.33, 0.05);
  const std::string bent =
      R"({"kind": "ramp", "name": "A", "from": [60, 60, 52], "to": [110, 110, 52], "via": [[105, 62]],
    "width": 6})";
  const std::string works =
      GENERATE_COPY(padAt(52, R"(, "space": 0.98, "section": [{"to_ground": {"cut": 2, "fill": 3}}])"), bent);
  const auto s = staged(R"({"works": [)" + works + R"(], "buildups": [
      {"name": "B", "over": ["A"], "part": "all", "layers": [{"name": "course", "thickness": 0.14}]},
      {"name": "S", "over": ["A"], "part": "batters", "layers": [{"name": "topsoil", "thickness": )" +
                            std::to_string(onBatters) + R"(}]}],
    "undercuts": [{"name": "U", "under": ["A"], "depth": 4, "wider": 1.6, "back_slope": 1}]})",
                        kLevelLand);
  const ground::Tin& dug = *s.ground(Role::undercut).tin;
  int atBottom = 0;
  for (const plane::Vec3& p : dug.points()) {
    if (p.z > 47.96) continue;
    CAPTURE(p.x, p.y);
    CHECK(p.z == Approx(52 - 0.14 - 4).margin(1e-6));
    ++atBottom;
  }
  CHECK(atBottom > 20);
}

TEST_CASE("An undercut below a square pad is the frustum it should be however much wider it is") {
  const double wider = GENERATE(0, 5e-4, 1.5e-3, 2.5e-3, 0.01, 0.2, 2.5);
  CAPTURE(wider);
  const auto s = staged(R"({"works": [)" + padAt(50, R"(, "corners": "square")") +
                            R"(], "undercuts": [{"name": "U", "under": ["A"], "depth": 1, "wider": )" +
                            std::to_string(wider) + "}]}",
                        kLevelLand);
  const double w = 40 + 2 * wider, h = 20 + 2 * wider;
  CHECK(s.quantities.whole.undercut ==
        Approx(1.0 / 6 * (w * h + (w + 2) * (h + 2) + 4 * (w + 1) * (h + 1))).epsilon(1e-6));
}

TEST_CASE("An undercut that is sloped back beyond the border of the ground is dug under all of its works") {
  // The strip under the pad leaves a closed wall around it.
  const auto s = staged(R"({"works": [)" + padAt(50, R"(, "section": [])") + R"(],
    "strips": [{"name": "T", "under": ["A"], "margin": 2, "depth": 0.3}],
    "undercuts": [{"name": "U", "under": ["A"], "depth": 5, "back_slope": 30, "below": "stripped"}]})",
                        kLevelLand);
  CHECK(s.level(Role::undercut, {80, 70}) == Approx(44.7));
  CHECK(s.level(Role::undercut, {61, 79}) == Approx(44.7));
  CHECK(s.level(Role::undercut, {80, 95}) == Approx(44.7 + 0.5));
  CHECK(s.level(Role::undercut, {80, 199}) == Approx(44.7 + 119.0 / 30));
}

TEST_CASE("The bottom of an undercut goes on at the level of the nearest place of the top in square corners as well") {
  const auto s =
      staged(R"({"works": [)" + padAt(50, R"(, "fall_percent": 4, "bearing_deg": 60, "corners": "square")") + R"(],
    "undercuts": [{"name": "U", "under": ["A"], "depth": 6, "wider": 3, "back_slope": 1}]})",
             kLevelLand);
  const double east = -0.04 * std::sin(std::numbers::pi / 3), north = -0.04 * std::cos(std::numbers::pi / 3);
  const auto bottom = [&](double x, double y) {
    return 44 + east * (std::clamp(x, 60.0, 100.0) - 80) + north * (std::clamp(y, 60.0, 80.0) - 70);
  };
  for (const double x : {57.3, 58.6, 63.0, 81.0, 100.4, 102.7}) {
    for (const double y : {57.2, 59.9, 71.0, 81.3, 82.8}) {
      CAPTURE(x, y);
      CHECK(s.level(Role::undercut, {x, y}) == Approx(bottom(x, y)).margin(1e-5));
    }
  }
  // The back slopes meet where both are as high.
  for (const double beyond : {0.5, 2.0, 3.5}) {
    CHECK(s.level(Role::undercut, {103 + beyond, 83 + beyond}) == Approx(bottom(100, 80) + beyond).margin(1e-5));
    CHECK(s.level(Role::undercut, {103 + beyond, 82}) == Approx(bottom(100, 80) + beyond).margin(1e-5));
    CHECK(s.level(Role::undercut, {103 + beyond, 75}) == Approx(bottom(100, 75) + beyond).margin(1e-5));
  }
}

TEST_CASE("Where formation steps beneath works the bottom of their undercut steps with it") {
  const std::string cone = R"([{"to_ground": {"cut": 1, "fill": 1}}])";
  const std::string pad = R"({"kind": "pad", "name": "A", "outline": [[57.447, 64.493], [132.708, 53.916],
    [136.883, 83.624], [63.292, 106.084]], "level": 50.9, "section": )" +
                          cone + "}";
  // A slab ends where a ramp lies on the pad, lies within it, or ends at its corner; a narrower pad lies beside it.
  const std::string ramp = R"(, {"kind": "ramp", "name": "R", "from": [80.3, 61.33, 50.9], "to": [78.6, 38.86, 48.85],
    "width": 6, "joins": "both", "left": )" +
                           cone + R"(, "right": )" + cone + "}";
  const std::string beside = R"(, {"kind": "pad", "name": "B", "outline": [[65.2, 43.3], [90.4, 39.9], [93, 59.496467],
    [68, 63.009907]], "level": 50.3, "section": )" +
                             cone + "}";
  struct Case {
    std::string more, slabOver;
    double most;  // the level of most of formation
    bool two = false;
  };
  const std::string within = R"("outline": [[74, 64], [82, 63], [83, 70], [75, 71]])",
                    fromCorner = R"("outline": [[57.447, 64.493], [132.708, 53.916], [136.883, 83.624]])";
  const Case made = GENERATE_COPY(values<Case>({{ramp, R"("over": ["A"], "part": "top")", 50.4},
                                                {"", within, 50.9},
                                                {"", fromCorner, 50.9},
                                                {beside, within, 50.9, true}}));
  const std::string slab =
      R"({"name": "Slab", )" + made.slabOver + R"(, "layers": [{"name": "slab", "thickness": 0.5}]})";
  const std::string under = made.two ? R"(["A", "B"])" : R"(["A"])";
  const auto s = staged(R"({"works": [)" + pad + made.more + R"(], "buildups": [)" + slab +
                            R"(], "undercuts": [{"name": "U", "under": )" + under +
                            R"(, "depth": 1.2, "wider": 1, "back_slope": 1}]})",
                        kLevelLand);
  std::vector<Vec2> outline{{57.447, 64.493}, {132.708, 53.916}, {136.883, 83.624}, {63.292, 106.084}};
  if (made.two) outline.insert(outline.begin() + 1, {{68, 63.009907}, {65.2, 43.3}, {90.4, 39.9}, {93, 59.496467}});
  const auto nearest = [&](Vec2 p) {
    Vec2 best;
    double least = 1e9;
    for (std::size_t k = 0; k < outline.size(); ++k) {
      const Vec2 a = outline[k], b = outline[(k + 1) % outline.size()];
      const auto near = plane::nearestOnSegment(p, a, b);
      if (near.distance < least) least = near.distance, best = a + near.along * (b - a);
    }
    return std::pair(best, least);
  };
  const std::vector<plane::Polygon> area{{outline, {}}};
  const plane::Inside inside(area);
  std::mt19937 random(5);
  std::uniform_real_distribution<double> x(54, 96), y(38, 74);
  int compared = 0, stepped = 0;
  for (int i = 0; i < 8000; ++i) {
    const Vec2 p{x(random), y(random)};
    const auto [edge, distance] = nearest(p);
    if (distance < 0.01 || (!inside(p) && (distance > 3 || std::abs(distance - 1) < 0.01))) continue;
    // At the inward corners of two pads slopes overlap, and the lower governs.
    const bool inCorner = plane::distance(p, {68, 63}) < 4 || plane::distance(p, {93, 59.5}) < 4;
    if (made.two && !inside(p) && inCorner) continue;
    // Just inside the outline, where it is the nearest.
    const Vec2 at = inside(p) ? p : edge + 0.002 / distance * (edge - p);
    const auto formation = [&](Vec2 off) { return s.level(Role::formation, at + off); };
    // Not where it steps.
    const double level = formation({0, 0});
    if (std::abs(formation({0.02, 0}) - level) > 0.05 || std::abs(formation({-0.02, 0}) - level) > 0.05) continue;
    if (std::abs(formation({0, 0.02}) - level) > 0.05 || std::abs(formation({0, -0.02}) - level) > 0.05) continue;
    CAPTURE(p.x, p.y, distance);
    const double rise = inside(p) ? 0 : std::max(0.0, distance - 1);
    CHECK(s.level(Role::undercut, p) == Approx(std::min(50.0, level - 1.2 + rise)).margin(4e-3));
    ++compared, stepped += std::abs(level - made.most) > 0.1;
  }
  CHECK(compared > 1500);
  CHECK(stepped > 15);
  // Where steps come to the border nothing crowds.
  const ground::Tin& dug = *s.ground(Role::undercut).tin;
  int narrow = 0;
  for (const ground::Triangle& t : dug.triangles()) {
    for (std::size_t k = 0; k < 3; ++k) narrow += plane::distance(dug.plan(t[k]), dug.plan(t[(k + 1) % 3])) < 1e-4;
  }
  CHECK(narrow < 20);
}

TEST_CASE("Under a pad in cut only what lies below formation is undercut") {
  // Pad 2 m below ground in cut at 1:1; bottom 1 m below it, 0.5 m wider, back slope 1:1.
  const std::string square = R"(, "corners": "square", "section": [{"to_ground": {"cut": 1, "fill": 1}}])";
  const auto s = staged(R"({"works": [)" + padAt(48, square) + R"(],
    "undercuts": [{"name": "U", "under": ["A"], "depth": 1, "wider": 0.5, "back_slope": 1}]})",
                        kLevelLand);
  // At x beyond the side: undercut 47 to 0.5 m, then up 1:1; formation 48 + x. So 1 m at the side, rising to 0.5 + 1 at
  // 0.5 m, then even: formation lies 1.5 m above it up to the ground: 2 m; from there less.
  const auto below = [](double x) {
    const double u = x < 0.5 ? 47 : 47 + (x - 0.5), f = std::min(50.0, 48 + x);
    return std::max(0.0, std::min(50.0, f) - u);
  };
  for (const double x : {0.2, 0.5, 1.0, 1.9, 2.5, 3.2})
    CHECK(s.level(Role::finished, {100 + x, 70}) - s.level(Role::undercut, {100 + x, 70}) ==
          Approx(below(x)).margin(1e-6));
  const double bulk = 2.0 / 6 * (800 + 44.0 * 24 + 4 * 42 * 22);
  CHECK(s.quantities.whole.bulkCut == Approx(bulk).epsilon(1e-6));
  double sum = 800 * 1.0;
  // Rings of square corners: length of the ring at x is 2 (40 + 20) + 8 x.
  constexpr int kSteps = 20000;
  for (int i = 0; i < kSteps; ++i) {
    const double x = (i + 0.5) * 3.5 / kSteps;
    sum += below(x) * (120 + 8 * x) * 3.5 / kSteps;
  }
  CHECK(s.quantities.whole.undercut == Approx(sum).epsilon(1e-6));
}

TEST_CASE("Undercuts that overlap are one and what both dig counts to the first") {
  const std::string two = R"({"works": [)" + padAt(50, R"(, "corners": "square")") + R"(,
    {"kind": "level_area", "name": "B", "outline": [[90, 60], [120, 60], [120, 80], [90, 80]], "level": 50}],
    "undercuts": [{"name": "U", "under": ["A"], "depth": 1, "back_slope": 1},
                  {"name": "V", "under": ["B"], "depth": 1, "back_slope": 1}]})";
  const auto s = staged(two, kLevelLand);
  const auto frustum = [](double w, double h) { return 1.0 / 6 * (w * h + (w + 2) * (h + 2) + 4 * (w + 1) * (h + 1)); };
  CHECK(s.quantities.whole.undercuts[0].dig == Approx(frustum(40, 20)).epsilon(1e-6));
  // B has no corners to say of: round ones.
  CHECK(s.quantities.whole.undercut < frustum(60, 20));
  CHECK(s.quantities.whole.undercut > frustum(60, 20) - 2);
  CHECK(s.quantities.whole.undercut ==
        Approx(s.quantities.whole.undercuts[0].dig + s.quantities.whole.undercuts[1].dig).epsilon(1e-9));
}

TEST_CASE("Under works far from each other an undercut is what it is under each, and near each other it is one") {
  const auto under = [](double apart, const std::string& names) {
    const std::string x = std::to_string(60 + apart), far = std::to_string(80 + apart);
    return staged(
               R"({"works": [{"kind": "pad", "name": "A", "outline": [[60, 60], [80, 60], [80, 80], [60, 80]], "level": 50},
      {"kind": "pad", "name": "B", "outline": [[)" +
                   x + ", 60], [" + far + ", 60], [" + far + ", 80], [" + x +
                   R"(, 80]], "level": 50}],
      "undercuts": [{"name": "U", "under": )" +
                   names + R"(, "depth": 1, "wider": 0.5}]})",
               kLevelLand)
        .quantities.whole.undercut;
  };
  const double one = under(70, R"(["A"])");
  CHECK(under(70, R"(["A", "B"])") == Approx(2 * one).epsilon(1e-9));
  // Back slopes of a metre and edges half a metre wider meet over a strip of a metre: it is dug once.
  CHECK(under(22, R"(["A", "B"])") < 2 * one - 1);
  CHECK(under(22, R"(["A", "B"])") > 2 * one - 21 * 3 * 1);
}

TEST_CASE("A trench along a line has open ends and its depth below the ground") {
  const auto s = staged(R"({"undercuts": [{"name": "T", "line": [[40, 100], [120, 100]], "width": 1.5, "depth": 2,
    "below": "stripped", "back_slope": "1:2"}]})",
                        kSlope);
  CHECK(s.level(Role::undercut, {80, 100}) == Approx(kSlope(80, 100) - 2).margin(1e-6));
  CHECK(s.level(Role::undercut, {39, 100}) == Approx(kSlope(39, 100)));
  // Square to the line the ground falls 2 %: both sides at 1 in 1/2.
  const double left = 2 / (2 + 0.02), right = 2 / (2 - 0.02);
  CHECK(s.level(Role::undercut, {80, 100.75 + 0.98 * left}) < kSlope(80, 100.75 + 0.98 * left));
  CHECK(s.level(Role::undercut, {80, 99.25 - 1.02 * right}) == Approx(kSlope(80, 99.25 - 1.02 * right)));
  CHECK(s.quantities.whole.undercut == Approx(80 * (1.5 * 2 + 0.5 * 2 * 2 * 2 * 0.5)).epsilon(0.02));
}

TEST_CASE("A build-up lowers formation under the top its layers told by area and thickness") {
  const auto s = staged(R"({"works": [)" + padAt(51, R"(, "corners": "square", "space": 1)") + R"(],
    "buildups": [{"name": "Slab", "over": ["A"], "part": "top", "layers": [{"name": "concrete", "thickness": 0.2},
                                                                           {"name": "base", "thickness": 0.15}]}]})",
                        kLevelLand);
  const auto& slab = s.quantities.whole.buildUps.at(0);
  REQUIRE(slab.layers.size() == 2);
  CHECK(slab.layers[0].area == Approx(42.0 * 22).epsilon(1e-6));
  CHECK(slab.layers[0].volume == Approx(42.0 * 22 * 0.2).epsilon(1e-6));
  CHECK(s.quantities.whole.buildUp == Approx(42.0 * 22 * 0.35).epsilon(1e-6));
  CHECK(s.level(Role::formation, {80, 70}) == Approx(50.65));
  CHECK(s.level(Role::formation, {59.5, 70}) == Approx(50.65));
  CHECK(s.level(Role::formation, {58, 70}) == Approx(50.5));
  CHECK(s.level(Role::finished, {80, 70}) == Approx(51));
  CHECK(s.quantities.whole.bulkFill ==
        Approx(1.0 / 6 * (42.0 * 22 + 46 * 26 + 4 * 44 * 24) - 42.0 * 22 * 0.35).epsilon(1e-6));
}

TEST_CASE("Topsoil on batters lies square to the slope and only where the works still shows") {
  const auto s = staged(R"({"works": [)" + padAt(52, R"(, "corners": "square")") + R"(,
    {"kind": "level_area", "name": "B", "outline": [[95, 50], [110, 50], [110, 90], [95, 90]], "level": 51}],
    "buildups": [{"name": "Topsoil", "over": ["A"], "part": "batters", "slope_true": true,
                  "layers": [{"name": "topsoil", "thickness": 0.1}]}]})",
                        kLevelLand);
  // 48 x 28 less the pad, without what lies east of 95: 9 x 28 less 5 x 20.
  const double plan = 48.0 * 28 - 800 - (9.0 * 28 - 5 * 20), true_ = plan * std::sqrt(1.25);
  CHECK(s.quantities.whole.buildUps[0].layers[0].area == Approx(true_).epsilon(1e-6));
  CHECK(s.quantities.whole.buildUp == Approx(0.1 * true_).epsilon(1e-6));
  CHECK(s.level(Role::finished, {58, 70}) - s.level(Role::formation, {58, 70}) == Approx(0.1 * std::sqrt(1.25)));
  CHECK(s.level(Role::formation, {100, 70}) == Approx(51));
  // The later of two rules.
  const auto over = staged(R"({"buildups": [
    {"name": "P", "outline": [[20, 20], [60, 20], [60, 60], [20, 60]], "layers": [{"name": "a", "thickness": 0.3}]},
    {"name": "Q", "outline": [[40, 20], [80, 20], [80, 60], [40, 60]], "layers": [{"name": "b", "thickness": 0.1}]}]})",
                           kSlope);
  CHECK(over.quantities.whole.buildUps[0].layers[0].area == Approx(800).epsilon(1e-9));
  CHECK(over.quantities.whole.buildUps[1].layers[0].area == Approx(1600).epsilon(1e-9));
  CHECK(over.level(Role::formation, {50, 40}) == Approx(kSlope(50, 40) - 0.1));
}

TEST_CASE("Cut is of the material of the works that lowered the ground last and the balance is in compacted measure") {
  const auto s = staged(R"({"works": [)" + padAt(48, R"(, "corners": "square", "material": "rock")") + R"(,
    {"kind": "level_area", "name": "B", "outline": [[60, 60], [70, 60], [70, 80], [60, 80]], "level": 47, "material": "clay"},
    {"kind": "level_area", "name": "Hill", "outline": [[120, 120], [150, 120], [150, 150], [120, 150]], "level": 53}],
    "materials": [{"name": "clay", "bulking": 0.3, "shrinkage": 0.2, "usable": 0.5, "rates": {"cut": 2, "haul": 3}},
                  {"name": "rock", "bulking": 0.5, "shrinkage": -0.1, "usable": 1}]})",
                        kLevelLand);
  const auto& f = s.quantities.whole;
  const double clay = 200 * 3, rock = 2.0 / 6 * (800 + 48.0 * 28 + 4 * 44 * 24) - 400;
  REQUIRE(f.materials.size() == 2);
  CHECK(f.materials[0].bank == Approx(clay).epsilon(1e-6));
  CHECK(f.materials[0].loose == Approx(clay * 1.3).epsilon(1e-6));
  CHECK(f.materials[0].compacted == Approx(clay * 0.8).epsilon(1e-6));
  CHECK(f.materials[0].usable == Approx(clay * 0.5).epsilon(1e-6));
  CHECK(f.materials[0].cost == Approx(clay * 2 + clay * 1.3 * 3).epsilon(1e-6));
  CHECK(f.materials[1].bank == Approx(rock).epsilon(1e-6));
  CHECK(f.available == Approx(clay * 0.5 * 0.8 + rock * 1.1).epsilon(1e-6));
  CHECK(f.needed == Approx(2700).epsilon(1e-6));
  CHECK(f.surplus() == Approx(f.available - 2700));
  // All the usable clay first, then the rest of rock.
  const double used = (2700 - clay * 0.4) / 1.1;
  CHECK(f.import == Approx(std::max(0.0, 2700 - f.available)).margin(1e-6));
  CHECK(f.exported == Approx(clay * 0.5 + std::max(0.0, rock - used)).epsilon(1e-6));
}

TEST_CASE(
    "Works that lower one part of what others dug and raise another say what the cut is made of where they lower") {
  const std::string walls = R"(, "section": [], "material": )";
  const auto s =
      staged(R"({"materials": [{"name": "clay"}, {"name": "rock"}], "works": [)" + padAt(48, walls + R"("clay")") +
                 R"(, {"kind": "pad", "name": "B", "outline": [[70, 62], [90, 62], [90, 78], [70, 78]], "level": 48,
                            "fall_percent": 2, "bearing_deg": 90)" +
                 walls + R"("rock"}]})",
             kLevelLand);
  const auto bankOf = [&](const std::string& name) {
    const auto& all = s.quantities.whole.materials;
    return std::ranges::find(all, name, &report::MaterialFigure::name)->bank;
  };
  // East of the middle it falls to 0.2 m below what was dug 2 m deep.
  CHECK(bankOf("rock") == Approx(16 * 10 * (2 + 0.1)).epsilon(1e-9));
  CHECK(bankOf("clay") == Approx(2 * 800 - 16 * 10 * 2 - 16 * 10 * 0.1).epsilon(1e-9));
}

TEST_CASE("What a build-up cuts below raised ground is of what was lowered there, beside it of the works it lies on") {
  const std::string walls = R"(, "section": [], "material": "clay")";
  const auto s =
      staged(R"({"materials": [{"name": "clay"}, {"name": "rock"}], "works": [)" + padAt(48, walls) +
                 R"(, {"kind": "level_area", "name": "B", "outline": [[90, 62], [110, 62], [110, 78], [90, 78]],
                            "level": 50, "material": "rock"}],
    "buildups": [{"name": "S", "over": ["B"], "layers": [{"name": "slab", "thickness": 0.3}]}]})",
             kLevelLand);
  const auto& all = s.quantities.whole.materials;
  const auto bankOf = [&](const std::string& name) {
    return std::ranges::find(all, name, &report::MaterialFigure::name)->bank;
  };
  CHECK(bankOf("clay") == Approx(2 * (800 - 160) + 0.3 * 160).epsilon(1e-9));
  CHECK(bankOf("rock") == Approx(0.3 * 160).epsilon(1e-9));
}

TEST_CASE("Figures of regions and elsewhere add up and each is that of its part") {
  const std::string design = R"({"works": [)" + padAt(54) + R"(,
    {"kind": "pond", "name": "P", "outline": [[120, 120], [150, 120], [150, 150], [120, 150]], "bottom": 47, "top": 50.5}],
    "strips": [{"name": "T", "outline": [[10, 10], [190, 10], [190, 190], [10, 190]], "depth": 0.3}],
    "undercuts": [{"name": "U", "under": ["A"], "depth": 1, "wider": 1}],
    "buildups": [{"name": "S", "over": ["A"], "part": "top", "layers": [{"name": "base", "thickness": 0.3}]}],
    "regions": [{"name": "West", "outline": [[0, 0], [80, 0], [80, 200], [0, 200]]},
                {"name": "East", "outline": [[80, 0], [160, 0], [160, 200], [80, 200]],
                 "holes": [[[130, 130], [140, 130], [140, 140], [130, 140]]]}]})";
  const auto s = staged(design, kSlope);
  REQUIRE(s.quantities.regions.size() == 3);
  CHECK(s.quantities.regions[2].name == "elsewhere");
  const auto sum = [&](auto figure) {
    double all = 0;
    for (const auto& r : s.quantities.regions) all += figure(r.figures);
    return all;
  };
  using report::Figures;
  for (const auto figure : {&Figures::strip, &Figures::bulkCut, &Figures::bulkFill, &Figures::undercut,
                            &Figures::backfill, &Figures::buildUp, &Figures::available, &Figures::needed}) {
    CHECK(s.quantities.whole.*figure > 0);
    CHECK(sum([&](const Figures& f) { return f.*figure; }) ==
          Approx(s.quantities.whole.*figure).epsilon(1e-9).margin(1e-9));
  }
  for (std::size_t i = 0; i < s.evaluation->seams.size(); ++i) {
    double cut = 0, fill = 0;
    for (const auto& r : s.quantities.regions) cut += r.seams[i].volume.cut, fill += r.seams[i].volume.fill;
    CHECK(cut == Approx(s.evaluation->seams[i].volume->cut).epsilon(1e-9).margin(1e-9));
    CHECK(fill == Approx(s.evaluation->seams[i].volume->fill).epsilon(1e-9).margin(1e-9));
  }
  CHECK(s.quantities.regions[0].figures.strip == Approx(0.3 * 70 * 180).epsilon(1e-9));
}

TEST_CASE("A pad on level ground is as sure as its points are") {
  // Sum of squares of the hats over a square far larger than the cells: near its area over the number of points.
  const std::string design =
      R"({"works": [{"kind": "level_area", "name": "A", "outline": [[50, 50], [150, 50], [150, 150], [50, 150]],
     "level": 52}], "accuracy": [{"source": "survey.csv", "random": 0.03, "systematic": 0.01}]})";
  const auto s = staged(design, kLevelLand);
  REQUIRE(s.quantities.sure.size() == 2);
  const auto& seam = *s.quantities.sure[0].sure;
  // Inside 9 x 9 points with 100 m2 each, 36 at the sides with half and 4 corners with a quarter.
  const double squares = 81 * 1e4 + 36 * 2500 + (2 * sq(100.0 / 3) + 2 * sq(100.0 / 6));
  CHECK(seam.fill == Approx(1.96 * std::sqrt(sq(0.03) * squares + sq(0.01 * 1e4))).epsilon(2e-3));
  CHECK(seam.cut == 0);
  CHECK(seam.net == Approx(seam.fill));
  CHECK(s.quantities.sure[1].sure->fill == Approx(seam.fill).epsilon(1e-9));
}

TEST_CASE("The stated accuracy covers simulated surveys") {
  std::mt19937 random(11);
  std::normal_distribution<double> normal;
  const auto land = [](double x, double y) { return 50 + 0.03 * x + 0.4 * std::sin(x / 15) * std::cos(y / 20); };
  const std::string design = R"({"works": [)" + padAt(52.3, R"(, "corners": "square")") +
                             R"(], "accuracy": [{"source": "survey.csv", "random": 0.05, "systematic": 0.02}]})";
  const auto truth = staged(design, land);
  const auto sure = *truth.quantities.sure[0].sure;
  const auto& known = truth.evaluation->seams[0].volume;
  int cut = 0, fill = 0, net = 0;
  constexpr int kSurveys = 200;
  for (int i = 0; i < kSurveys; ++i) {
    const double together = 0.02 * normal(random);
    const auto s = staged(design, [&](double x, double y) { return land(x, y) + together + 0.05 * normal(random); });
    const auto& v = *s.evaluation->seams[0].volume;
    cut += std::abs(v.cut - known->cut) <= sure.cut;
    fill += std::abs(v.fill - known->fill) <= sure.fill;
    net += std::abs(v.surplus() - known->surplus()) <= sure.net;
  }
  for (const int within : {cut, fill, net}) {
    CHECK(within >= 0.9 * kSurveys);
    CHECK(within <= 0.99 * kSurveys);
  }
}

TEST_CASE("The stages come out of a project as they went in and stay in its file's text") {
  const std::string design = R"({"name": "Site", "works": [)" + padAt(50.5) + R"(],
    "strips": [{"name": "T", "under": ["A"], "margin": 2, "depth": 0.3, "material": "topsoil", "phase": "first"},
               {"name": "P", "outline": [[120, 20], [150, 20], [150, 50]], "except": [[[140, 30], [145, 30], [145, 35]]],
                "pits": [[130, 25, 0.2], [140, 28, 0.3], [145, 40, 0.25]]}],
    "undercuts": [{"name": "U", "under": ["A"], "depth": 1, "wider": 1, "back_slope": "1.5:1", "below": "stripped"},
                  {"name": "L", "line": [[10, 10], [40, 10]], "width": 1, "levels": [[0, 48], [30, 47]], "phase": "second",
                   "layers": [{"name": "bedding", "thickness": 0.2, "from_site": true}]}],
    "buildups": [{"name": "S", "over": ["A"], "part": "top", "layers": [{"name": "base", "thickness": 0.3}], "phase": "last"},
                 {"name": "O", "outline": [[120, 20], [150, 20], [150, 50]], "slope_true": true,
                  "layers": [{"name": "soil", "thickness": 0.1, "from_site": true}]}],
    "regions": [{"name": "West", "outline": [[0, 0], [80, 0], [80, 200], [0, 200]], "holes": [[[10, 10], [20, 10], [20, 20]]]}],
    "materials": [{"name": "topsoil", "bulking": 0.25, "shrinkage": 0.1, "usable": 0, "rates": {"cut": 4.5, "haul": 6}}],
    "accuracy": [{"source": "survey.csv", "random": 0.03, "systematic": 0.01}]})";
  const auto first = siteWith(design, kSlope);
  const std::string text = exchange::designOf(*first);
  const auto second = siteWith(text, kSlope);
  CHECK(exchange::designOf(*second) == text);
  CHECK(second->stages.strips[0].phase == "first");
  CHECK(second->stages.undercuts[1].phase == "second");
  CHECK(second->stages.undercuts[1].layers == first->stages.undercuts[1].layers);
  CHECK(second->stages.undercuts[1].layers.at(0).fromSite);
  CHECK(second->stages.buildUps[0].phase == "last");
  const auto a = staged(first), b = staged(second);
  CHECK(a.quantities.whole.strip == b.quantities.whole.strip);
  CHECK(a.quantities.whole.undercut == b.quantities.whole.undercut);
  CHECK(a.quantities.whole.buildUp == b.quantities.whole.buildUp);
  CHECK(a.quantities.whole.strip > 0);
}

TEST_CASE("Stage members that are not sound are refused with their place") {
  const auto refuses = [](const std::string& design, const std::string& part) {
    try {
      siteWith(design, kLevelLand);
    } catch (const Error& e) {
      INFO(e.what());
      CHECK(std::string(e.what()).find(part) != std::string::npos);
      return;
    }
    FAIL("not refused: " + design);
  };
  refuses(R"({"strips": [{"name": "T", "depth": 0.3}]})", "strips[0] \"T\"");
  refuses(R"({"strips": [{"outline": [[0, 0], [9, 0], [9, 9]]}]})", "neither depth nor pits");
  refuses(R"({"strips": [{"under": ["Z"], "depth": 0.3}]})", "there are no works \"Z\"");
  refuses(R"({"strips": [{"outline": [[0, 0], [9, 0], [9, 9]], "depth": -0.3}]})", "depth");
  refuses(R"({"undercuts": [{"under": ["Z"], "line": [[0, 0], [9, 0]], "depth": 1}]})", "beside");
  refuses(R"({"buildups": [{"outline": [[0, 0], [9, 0], [9, 9]], "part": "top", "layers": []}]})", "part");
  refuses(R"({"regions": [{"outline": [[0, 0], [9, 9], [9, 0], [0, 9]]}]})", "regions[0]");
  refuses(R"({"materials": [{"name": "a"}, {"name": "a"}]})", "has this name");
  refuses(R"({"materials": [{"name": "a", "bulk": 1}]})", "bulk");
  refuses(R"({"accuracy": [{"random": 1}]})", "source");
}

TEST_CASE("Figures of random projects agree with seams and add up over regions and materials", "[random]") {
  for (unsigned seed = 1; seed <= 12; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> u(0, 1);
    const Level hills = randomHills(random, 4);
    const auto number = [](double v) { return std::to_string(v); };
    const auto box = [&](double x0, double y0, double x1, double y1) {
      return "[[" + number(x0) + "," + number(y0) + "],[" + number(x1) + "," + number(y0) + "],[" + number(x1) + "," +
             number(y1) + "],[" + number(x0) + "," + number(y1) + "]]";
    };
    std::string works, names;
    for (int i = 0; i < 4; ++i) {
      const double x = 30 + 35 * i + 5 * u(random), y = 40 + 90 * u(random);
      const std::string name = "\"W" + std::to_string(i) + "\"";
      works += (i ? "," : "") + std::string(R"({"kind": "pad", "name": )") + name + R"(, "outline": )" +
               box(x, y, x + 15 + 15 * u(random), y + 20 * u(random) + 8) + R"(, "level": )" +
               number(hills(x, y) + 3 * (u(random) - 0.5)) + R"(, "material": ")" + (i % 2 ? "clay" : "rock") +
               R"(", "corners": ")" + (u(random) < 0.5 ? "square" : "round") + "\"}";
      names += (i ? "," : "") + name;
    }
    const std::string design =
        R"({"works": [)" + works + R"(], "strips": [{"outline": )" + box(10, 12, 150 * u(random) + 40, 180) +
        R"(, "depth": 0.3, "material": "soil"}, {"under": [)" + names + R"(], "margin": 2, "depth": 0.2}],
        "undercuts": [{"under": ["W0", "W1"], "depth": 0.8, "wider": 0.5}, {"under": ["W2"], "depth": 1.5, "material": "clay"},
                      {"line": [[20, 20], [150, 40]], "width": 1, "depth": 1.2, "below": "stripped"}],
        "buildups": [{"over": ["W0", "W2"], "part": "top", "layers": [{"thickness": 0.3}, {"thickness": 0.1, "from_site": true}]},
                     {"over": ["W1"], "part": "batters", "slope_true": true, "layers": [{"thickness": 0.15}]}],
        "regions": [{"outline": )" +
        box(0, 0, 90, 110) + R"(}, {"outline": )" + box(90, 0, 200, 110) + R"(}],
        "materials": [{"name": "clay", "bulking": 0.3, "shrinkage": 0.1}, {"name": "soil", "usable": 0}, {"name": "rock", "usable": 0.8}]})";
    const auto s = staged(design, hills);
    const auto& f = s.quantities.whole;
    const auto near = [](double v) { return Approx(v).epsilon(1e-9).margin(1e-7); };
    const auto exact = [](double v) { return Approx(v).epsilon(1e-9).margin(1e-9); };
    REQUIRE(s.evaluation->seams.size() == 4);
    const auto seam = [&](std::size_t i) { return *s.evaluation->seams[i].volume; };
    CHECK(seam(0).cut == near(f.strip));
    CHECK(seam(1).cut + seam(2).cut == near(f.bulkCut + f.undercut));
    CHECK(seam(2).fill == near(f.bulkFill + f.backfill));
    CHECK(seam(3).fill == near(f.buildUp));
    double bank = 0;
    for (const auto& m : f.materials) bank += m.bank;
    CHECK(bank == exact(f.strip + f.bulkCut + f.undercut));
    double strip = 0, cut = 0, fill = 0, dig = 0, built = 0;
    for (const auto& r : s.quantities.regions) {
      strip += r.figures.strip, cut += r.figures.bulkCut, fill += r.figures.bulkFill;
      dig += r.figures.undercut, built += r.figures.buildUp;
    }
    CHECK(strip == exact(f.strip));
    CHECK(cut == exact(f.bulkCut));
    CHECK(fill == exact(f.bulkFill));
    CHECK(dig == exact(f.undercut));
    CHECK(built == exact(f.buildUp));
  }
}

TEST_CASE("Quantities that find something known are those taken anew, whatever was changed") {
  const std::string design = R"({
    "works": [{"kind": "pad", "name": "A", "outline": [[40,40],[80,42],[82,75],[41,70]], "level": 51, "material": "clay"},
              {"kind": "pad", "name": "B", "outline": [[100,90],[140,90],[140,120],[100,120]], "level": 50}],
    "strips": [{"outline": [[10,10],[180,10],[180,170],[10,170]], "pits": [[30,30,0.2],[150,40,0.5],[90,150,0.3]]}],
    "undercuts": [{"under": ["A"], "depth": 1, "wider": 0.5}],
    "buildups": [{"over": ["A", "B"], "part": "top", "layers": [{"thickness": 0.3}]}],
    "regions": [{"outline": [[0,0],[95,0],[95,110],[0,110]]}],
    "accuracy": [{"source": "survey.csv", "random": 0.03, "systematic": 0.01}]})";
  std::mt19937 random(6);
  auto project = siteWith(design, randomHills(random, 4));
  project::Cache grounds;
  report::QuantityCache cache;
  const std::vector<std::function<void(project::Stages&)>> edits{
      [](project::Stages&) {},
      [](project::Stages& s) { s.buildUps[0].layers[0].thickness += 0.1; },
      [](project::Stages& s) { s.undercuts[0].depth += 0.2; },
      [](project::Stages& s) { s.accuracy[0].random = 0.05; },
      [](project::Stages& s) { s.regions[0].area.outer[2].x += 10; },
      [](project::Stages& s) { s.regions.clear(); },
      [](project::Stages& s) { s.strips[0].pits[1].z += 0.1; },
      [](project::Stages& s) { s.accuracy[0].source = "other.csv"; }};
  for (std::size_t k = 0; k < edits.size(); ++k) {
    CAPTURE(k);
    project::Stages stages = project->stages;
    edits[k](stages);
    project = project::withStages(*project, stages);
    const auto evaluation = project::evaluate(project, grounds, {});
    const auto kept = report::quantitiesOf(*evaluation, cache, {}), anew = report::quantitiesOf(*evaluation, {});
    const auto same = [](double v) { return Approx(v).epsilon(1e-12).margin(1e-9); };
    const auto check = [&](const report::Figures& a, const report::Figures& b) {
      CHECK(a.strip == same(b.strip));
      CHECK(a.bulkCut == same(b.bulkCut));
      CHECK(a.bulkFill == same(b.bulkFill));
      CHECK(a.undercut == same(b.undercut));
      CHECK(a.buildUp == same(b.buildUp));
      CHECK(a.surplus() == same(b.surplus()));
    };
    check(kept.whole, anew.whole);
    REQUIRE(kept.regions.size() == anew.regions.size());
    for (std::size_t i = 0; i < anew.regions.size(); ++i) {
      check(kept.regions[i].figures, anew.regions[i].figures);
      for (std::size_t j = 0; j < anew.regions[i].seams.size(); ++j)
        CHECK(kept.regions[i].seams[j].volume.cut == same(anew.regions[i].seams[j].volume.cut));
      for (std::size_t j = 0; j < anew.regions[i].works.size(); ++j)
        CHECK(kept.regions[i].works[j].volume.fill == same(anew.regions[i].works[j].volume.fill));
    }
    REQUIRE(kept.sure.size() == anew.sure.size());
    for (std::size_t i = 0; i < anew.sure.size(); ++i) CHECK(kept.sure[i].sure->net == same(anew.sure[i].sure->net));
    CHECK((kept.sure.back().sure->net > 0.1) == (k + 1 < edits.size()));
  }
}

TEST_CASE("As-built surveys tell what is done, since the last, and what is left, everywhere and by region") {
  // Level land at 50, a level area to be cut to 48; half of it is down to 49, then all of it, and a part too deep.
  const auto site = siteWith(R"({"works": [
    {"kind": "level_area", "name": "A", "outline": [[50, 50], [150, 50], [150, 100], [50, 100]], "level": 48}],
    "regions": [{"name": "West", "outline": [[0, 0], [100, 0], [100, 200], [0, 200]]}]})",
                             kLevelLand);
  const auto survey = [](const project::Project& p, const std::string& name, double west, double east) {
    project::SourceData data;
    for (const double y : {50.0, 100.0}) {
      for (const double x : {50.0, 99.9}) data.points.push_back({x, y, west});
      for (const double x : {100.1, 150.0}) data.points.push_back({x, y, east});
    }
    auto next = project::withNewGround(p, name, project::FromSources{}, p.finished());
    const GroundId id{p.nextId};
    next = project::withSource(*next, {name, ""}, std::move(data), id);
    return project::withRoleOf(*next, id, Role::asBuilt);
  };
  auto project = survey(*site, "May", 49, 50);
  project = survey(*project, "June", 48, 49);
  // The later stands farther from the existing ground.
  const auto s = staged(project);
  REQUIRE(s.quantities.asBuilt.size() == 4);
  const auto& list = s.quantities.asBuilt;
  const bool mayFirst = list[0].survey == "May";
  const auto& may = list[mayFirst ? 0 : 2];
  CHECK(may.region.empty());
  CHECK(may.done.cut == Approx(2500).epsilon(1e-3));
  CHECK(may.remaining.cut == Approx(2500 + 2 * 2500).epsilon(1e-3));
  CHECK(may.remaining.fill == Approx(0).margin(1e-6));
  const auto& june = list[mayFirst ? 2 : 0];
  CHECK(june.done.cut == Approx(2 * 2500 + 2500).epsilon(1e-3));
  CHECK(june.remaining.cut == Approx(2500).epsilon(1e-3));
  const auto& later = mayFirst ? june : may;
  CHECK(later.sinceLast.cut + later.sinceLast.fill == Approx(5000).epsilon(1e-3));
  const auto& west = list[mayFirst ? 3 : 1];
  CHECK(west.region == "West");
  CHECK(west.done.cut == Approx(5000).epsilon(1e-3));
  CHECK(west.remaining.cut == Approx(0).margin(30));
}

TEST_CASE("A trench is filled in layers from its bottom up and the rest is common fill") {
  const auto fill = [](const std::string& layers, const std::string& more = "") {
    return staged(
               R"({"undercuts": [{"name": "Main", "line": [[40, 60], [100, 60]], "width": 1, "depth": 2, "back_slope": 0.5,
      "below": "stripped")" +
                   layers + "}]" + more + "}",
               kLevelLand)
        .quantities.whole;
  };
  // So high above its bottom the trench is 1 + 2 · 0.5 h wide.
  const auto upTo = [](double h) { return 60 * (h + 0.5 * h * h); };
  const auto f = fill(
      R"(, "layers": [{"name": "bedding", "thickness": 0.2}, {"name": "gravel", "thickness": 0.5, "from_site": true}])");
  const auto& u = f.undercuts.at(0);
  CHECK(u.dig == Approx(upTo(2)).epsilon(1e-9));
  REQUIRE(u.layers.size() == 2);
  CHECK(u.layers[0].volume == Approx(upTo(0.2)).epsilon(1e-9));
  CHECK(u.layers[1].volume == Approx(upTo(0.7) - upTo(0.2)).epsilon(1e-9));
  CHECK(u.layers[0].area == Approx(60 * 1.1).epsilon(1e-9));
  CHECK(f.backfill == Approx(upTo(2)).epsilon(1e-9));
  // Bedding comes from elsewhere.
  CHECK(f.needed == Approx(upTo(2) - upTo(0.2)).epsilon(1e-9));
  CHECK(fill("").needed == Approx(upTo(2)).epsilon(1e-9));
  // Layers thicker than it is deep fill it, and no more.
  const auto over = fill(R"(, "layers": [{"name": "all", "thickness": 5}, {"name": "more", "thickness": 1}])");
  CHECK(over.undercuts[0].layers[0].volume == Approx(upTo(2)).epsilon(1e-9));
  CHECK(over.undercuts[0].layers[1].volume == Approx(0).margin(1e-9));
  CHECK(over.needed == Approx(0).margin(1e-9));
  // Regions share them out.
  const auto parted = staged(R"({"undercuts": [{"name": "Main", "line": [[40, 60], [100, 60]], "width": 1, "depth": 2,
      "back_slope": 0.5, "below": "stripped", "layers": [{"name": "bedding", "thickness": 0.2}]}],
      "regions": [{"name": "West", "outline": [[30, 30], [70, 30], [70, 90], [30, 90]]}]})",
                             kLevelLand);
  CHECK(parted.quantities.regions[0].figures.undercuts[0].layers[0].volume == Approx(upTo(0.2) / 2).epsilon(1e-9));
  CHECK(parted.quantities.regions[1].figures.undercuts[0].layers[0].volume == Approx(upTo(0.2) / 2).epsilon(1e-9));
}

TEST_CASE("Below a pad the layers of an undercut are those of its bath") {
  const auto s = staged("{\"works\": [" + padAt(50) + R"(], "undercuts": [{"name": "U", "under": ["A"], "depth": 1.5,
    "wider": 0.5, "back_slope": "1:1", "layers": [{"name": "rock", "thickness": 0.6}, {"name": "sand", "thickness": 0.4}]}]})",
                        kLevelLand);
  // A rectangle of 40 by 20 grown round by d has 800 + 120 d + π d² m².
  const auto upTo = [&](double h) {  // the integral of what it is grown by, 0.5 and so much as it rises
    const double a = 0.5, b = 0.5 + h;
    return 800 * h + 60 * (b * b - a * a) + std::numbers::pi / 3 * (b * b * b - a * a * a);
  };
  const auto& u = s.quantities.whole.undercuts.at(0);
  CHECK(u.dig == Approx(upTo(1.5)).epsilon(2e-4));
  CHECK(u.layers[0].volume == Approx(upTo(0.6)).epsilon(2e-4));
  CHECK(u.layers[1].volume == Approx(upTo(1.0) - upTo(0.6)).epsilon(1e-3));
}

TEST_CASE("Volumes to the finished ground are questioned where there are build-ups") {
  const auto s = staged(
      "{\"works\": [" + padAt(50) +
          R"(], "buildups": [{"name": "Slab", "over": ["A"], "part": "top", "layers": [{"name": "c", "thickness": 0.25}]}]})",
      kLevelLand);
  const auto tops = [](const project::Project& project, GroundId finished) {
    project::Cache cache;
    const auto evaluation = project::evaluate(std::make_shared<project::Project>(project), cache, {});
    const auto& doubts = evaluation->ground(finished)->doubts;
    return std::count_if(doubts.begin(), doubts.end(),
                         [](const auto& d) { return d.kind == ground::DoubtKind::topOrFormation; });
  };
  project::Project compared = *s.evaluation->project;
  const GroundId finished = compared.finished();
  CHECK(tops(compared, finished) == 0);
  compared.compared.push_back({compared.surveyed(), finished});
  CHECK(tops(compared, finished) == 1);
  compared.compared.back() = {compared.surveyed(), compared.withRole(Role::formation)->id};
  CHECK(tops(compared, finished) == 0);
}

TEST_CASE("A level area goes on by its working space with walls round it") {
  const auto s =
      staged(R"({"works": [{"kind": "level_area", "name": "Pit", "outline": [[60, 60], [80, 60], [80, 70], [60, 70]],
    "level": 49.2, "adjust": [{"by": -0.2, "reason": "blinding"}], "space": 1.5}],
    "buildups": [{"name": "Slab", "over": ["Pit"], "part": "top", "layers": [{"name": "c", "thickness": 0.1}]}]})",
             kLevelLand);
  const double area = 200 + 60 * 1.5 + std::numbers::pi * 1.5 * 1.5;
  const auto& works = s.ground(Role::finished).works.at(0);
  CHECK(works.placement->footprintArea == Approx(area).epsilon(2e-4));
  CHECK(works.volume.cut == Approx(area).epsilon(2e-4));
  CHECK(s.level(Role::finished, {58.6, 65}) == Approx(49));
  CHECK(s.level(Role::finished, {58.4, 65}) == Approx(50));
  CHECK(s.quantities.whole.buildUps.at(0).layers.at(0).area == Approx(area).epsilon(2e-4));
}

TEST_CASE("Corners of outlines and lines move one by one, and what would make them unsound is refused") {
  project::Stages stages;
  works::Strip strip;
  strip.id = WorksId{1}, strip.outline = rectangle(0, 0, 20, 10);
  strip.except = {rectangle(2, 2, 4, 4), rectangle(6, 2, 8, 4)};
  works::Strip under;
  under.id = WorksId{2}, under.under = {WorksId{9}};
  stages.strips = {strip, under};
  works::Undercut trench;
  trench.id = WorksId{3}, trench.line = {{0, 0}, {30, 0}}, trench.byLevels = true, trench.levels = {{0, 5}, {25, 4}};
  stages.undercuts = {trench};
  works::BuildUp slab;
  slab.id = WorksId{4}, slab.outline = rectangle(0, 0, 5, 5);
  stages.buildUps = {slab};

  CHECK(project::pathsOf(stages, WorksId{1}).size() == 3);
  CHECK(project::pathsOf(stages, WorksId{2}).empty());
  CHECK(project::pathsOf(stages, WorksId{7}).empty());
  CHECK_FALSE(project::pathsOf(stages, WorksId{3})[0].closed);
  CHECK(project::pathsOf(stages, WorksId{4})[0].points == slab.outline);

  const auto with = [&](std::uint64_t id, std::size_t number, std::vector<Vec2> points) {
    return project::withPath(stages, WorksId{id}, number, std::move(points), {});
  };
  auto moved = strip.except[1];
  moved[0] = {5, 1};
  const project::Stages next = with(1, 2, moved);
  CHECK(next.strips[0].except[1] == moved);
  CHECK(next.strips[0].except[0] == strip.except[0]);
  CHECK(next.strips[0].outline == strip.outline);
  CHECK(with(4, 0, rectangle(0, 0, 6, 6)).buildUps[0].outline == rectangle(0, 0, 6, 6));
  CHECK_THROWS_AS(with(1, 0, {{0, 0}, {20, 0}}), Error);
  CHECK_THROWS_AS(with(1, 0, {{0, 0}, {20, 10}, {20, 0}, {0, 10}}), Error);
  CHECK_THROWS_AS(with(3, 0, {{0, 0}}), Error);
  // The levels reach to 25 m.
  CHECK(with(3, 0, {{0, 0}, {0, 26}}).undercuts[0].line[1] == Vec2{0, 26});
  CHECK_THROWS_AS(with(3, 0, {{0, 0}, {0, 24}}), Error);
}

TEST_CASE("A stepped bottom gives the same bath in whatever order its points come") {
  // Corners of its parts all but meet.
  const std::vector<plane::Vec3> points{{0, 0, 5},       {10, 0, 5}, {10, 10, 5}, {0, 10, 5},
                                        {10.0001, 0, 6}, {20, 0, 6}, {20, 10, 6}, {10, 10.00015, 6}};
  const std::vector<ground::Triangle> triangles{{0, 1, 2}, {0, 2, 3}, {4, 5, 6}, {4, 6, 7}};
  std::mt19937 random(2);
  std::uniform_real_distribution<double> x(-5, 25), y(-5, 15);
  ground::TinPtr first;
  for (int round = 0; round < 6; ++round) {
    std::vector<ground::Index> to(points.size());
    std::iota(to.begin(), to.end(), ground::Index{0});
    if (round > 0) std::ranges::shuffle(to, random);
    ground::TinParts parts;
    parts.points.resize(points.size());
    for (std::size_t i = 0; i < points.size(); ++i) parts.points[to[i]] = points[i];
    for (const ground::Triangle& t : triangles) parts.triangles.push_back({to[t[0]], to[t[1]], to[t[2]]});
    const auto bath =
        works::bathOver({std::make_shared<ground::Tin>(std::move(parts)), works::CornerStyle::round}, 1, 1, 10, {});
    if (!first) first = bath;
    for (int i = 0; i < 400; ++i) {
      const Vec2 p{x(random), y(random)};
      const auto level = bath->levelAt(p), same = first->levelAt(p);
      REQUIRE(level.has_value() == same.has_value());
      if (level) CHECK(*level == Approx(*same).margin(1e-9));
    }
  }
}
