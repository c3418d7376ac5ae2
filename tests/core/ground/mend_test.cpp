// Mends do what they say to the place they name, and nothing elsewhere.
#include "ground/mend.h"

#include <catch2/catch.hpp>
#include <random>

#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using ground::Vec2;
using ground::Vec3;

namespace {

ground::TinPtr mend(const ground::Tin& tin, std::vector<ground::Mend> mends, std::size_t lost = 0) {
  ground::Doubts doubts;
  auto result = ground::mended(tin, mends, {}, doubts);
  CHECK(doubts.size() == lost);
  for (const auto& d : doubts) CHECK(d.kind == ground::DoubtKind::mendLost);
  return result;
}

double planArea(const ground::Tin& tin) {
  return ground::statistics(tin).planArea;
}

// Sound: every triangle counter-clockwise, and the area that of one covering of the plan.
void checkSound(const ground::Tin& tin, double area) {
  for (ground::Index t = 0; t < tin.triangles().size(); ++t) {
    const auto c = tin.corners(t);
    CHECK(plane::turn(c[0].plan(), c[1].plan(), c[2].plan()) > 0);
  }
  CHECK(planArea(tin) == Approx(area));
}

// Two triangles over a square, the shared side from (0, 0) to (10, 10).
ground::TinPtr square() {
  ground::TinParts parts;
  parts.points = {{0, 0, 0}, {10, 0, 1}, {10, 10, 4}, {0, 10, 3}};
  parts.triangles = {{0, 1, 2}, {0, 2, 3}};
  parts.breaks = {1, 1};  // the right side, and the upper
  return std::make_shared<ground::Tin>(std::move(parts));
}

}  // namespace

TEST_CASE("A side is swapped, its breaklines stay, and swapped back it is as before") {
  const auto tin = square();
  CHECK(*tin->levelAt({5, 5}) == Approx(2));
  const auto swapped = mend(*tin, {ground::SwapEdge{{0, 0}, {10, 10}}});
  CHECK(swapped->triangles().size() == 2);
  CHECK(*swapped->levelAt({5, 5}) == Approx(2));
  CHECK(*swapped->levelAt({5, 4.9}) == Approx(1.97));
  checkSound(*swapped, 100);
  int breaks = 0;
  for (ground::Index t = 0; t < 2; ++t) {
    for (int k = 0; k < 3; ++k) {
      if (!swapped->isBreak(t, k)) continue;
      ++breaks;
      const Vec2 a = swapped->plan(swapped->triangles()[t][static_cast<std::size_t>(ground::next(k))]);
      const Vec2 b = swapped->plan(swapped->triangles()[t][static_cast<std::size_t>(ground::before(k))]);
      CHECK(((a.x == 10 && b.x == 10) || (a.y == 10 && b.y == 10)));
    }
  }
  CHECK(breaks == 2);
  const auto back = mend(*tin, {ground::SwapEdge{{0, 0}, {10, 10}}, ground::SwapEdge{{10, 0}, {0, 10}}});
  for (const Vec2 p : {Vec2{3, 1}, Vec2{1, 3}, Vec2{9, 2}}) CHECK(*back->levelAt(p) == Approx(*tin->levelAt(p)));
}

TEST_CASE("A side at the border, or in a quadrangle that is not convex, is not swapped") {
  const auto tin = square();
  mend(*tin, {ground::SwapEdge{{0, 0}, {10, 0}}}, 1);
  mend(*tin, {ground::SwapEdge{{3, 3}, {10, 0}}}, 1);
  ground::TinParts parts;
  parts.points = {{0, 0, 0}, {10, 0, 0}, {2, 2, 0}, {0, 10, 0}};
  parts.triangles = {{0, 1, 2}, {0, 2, 3}};
  mend(ground::Tin(std::move(parts)), {ground::SwapEdge{{0, 0}, {2, 2}}}, 1);
}

