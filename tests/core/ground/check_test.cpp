// Each doubt is raised where it should be, and only there.
#include "ground/check.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using ground::Breakline;
using ground::BuildInput;
using ground::BuildRules;
using ground::Doubt;
using ground::DoubtKind;

namespace {

// A rolling survey of 900 points 5 m apart.
BuildInput survey() {
  BuildInput input;
  std::mt19937 random(4);
  std::uniform_real_distribution<double> shift(-1, 1);
  for (int i = 0; i < 900; ++i) {
    const double x = 5.0 * (i % 30) + shift(random), y = 5.0 * (i / 30) + shift(random);
    input.points.push_back({x, y, 60 + 2 * std::sin(x / 40) + 2 * std::cos(y / 30)});
  }
  return input;
}

ground::Doubts doubtsOf(const BuildInput& input, const BuildRules& rules = {}) {
  const auto built = ground::build(input, rules, {}, {});
  ground::Doubts all = built.doubts;
  for (const Doubt& d : ground::check(*built.tin, input, rules, {}, {})) all.push_back(d);
  return all;
}

std::vector<Doubt> of(const ground::Doubts& doubts, DoubtKind kind) {
  std::vector<Doubt> list;
  for (const Doubt& d : doubts) {
    if (d.kind == kind) list.push_back(d);
  }
  return list;
}

Breakline contour(double x, double level, double from = 0) {
  Breakline line;
  line.contour = true;
  for (int i = 0; i <= 20; ++i) line.vertices.push_back({x + std::sin(i / 4.0), from + 5.0 * i, level});
  return line;
}

}  // namespace

TEST_CASE("A plain survey raises no doubt about its points") {
  const auto doubts = doubtsOf(survey());
  for (const DoubtKind kind :
       {DoubtKind::spike, DoubtKind::zeroLevel, DoubtKind::oddExtent, DoubtKind::hole, DoubtKind::pointsOutside})
    CHECK(of(doubts, kind).empty());
}

TEST_CASE("A mistyped level is a spike or a pit, at its place", "[random]") {
  std::mt19937 random(9);
  for (int round = 0; round < 20; ++round) {
    BuildInput input = survey();
    auto& p = input.points[random() % input.points.size()];
    p.z += round % 2 ? 5 : -5;
    const auto found = of(doubtsOf(input), DoubtKind::spike);
    CAPTURE(round, p.x, p.y);
    REQUIRE(found.size() == 1);
    CHECK(found[0].where == p.plan());
    CHECK(found[0].text.find(round % 2 ? "above" : "below") != std::string::npos);
  }
}

TEST_CASE("A level lost at zero is told as such, near sea level it is not") {
  BuildInput input = survey();
  input.points[200].z = 0;
  auto doubts = doubtsOf(input);
  REQUIRE(of(doubts, DoubtKind::zeroLevel).size() == 1);
  CHECK(of(doubts, DoubtKind::zeroLevel)[0].where == input.points[200].plan());
  CHECK(of(doubts, DoubtKind::spike).empty());
  for (auto& p : input.points) p.z = p.z == 0 ? 0 : 0.2 * (p.z - 60);
  CHECK(of(doubtsOf(input), DoubtKind::zeroLevel).empty());
}

TEST_CASE("A contour whose level fits none beside it is told, the others are not") {
  BuildInput input;
  for (int k = 0; k < 7; ++k) input.breaklines.push_back(contour(10 * k, 70 + k));
  CHECK(of(doubtsOf(input), DoubtKind::contourLevel).empty());
  for (auto& v : input.breaklines[3].vertices) v.z = 37;
  auto found = of(doubtsOf(input), DoubtKind::contourLevel);
  REQUIRE(found.size() == 1);
  CHECK(found[0].text.find("37.000") != std::string::npos);
  CHECK(found[0].level == 73.0);
  // At the edge too.
  for (auto& v : input.breaklines[3].vertices) v.z = 73;
  for (auto& v : input.breaklines[6].vertices) v.z = 67;
  found = of(doubtsOf(input), DoubtKind::contourLevel);
  REQUIRE(found.size() == 1);
  CHECK(found[0].text.find("67.000") != std::string::npos);
  CHECK(found[0].level == 76.0);
}

TEST_CASE("Contours that cross are told apart from breaklines that do") {
  BuildInput input;
  input.breaklines.push_back(contour(0, 70));
  input.breaklines.push_back(contour(20, 71));
  input.breaklines.push_back({{{-5, 50, 73}, {40, 52, 73}}, false, true});
  CHECK(of(doubtsOf(input), DoubtKind::contourCrossing).size() == 2);
  input.breaklines[2].contour = false;
  CHECK(of(doubtsOf(input), DoubtKind::breaklineCrossing).size() == 2);
}

