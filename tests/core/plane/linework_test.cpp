#include "plane/linework.h"

#include <tbb/global_control.h>

#include <array>
#include <catch2/catch.hpp>
#include <map>
#include <random>

using namespace inselberg;
using plane::Linework;
using plane::Vec2;

namespace {

constexpr double kTolerance = 1e-3;

struct Piece {
  Vec2 a, b;
  std::uint32_t tags;
};

// Random segments, and what is awkward: on a lattice, so that many touch, cross in corners and run along each other; a
// little off it; the same ones twice and the other way round.
std::vector<Piece> awkward(std::mt19937& random, int count, double size) {
  std::uniform_int_distribution<int> lattice(0, 12), kind(0, 5);
  std::uniform_real_distribution<double> off(-0.8 * kTolerance, 0.8 * kTolerance), anywhere(0, size);
  std::vector<Piece> pieces;
  const auto onLattice = [&] { return Vec2{lattice(random) * size / 12, lattice(random) * size / 12}; };
  for (int i = 0; i < count; ++i) {
    const auto tag = 1u << (i % 5);
    switch (kind(random)) {
      case 0:
        pieces.push_back({{anywhere(random), anywhere(random)}, {anywhere(random), anywhere(random)}, tag});
        break;
      case 1:
        pieces.push_back({onLattice() + Vec2{off(random), off(random)}, onLattice(), tag});
        break;
      case 2:
        if (!pieces.empty()) pieces.push_back({pieces.back().b, pieces.back().a, tag});
        break;
      default:
        pieces.push_back({onLattice(), onLattice(), tag});
    }
  }
  return pieces;
}

Linework collected(const std::vector<Piece>& pieces) {
  Linework work(kTolerance);
  for (const Piece& p : pieces) work.addSegment(p.a, p.b, p.tags);
  return work;
}

void checkGuarantees(const Linework& work) {
  const auto& points = work.points();
  for (std::size_t i = 0; i < points.size(); ++i) {
    for (std::size_t j = 0; j < i; ++j) CHECK(plane::distance(points[i], points[j]) > kTolerance);
  }
  std::map<std::pair<Linework::Index, Linework::Index>, int> times;
  for (const auto& s : work.segments()) {
    CHECK(s.a != s.b);
    CHECK(++times[std::minmax(s.a, s.b)] == 1);
    for (Linework::Index v = 0; v < points.size(); ++v) {
      if (v != s.a && v != s.b)
        CHECK(plane::nearestOnSegment(points[v], points[s.a], points[s.b]).distance > kTolerance);
    }
  }
}

// Every place of what was put in lies near a segment that bears its tags.
void checkCovered(const Linework& work, const std::vector<Piece>& pieces, double within) {
  for (const Piece& p : pieces) {
    if (plane::distance(p.a, p.b) <= 2 * kTolerance) continue;
    for (const double t : {0.03, 0.31, 0.5, 0.77, 0.96}) {
      const Vec2 at = p.a + t * (p.b - p.a);
      double nearest = 1e300;
      for (const auto& s : work.segments()) {
        if ((s.tags & p.tags) != p.tags) continue;
        nearest = std::min(nearest, plane::nearestOnSegment(at, work.points()[s.a], work.points()[s.b]).distance);
      }
      CHECK(nearest <= within);
    }
  }
}

}  // namespace

TEST_CASE("Guarantees 1 to 3: noded vertices are apart, lie on no segment, and segments occur once") {
  for (unsigned seed = 0; seed < 25; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    const auto pieces = awkward(random, 40, seed % 2 == 0 ? 10 : 500);
    Linework work = collected(pieces);
    work.node();
    checkGuarantees(work);
    checkCovered(work, pieces, 3 * kTolerance);
  }
}

TEST_CASE("Where crossings get vertices too, no two segments cross any more but within the tolerance of their ends") {
  for (unsigned seed = 100; seed < 120; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    const auto pieces = awkward(random, 30, 40);
    Linework work = collected(pieces);
    work.nodeCrossings();
    checkGuarantees(work);
    checkCovered(work, pieces, 6 * kTolerance);
    const auto& all = work.segments();
    for (std::size_t i = 0; i < all.size(); ++i) {
      for (std::size_t j = 0; j < i; ++j) {
        if (all[i].a == all[j].a || all[i].a == all[j].b || all[i].b == all[j].a || all[i].b == all[j].b) continue;
        const auto& p = work.points();
        const auto along = plane::crossingAlong(p[all[i].a], p[all[i].b], p[all[j].a], p[all[j].b]);
        if (!along) continue;
        // Only such as pass each other's ends by about the tolerance.
        const Vec2 at = p[all[i].a] + *along * (p[all[i].b] - p[all[i].a]);
        // Of two in line with each other rounding says that they cross where one has ended.
        if (plane::nearestOnSegment(at, p[all[j].a], p[all[j].b]).distance > kTolerance) continue;
        double end = 1e300;
        for (const auto v : {all[i].a, all[i].b, all[j].a, all[j].b}) end = std::min(end, plane::distance(p[v], at));
        CHECK(end < 2 * kTolerance);
      }
    }
  }
}

