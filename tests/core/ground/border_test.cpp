// Loops of the border, faces over each other, and holes filled.
#include "ground/border.h"

#include <catch2/catch.hpp>
#include <numeric>
#include <random>

#include "ground/check.h"
#include "ground/mend.h"
#include "ground/recut.h"
#include "plane/polygon.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using ground::Index;
using ground::Tin;
using ground::TinParts;
using plane::Vec2;

namespace {

TinParts partsOf(const Tin& tin) {
  TinParts parts;
  parts.points.assign(tin.points().begin(), tin.points().end());
  parts.triangles.assign(tin.triangles().begin(), tin.triangles().end());
  return parts;
}

// Both in one, without a thought for what lies over what.
Tin together(const Tin& a, const Tin& b) {
  TinParts parts = partsOf(a);
  const auto first = static_cast<Index>(parts.points.size());
  parts.points.insert(parts.points.end(), b.points().begin(), b.points().end());
  for (auto t : b.triangles()) {
    for (Index& v : t) v += first;
    parts.triangles.push_back(t);
  }
  return Tin(std::move(parts));
}

template <class Wanted>
ground::TinPtr only(const Tin& tin, Wanted&& wanted) {
  TinParts parts = partsOf(tin);
  std::vector<ground::Triangle> kept;
  for (Index t = 0; t < parts.triangles.size(); ++t) {
    const auto c = tin.corners(t);
    if (wanted((1.0 / 3) * (c[0].plan() + c[1].plan() + c[2].plan()))) kept.push_back(parts.triangles[t]);
  }
  parts.triangles = std::move(kept);
  ground::dropUnusedPoints(parts);
  return std::make_shared<Tin>(std::move(parts));
}

double hilly(double x, double y) {
  return 10 + std::sin(x / 7) + std::cos(y / 9);
}

}  // namespace

TEST_CASE("Border loops run around the ground and around its holes, and enclose its area", "[random]") {
  std::mt19937 random(8);
  const auto whole = scatteredGround(100, 500, random, hilly);
  const auto tin = only(*whole, [](Vec2 p) { return plane::distance(p, {50, 50}) > 14; });
  const auto loops = ground::borderLoops(tin->triangles(), tin->neighbours());
  REQUIRE(loops.size() >= 2);
  double area = 0;
  std::size_t sides = 0;
  for (const auto& loop : loops) {
    plane::Ring ring;
    for (const Index v : loop) ring.push_back(tin->plan(v));
    area += plane::signedArea(ring);
    sides += loop.size();
  }
  CHECK(area == Approx(ground::statistics(*tin).planArea));
  std::size_t border = 0;
  for (const auto& n : tin->neighbours())
    border += static_cast<std::size_t>(std::count(n.begin(), n.end(), ground::kNone));
  CHECK(sides == border);
  for (auto loop : loops) {
    std::sort(loop.begin(), loop.end());
    CHECK(std::adjacent_find(loop.begin(), loop.end()) == loop.end());
  }
}

TEST_CASE("A ground covers what lies inside closed walls and on islands in its holes", "[random]") {
  std::mt19937 random(3);
  for (int round = 0; round < 20; ++round) {
    const auto whole = scatteredGround(100, 600, random, hilly);
    std::uniform_real_distribution<double> radius(3, 11), share(0.2, 1);
    // Rings round the middle: land, a hole, or land that stands higher, each with points of its own.
    std::vector<std::pair<double, int>> rings;
    for (double r = radius(random); r < 45; r += radius(random)) rings.push_back({r, share(random) < 0.4 ? 2 : 0});
    const auto ringOf = [&](Vec2 p) {
      const double d = plane::distance(p, {50, 50});
      return static_cast<std::size_t>(std::ranges::count_if(rings, [&](const auto& ring) { return ring.first < d; }));
    };
    ground::TinPtr made;
    for (std::size_t k = 0; k <= rings.size(); ++k) {
      if (k < rings.size() && rings[k].second == 2) continue;
      const auto ring = only(*whole, [&](Vec2 p) { return ringOf(p) == k; });
      if (!ring->empty()) made = made ? ground::TinPtr(new Tin(together(*made, *ring))) : ring;
    }
    REQUIRE(made);
    const plane::Areas cover = ground::coverOf(*made);
    CHECK(plane::area(cover) == Approx(ground::statistics(*made).planArea).epsilon(1e-9));
    for (Index t = 0; t < made->triangles().size(); ++t) CHECK(plane::contains(cover, ground::centroid(*made, t)));
  }
}

