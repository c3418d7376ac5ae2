// Edits of lines keep what they should: places on the line, lengths, levels.
#include "ground/line_edit.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <random>

using namespace inselberg;
using ground::Breakline;
using ground::Vec2;
using ground::Vec3;

namespace {

const Breakline kBent{{{0, 0, 10}, {10, 0, 11}, {10, 10, 13}}, false, false};
const Breakline kRing{{{0, 0, 5}, {10, 0, 5}, {10, 10, 5}, {0, 10, 5}}, true, false};

Breakline randomLine(std::mt19937& random, bool closed) {
  std::uniform_real_distribution<double> any(0, 100);
  Breakline line;
  line.closed = closed;
  for (int i = 0; i < 8; ++i) line.vertices.push_back({any(random), any(random), any(random)});
  return line;
}

double lengthOf(const Breakline& line) {
  return ground::chainage(line).back();
}

}  // namespace

TEST_CASE("Chainage runs along the line, round a closed one") {
  CHECK(ground::chainage(kBent) == std::vector<double>{0, 10, 20});
  CHECK(ground::chainage(kRing) == std::vector<double>{0, 10, 20, 30, 40});
}

TEST_CASE("A vertex put in, and a split and join, change neither shape nor levels", "[random]") {
  std::mt19937 random(3);
  std::uniform_real_distribution<double> any(0, 100);
  for (int round = 0; round < 60; ++round) {
    CAPTURE(round);
    const Breakline line = randomLine(random, round % 2 == 1);
    const auto at = ground::nearestOn(line, {any(random), any(random)});
    const auto with = ground::withVertex(line, at);
    CHECK(with.vertices.size() == line.vertices.size() + 1);
    CHECK(lengthOf(with) == Approx(lengthOf(line)));
    CHECK(with.vertices[at.side + 1].z == Approx(ground::placeAt(line, at).z));
    CHECK(ground::withoutVertex(with, at.side + 1)->vertices == line.vertices);
    const auto parts = ground::split(line, at);
    double sum = 0;
    for (const Breakline& part : parts) sum += lengthOf(part);
    CHECK(sum == Approx(lengthOf(line)).margin(2e-3));
    for (const Breakline& part : parts) CHECK_FALSE(part.closed);
    if (parts.size() == 2) {
      const auto again = ground::joined(parts[0], parts[1]);
      REQUIRE(again);
      CHECK(lengthOf(*again) == Approx(lengthOf(line)));
      CHECK(again->vertices.front() == line.vertices.front());
    }
    CHECK(ground::reversed(ground::reversed(line)).vertices == line.vertices);
  }
}

TEST_CASE("Lines too short to lose a vertex keep it") {
  CHECK_FALSE(ground::withoutVertex({{{0, 0, 0}, {1, 0, 0}}, false, false}, 0));
  CHECK_FALSE(ground::withoutVertex({{{0, 0, 0}, {1, 0, 0}, {0, 1, 0}}, true, false}, 0));
  CHECK_FALSE(ground::joined(kRing, kBent));
}

TEST_CASE("Lines are joined at the ends that lie nearest, over a gap") {
  const Breakline other{{{40, 12, 20}, {12, 12, 14}}, false, false};
  const auto line = ground::joined(kBent, other);
  REQUIRE(line);
  CHECK(line->vertices == std::vector<Vec3>{{0, 0, 10}, {10, 0, 11}, {10, 10, 13}, {12, 12, 14}, {40, 12, 20}});
}

TEST_CASE("An offset lies at its distance, to the left for plus, and back again is the line") {
  const auto left = ground::offset(kBent, 2);
  REQUIRE(left);
  CHECK(left->vertices == std::vector<Vec3>{{0, 2, 10}, {8, 2, 11}, {8, 10, 13}});
  const auto back = ground::offset(*left, -2);
  for (std::size_t i = 0; i < 3; ++i)
    CHECK(plane::distance(back->vertices[i].plan(), kBent.vertices[i].plan()) < 1e-12);
  const auto inside = ground::offset(kRing, 2), outside = ground::offset(kRing, -2);
  CHECK(lengthOf(*inside) == Approx(24));
  CHECK(lengthOf(*outside) == Approx(56));
  CHECK_FALSE(ground::offset(kRing, 6));  // nothing is left inside
  // A sharp corner is cut, not drawn out to a needle.
  const Breakline sharp{{{0, 0, 0}, {100, 0, 0}, {0, 1, 0}}, false, false};
  const auto cut = ground::offset(sharp, -3);
  for (const Vec3& v : cut->vertices) CHECK(v.x < 104);
}