TEST_CASE("Every crossing is found once, in a dense cluster too, and with a stray segment far away", "[random]") {
  for (unsigned round = 0; round < 6; ++round) {
    std::mt19937 random(60 + round);
    CAPTURE(round);
    std::uniform_real_distribution<double> place(0, 3), far(-1e6, 1e6);
    std::vector<Piece> pieces;
    for (int i = 0; i < 500; ++i) {
      const Vec2 a{place(random), place(random)}, b{place(random), place(random)};
      const double share = i % 3 == 0 ? 1 : 0.1;  // long ones and short ones
      pieces.push_back({a, a + share * (b - a), 0});
    }
    if (round % 2) pieces.push_back({{far(random), far(random)}, {far(random), far(random)}, 0});
    if (round > 3) pieces.push_back({{-3e5, -3e5 + 0.1}, {3e5, 3e5}, 0});  // through the cluster
    std::size_t crossings = 0;
    Linework work(1e-9);
    for (std::size_t i = 0; i < pieces.size(); ++i) {
      work.addSegment(pieces[i].a, pieces[i].b, 0);
      for (std::size_t j = 0; j < i; ++j)
        crossings += plane::crossingAlong(pieces[i].a, pieces[i].b, pieces[j].a, pieces[j].b).has_value();
    }
    work.nodeCrossings();
    CHECK(crossings > 1000);
    CHECK(work.points().size() == 2 * pieces.size() + crossings);
    CHECK(work.segments().size() == pieces.size() + 2 * crossings);
  }
}

TEST_CASE("Lines that keep apart from each other are crossed with all others, and told so comes to the same",
          "[random]") {
  std::mt19937 random(9);
  std::uniform_real_distribution<double> place(0, 100);
  constexpr std::uint32_t kLevel = 1, kUpright = 2, kAny = 4;
  std::vector<Piece> pieces;
  for (int i = 0; i < 60; ++i) {
    const double at = place(random);
    pieces.push_back({{place(random), at}, {place(random), at}, kLevel});
    pieces.push_back({{at, place(random)}, {at, place(random)}, kUpright});
    pieces.push_back({{place(random), place(random)}, {place(random), place(random)}, kAny});
  }
  const auto noded = [&](std::uint32_t apart) {
    Linework work(kTolerance);
    for (const Piece& p : pieces) work.addSegment(p.a, p.b, p.tags);
    work.nodeCrossings(apart);
    std::map<std::array<double, 4>, std::uint32_t> made;
    for (const auto& s : work.segments()) {
      Vec2 a = work.points()[s.a], b = work.points()[s.b];
      if (std::pair(b.x, b.y) < std::pair(a.x, a.y)) std::swap(a, b);
      made[{a.x, a.y, b.x, b.y}] = s.tags;
    }
    return made;
  };
  const auto all = noded(0);
  CHECK(all.size() > 1000);
  CHECK(noded(kLevel | kUpright) == all);
}

TEST_CASE("What comes out does not depend on how many cores there are") {
  std::mt19937 random(9);
  const auto pieces = awkward(random, 2500, 900);  // several chunks
  Linework many = collected(pieces);
  many.nodeCrossings();
  const tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);
  Linework alone = collected(pieces);
  alone.nodeCrossings();
  CHECK(many.points() == alone.points());
  REQUIRE(many.segments().size() == alone.segments().size());
  bool same = true;
  for (std::size_t i = 0; i < many.segments().size(); ++i) {
    const auto &s = many.segments()[i], &t = alone.segments()[i];
    same &= s.a == t.a && s.b == t.b && s.tags == t.tags;
  }
  CHECK(same);
}

TEST_CASE("A segment shorter than the tolerance only adds its ends, and one met by nothing stays as it is") {
  Linework work(kTolerance);
  work.addSegment({0, 0}, {0.5 * kTolerance, 0}, 1);
  CHECK(work.points().size() == 1);
  CHECK(work.segments().empty());
  work.addSegment({5, 5}, {6, 7}, 4);
  work.addSegment({6, 7}, {5, 5}, 2);
  work.nodeCrossings();
  REQUIRE(work.segments().size() == 1);
  CHECK(work.segments()[0].tags == 6);
  Linework none(kTolerance);
  none.nodeCrossings();
  CHECK(none.points().empty());
}