TEST_CASE("A triangle is deleted by its middle, and only when it still is that triangle") {
  const auto tin = square();
  const auto left = mend(*tin, {ground::DeleteTriangle{{20.0 / 3, 10.0 / 3}}});
  CHECK(left->triangles().size() == 1);
  CHECK_FALSE(left->levelAt({9, 1}));
  CHECK(left->levelAt({1, 9}));
  mend(*tin, {ground::DeleteTriangle{{7, 3}}}, 1);
}

TEST_CASE("Points deleted at random leave the others, the area and the levels of the others", "[random]") {
  std::mt19937 random(21);
  const auto hills = randomHills(random, 4);
  const auto tin = scatteredGround(100, 120, random, hills);
  for (int round = 0; round < 40; ++round) {
    const Vec3 p = tin->points()[random() % tin->points().size()];
    const bool corner = (p.x == 0 || p.x == 100) && (p.y == 0 || p.y == 100);
    if (corner) continue;
    CAPTURE(round, p.x, p.y);
    const auto without = mend(*tin, {ground::DeletePoint{p.plan()}});
    CHECK(without->points().size() == tin->points().size() - 1);
    const bool border = p.x == 0 || p.x == 100 || p.y == 0 || p.y == 100;
    if (!border) checkSound(*without, planArea(*tin));
    for (const Vec3& q : tin->points()) {
      if (q == p) continue;
      const auto z = without->levelAt(q.plan());
      if (!z && border) continue;
      REQUIRE(z);
      CHECK(*z == Approx(q.z).margin(1e-9));
    }
  }
}

TEST_CASE("A point added inside, on a side and at the border has its level, and on another point it has no place",
          "[random]") {
  const auto tin = square();
  for (const Vec3 p : {Vec3{7, 2, 9}, Vec3{5, 5, 9}, Vec3{5, 0, 9}}) {
    CAPTURE(p.x, p.y);
    const auto with = mend(*tin, {ground::AddPoint{p}});
    CHECK(*with->levelAt(p.plan()) == Approx(9));
    checkSound(*with, 100);
    // Deleted again the place has a level between its neighbours'.
    const auto again = mend(*with, {ground::DeletePoint{p.plan()}});
    CHECK(*again->levelAt({p.x, p.y + 1e-9}) < 5);
  }
  mend(*tin, {ground::AddPoint{{10, 10, 5}}}, 1);
  mend(*tin, {ground::AddPoint{{30, 10, 5}}}, 1);
}

TEST_CASE("A point at a wall is deleted on both sides, and both are filled again") {
  // Two grids side by side, the right one 5 m higher: a wall along x = 10 with two points in each place.
  std::mt19937 random(3);
  std::uniform_real_distribution<double> step(-0.8, 0.8);
  const auto left = evenGridGround(10, 4, [](double x, double y) { return 0.1 * x + 0.02 * y; });
  const auto right = evenGridGround(
      10, 4, [](double x, double y) { return 5 + 0.1 * x + 0.02 * y; }, 10, 0);
  ground::TinParts parts;
  for (const auto& side : {left, right}) {
    const auto first = static_cast<ground::Index>(parts.points.size());
    parts.points.insert(parts.points.end(), side->points().begin(), side->points().end());
    for (const auto& t : side->triangles()) parts.triangles.push_back({first + t[0], first + t[1], first + t[2]});
  }
  for (Vec3& p : parts.points) {  // crooked inside
    if (p.x > 0.1 && p.x < 9.9 && p.y > 0.1 && p.y < 9.9) p.x += step(random), p.y += step(random);
  }
  const ground::Tin tin(std::move(parts));
  const auto gone = mend(tin, {ground::DeletePoint{{10, 5}}});
  CHECK(gone->points().size() == tin.points().size() - 2);
  checkSound(*gone, 200);
  for (const double y : {1.0, 4.0, 5.0, 6.0, 9.0}) {
    CHECK(*gone->levelAt({9.999, y}) < 2);
    CHECK(*gone->levelAt({10.001, y}) > 5);
  }
}