TEST_CASE("Trimming cuts back to another line, extending goes on to it in direction and grade") {
  const Breakline wall{{{6, -5, 0}, {6, 5, 0}}, false, false};
  const Breakline line{{{0, 0, 10}, {10, 0, 20}}, false, false};
  CHECK(ground::trimmedTo(line, wall, {10, 0})->vertices == std::vector<Vec3>{{0, 0, 10}, {6, 0, 16}});
  CHECK(ground::trimmedTo(line, wall, {0, 0})->vertices == std::vector<Vec3>{{6, 0, 16}, {10, 0, 20}});
  const Breakline far{{{30, -5, 0}, {30, 5, 0}}, false, false};
  CHECK_FALSE(ground::trimmedTo(line, far, {10, 0}));
  CHECK(ground::extendedTo(line, far, {10, 0})->vertices.back() == Vec3{30, 0, 40});
  CHECK_FALSE(ground::extendedTo(line, far, {0, 0}));
  CHECK_FALSE(ground::extendedTo(line, {{{30, 5, 0}, {30, 9, 0}}, false, false}, {10, 0}));
}

TEST_CASE("Rounded corners are arcs of their radius that touch the sides") {
  const auto line = ground::rounded(kBent, 3);
  CHECK(line.vertices.front() == kBent.vertices.front());
  CHECK(line.vertices.back() == kBent.vertices.back());
  int onArc = 0;
  for (const Vec3& v : line.vertices) onArc += std::abs(plane::distance(v.plan(), {7, 3}) - 3) < 1e-9 ? 1 : 0;
  CHECK(onArc == static_cast<int>(line.vertices.size()) - 2);
  CHECK(onArc > 5);
  CHECK(lengthOf(line) == Approx(14 + 1.5 * std::numbers::pi).epsilon(1e-3));
  CHECK(ground::rounded(kBent, 30).vertices == kBent.vertices);  // no room
  CHECK(lengthOf(ground::rounded(kRing, 2)) == Approx(24 + 4 * std::numbers::pi).epsilon(1e-3));
}

TEST_CASE("Following a line between two places gives its vertices, the shorter way round") {
  const auto at = [&](const Breakline& line, Vec2 p) { return ground::nearestOn(line, p); };
  CHECK(ground::between(kBent, at(kBent, {5, 0}), at(kBent, {10, 5})) == std::vector<Vec3>{{10, 0, 11}});
  CHECK(ground::between(kRing, at(kRing, {1, 0}), at(kRing, {0, 9})) == std::vector<Vec3>{{0, 0, 5}});
  CHECK(ground::between(kRing, at(kRing, {0, 1}), at(kRing, {1, 0})) == std::vector<Vec3>{{0, 0, 5}});
  CHECK(ground::between(kRing, at(kRing, {9, 0}), at(kRing, {9, 10})).size() == 2);
  CHECK(ground::between(kBent, at(kBent, {10, 9}), at(kBent, {1, 0})) == std::vector<Vec3>{{10, 0, 11}});
}

TEST_CASE("Levels: constant, between two, by a grade, from a ground, from another line") {
  for (const Vec3& v : ground::atLevel(kBent, 7).vertices) CHECK(v.z == 7);
  const Breakline line{{{0, 0, 10}, {4, 0, 0}, {10, 0, 0}, {20, 0, 20}}, false, false};
  const auto straight = ground::levelledBetween(line, 3, 0);
  CHECK(straight.vertices[1].z == Approx(12));
  CHECK(straight.vertices[2].z == Approx(15));
  const auto graded = ground::levelledByGrade(line, 2, 0.05);
  CHECK(graded.vertices[3].z == Approx(0.5));
  CHECK(graded.vertices[0].z == Approx(-0.5));
  const auto draped = ground::levelledFrom(
      line, [](Vec2 p) { return p.x < 15 ? std::optional(50 + p.x) : std::nullopt; }, 0.25);
  CHECK(draped.vertices[2].z == Approx(60.25));
  CHECK(draped.vertices[3].z == 20);
  const Breakline other{{{0, 5, 100}, {20, 5, 120}}, false, false};
  CHECK(ground::levelledFromLine(line, other, -1).vertices[1].z == Approx(103));
}

TEST_CASE("Moving and turning keep lengths") {
  const auto there = ground::turned(ground::moved(kBent, {3, 4, 1}), {1, 1}, 0.7);
  CHECK(lengthOf(there) == Approx(20));
  CHECK(there.vertices[1].z == 12);
  const auto quarter = ground::turned(kBent, {0, 0}, std::numbers::pi / 2);
  CHECK(quarter.vertices[1].y == Approx(10));
}