TEST_CASE("Flats between contours are told until they are cured") {
  BuildInput input;
  for (int k = 0; k < 4; ++k) {
    Breakline ring{{}, true, true};
    for (int i = 0; i < 30; ++i) {
      const double a = 2 * M_PI * i / 30;
      ring.vertices.push_back({(40 - 9 * k) * std::cos(a), (40 - 9 * k) * std::sin(a), 70.0 + k});
    }
    input.breaklines.push_back(ring);
  }
  CHECK(of(doubtsOf(input), DoubtKind::flats).size() == 1);
  BuildRules cure;
  cure.cureFlats = true;
  CHECK(of(doubtsOf(input, cure), DoubtKind::flats).empty());
}

TEST_CASE("Long thin triangles at the border are told, with an edge length that trims them") {
  BuildInput input = survey();
  input.points.push_back({700, 70, 60});
  input.points.push_back({702, 75, 60});
  const auto found = of(doubtsOf(input), DoubtKind::borderSlivers);
  REQUIRE(found.size() == 1);
  BuildRules trimmed;
  trimmed.maxEdge = ground::proposedMaxEdge(*ground::build(input, {}, {}, {}).tin);
  CHECK(trimmed.maxEdge > 10);
  CHECK(trimmed.maxEdge < 60);
  CHECK(of(doubtsOf(input, trimmed), DoubtKind::borderSlivers).empty());
}

TEST_CASE("A hole is told unless a void explains it, and points outside the boundary are counted") {
  const auto grid = evenGridGround(100, 10, [](double, double) { return 5.0; });
  ground::TinParts parts;
  parts.points.assign(grid->points().begin(), grid->points().end());
  for (ground::Index t = 0; t < grid->triangles().size(); ++t) {
    const auto c = grid->corners(t);
    const ground::Vec2 middle = (1.0 / 3) * (c[0].plan() + c[1].plan() + c[2].plan());
    if (std::abs(middle.x - 50) > 10 || std::abs(middle.y - 50) > 10) parts.triangles.push_back(grid->triangles()[t]);
  }
  ground::dropUnusedPoints(parts);
  const ground::Tin holed(std::move(parts));
  BuildInput none;
  const auto found = of(ground::check(holed, none, {}, {}, {}), DoubtKind::hole);
  REQUIRE(found.size() == 1);
  CHECK(found[0].text.find("400.0\u00a0m²") != std::string::npos);
  BuildInput explained;
  explained.voids.push_back({{{40, 40}, {60, 40}, {60, 60}, {40, 60}}, {}});
  CHECK(of(ground::check(holed, explained, {}, {}, {}), DoubtKind::hole).empty());

  BuildInput bounded = survey();
  bounded.boundaries.push_back({{{20, 20}, {100, 20}, {100, 100}, {20, 100}}, {}});
  CHECK(of(doubtsOf(bounded), DoubtKind::pointsOutside).size() == 1);
  CHECK(of(doubtsOf(bounded), DoubtKind::borderSlivers).empty());
}

TEST_CASE("An extent or relief out of proportion is told") {
  BuildInput tiny, tall;
  tiny.points = {{0, 0, 1}, {0.2, 0, 1}, {0, 0.2, 1}};
  tall.points = {{0, 0, 1}, {20, 0, 900}, {0, 20, 1}};
  CHECK(of(doubtsOf(tiny), DoubtKind::oddExtent).size() == 1);
  CHECK(of(doubtsOf(tall), DoubtKind::oddExtent).size() == 1);
}

TEST_CASE("Many of a kind are cut short, and the last says how many more") {
  BuildInput input = survey();
  for (std::size_t i = 0; i < input.points.size(); i += 4) input.points[i].z = 0;
  const auto found = of(doubtsOf(input), DoubtKind::zeroLevel);
  REQUIRE(found.size() == 100);
  CHECK(found.back().text.find("more like it") != std::string::npos);
}

TEST_CASE("Every kind of doubt has a name that is read back") {
  for (int k = 0; k <= static_cast<int>(DoubtKind::mendLost); ++k) {
    const auto kind = static_cast<DoubtKind>(k);
    CHECK(ground::doubtKindOf(ground::name(kind)) == kind);
  }
  CHECK_FALSE(ground::doubtKindOf("no-such"));
}