TEST_CASE("Faces over each other are found wherever they are, and a sound ground has none", "[random]") {
  std::mt19937 random(5);
  for (int round = 0; round < 10; ++round) {
    const auto a = scatteredGround(100, 300, random, hilly);
    CHECK(ground::facesOver(*a, {}).sides == 0);
    CHECK(ground::facesOver(*only(*a, [](Vec2 p) { return plane::distance(p, {50, 50}) > 14; }), {}).sides == 0);
    // Another sheet a few metres wide somewhere over it.
    const double x = std::uniform_real_distribution<double>(-3, 95)(random), y = 30;
    const auto b = evenGridGround(
        8, 2, [](double, double) { return 50.0; }, x, y);
    const auto over = ground::facesOver(together(*a, *b), {});
    CHECK(over.sides > 0);
    CHECK(over.where.x > x - 1e-6);
    CHECK(over.where.x < x + 8 + 1e-6);
    CHECK(over.length > 8);
  }
  // Side by side, sharing a side in place but not in points, nothing lies over anything.
  const auto left = evenGridGround(50, 5, hilly), right = evenGridGround(50, 7, hilly, 50, 0);
  CHECK(ground::facesOver(together(*left, *right), {}).sides == 0);
  // A strip of 10 m that both cover: its two ends and two long sides.
  const auto shifted = evenGridGround(50, 7, hilly, 40, 0.5);
  const auto over = ground::facesOver(together(*left, *shifted), {});
  CHECK(over.length == Approx(2 * (10 + 49.5)).margin(1e-2));
  // One triangle folded back into another: its three sides, and the one they share as the other has it.
  TinParts folded;
  folded.points = {{0, 0, 0}, {10, 0, 0}, {5, 8, 0}, {5, 4, 3}};
  folded.triangles = {{0, 1, 2}, {0, 1, 3}};
  CHECK(ground::facesOver(Tin(std::move(folded)), {}).sides == 4);
}

TEST_CASE("A hole is filled between its points, its doubt goes, and the rest stays as it was", "[random]") {
  std::mt19937 random(11);
  for (int round = 0; round < 10; ++round) {
    const auto whole = scatteredGround(100, 400, random, hilly);
    const Vec2 middle{std::uniform_real_distribution<double>(30, 70)(random), 50};
    const auto tin = only(*whole, [&](Vec2 p) { return plane::distance(p, middle) > 9; });
    const auto holes = [&](const Tin& of) {
      std::vector<ground::Doubt> list;
      for (const auto& d : ground::check(of, {}, {}, {}, {})) {
        if (d.kind == ground::DoubtKind::hole) list.push_back(d);
      }
      return list;
    };
    const auto found = holes(*tin);
    REQUIRE_FALSE(found.empty());
    std::vector<ground::Mend> mends;
    for (const auto& d : found) mends.push_back(ground::FillHole{d.where});
    ground::Doubts doubts;
    const auto filled = ground::mended(*tin, mends, {}, doubts);
    CHECK(doubts.empty());
    CHECK(holes(*filled).empty());
    CHECK(filled->points().size() == tin->points().size());
    CHECK(ground::statistics(*filled).planArea ==
          Approx(ground::statistics(*whole).planArea).epsilon(0.02));  // but for bays at the hull
    CHECK(ground::facesOver(*filled, {}).sides == 0);
    const Vec2 away{5, 5};
    CHECK(filled->levelAt(away) == tin->levelAt(away));
  }
  // A hole that touches the border in a point is one too.
  TinParts pinched;
  pinched.points = {{10, 0, 1}, {5, 8, 2}, {15, 8, 3}, {0, 0, 4}, {20, 0, 5}, {20, 20, 6}, {0, 20, 7}};
  pinched.triangles = {{3, 0, 1}, {0, 4, 2}, {4, 5, 2}, {1, 2, 5}, {1, 5, 6}, {3, 1, 6}};
  const Tin tin(std::move(pinched));
  auto loops = ground::borderLoops(tin.triangles(), tin.neighbours());
  REQUIRE(loops.size() == 2);
  std::ranges::sort(loops, {}, [](const auto& loop) { return loop.size(); });
  CHECK(loops[0].size() == 3);
  CHECK(loops[1].size() == 5);
  ground::Doubts none;
  const std::vector<ground::Mend> fill{ground::FillHole{{10, 8}}};
  CHECK(ground::statistics(*ground::mended(tin, fill, {}, none)).planArea == Approx(400));
  CHECK(none.empty());
  // Where there is no hole, the mend is lost and says so.
  const auto plain = evenGridGround(50, 5, hilly);
  ground::Doubts doubts;
  const std::vector<ground::Mend> outer{ground::FillHole{{25, 0}}, ground::FillHole{{25, 25}}};
  CHECK(ground::mended(*plain, outer, {}, doubts)->triangles().size() == plain->triangles().size());
  REQUIRE(doubts.size() == 2);
  CHECK(doubts[0].text.find("fill a hole") != std::string::npos);
}
