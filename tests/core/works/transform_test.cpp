// Works moved, turned and mirrored as a whole.
#include "works/transform.h"

#include <catch2/catch.hpp>

#include "base/error.h"
#include "quantity/volume.h"
#include "support/grounds.h"
#include "support/mound.h"
#include "works/pad.h"
#include "works/works.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;

namespace {

works::Shape somePad(std::mt19937& random) {
  works::Pad pad{randomStar(random, {100, 90}, 8, 20, 7), 50.7, {}};
  pad.top = works::PadTop::tilted;
  pad.fall = 3, pad.bearing = 70;
  return pad;
}

double gap(const works::Shape& a, const works::Shape& b) {
  const auto p = works::outlineOf(a), q = works::outlineOf(b);
  REQUIRE(p.size() == q.size());
  double worst = 0;
  for (std::size_t i = 0; i < p.size(); ++i) worst = std::max(worst, plane::distance(p[i], q[i]));
  const auto f = works::fallOf(a), g = works::fallOf(b);
  const double turn = std::abs(f->bearing - g->bearing);
  return std::max(worst, std::min(turn, 360 - turn));
}

}  // namespace

TEST_CASE("Turning back, mirroring twice and shifting back leave a works as it was, and it stays sound", "[random]") {
  std::mt19937 random(61);
  std::uniform_real_distribution<double> u(-200, 200);
  for (int round = 0; round < 50; ++round) {
    const works::Shape pad = somePad(random);
    const Vec2 at{u(random), u(random)};
    const double angle = u(random);
    for (const auto& there : {works::turned(pad, at, angle), works::mirrored(pad, at, angle), works::shifted(pad, at)})
      CHECK_FALSE(works::wrong(there));
    CHECK(gap(works::turned(works::turned(pad, at, angle), at, -angle), pad) < 1e-9);
    CHECK(gap(works::mirrored(works::mirrored(pad, at, angle), at, angle), pad) < 1e-9);
    CHECK(gap(works::shifted(works::shifted(pad, at), -1 * at), pad) < 1e-9);
    // Two mirrors are a turn by twice the angle between them.
    CHECK(gap(works::mirrored(works::mirrored(pad, at, 0), at, angle), works::turned(pad, at, 2 * angle)) < 1e-9);
  }
}

TEST_CASE("A quarter turn clockwise takes north to east, and the fall with it") {
  const works::Shape pad = [] {
    works::Pad p{points("0 10, 4 10, 4 20, 0 20"), 50, {}};
    p.top = works::PadTop::tilted;
    return works::Shape(p);
  }();
  const auto east = works::turned(pad, {0, 0}, 90);
  CHECK(plane::distance(works::outlineOf(east)[0], {10, 0}) < 1e-12);
  CHECK(plane::distance(works::outlineOf(east)[1], {10, -4}) < 1e-12);
  CHECK(works::fallOf(east)->bearing == Approx(90));
  // Across the line north, west and east change sides.
  const auto west = works::mirrored(east, {0, 0}, 0);
  CHECK(plane::distance(works::outlineOf(west)[0], {-10, 0}) < 1e-12);
  CHECK(works::fallOf(west)->bearing == Approx(270));
  // Lines keep their direction.
  const works::Shape mound = works::mirrored(Mound{points("1 0, 5 2"), 3}, {0, 0}, 0);
  CHECK(plane::distance(works::placesOf(mound)[0].points[0], {-1, 0}) < 1e-12);
}

TEST_CASE("A mirrored works on level ground costs the same") {
  std::mt19937 random(62);
  const auto ground = gridGround(200, 9, [](double, double) { return 50.0; });
  const works::Shape pad = somePad(random);
  const auto cost = [&](const works::Shape& shape) {
    return works::costOf(works::place(shape, *ground, {}, {}), *ground, {});
  };
  const auto a = cost(pad), b = cost(works::mirrored(pad, {100, 90}, 33));
  CHECK(a.cut == Approx(b.cut).epsilon(1e-6).margin(1e-9));
  CHECK(a.fill == Approx(b.fill).epsilon(1e-6));
}

TEST_CASE("Rounded corners touch their sides, and take away what an arc does", "[random]") {
  works::Pad pad{rectangle(0, 0, 40, 20), 50, {}};
  const double radius = 4;
  works::Shape round = works::rounded(pad, radius);
  const double pi = 3.14159265358979;
  CHECK(plane::signedArea(works::outlineOf(round)) == Approx(800 - (4 - pi) * radius * radius).epsilon(2e-4));
  // Too large a radius: as far as half the shorter side lets it.
  round = works::rounded(pad, 100);
  CHECK(!works::wrong(round));
  CHECK(plane::signedArea(works::outlineOf(round)) == Approx(800 - (4 - pi) * 99.6).epsilon(2e-3));
  // Sections of edges reach to the end of the arc after them.
  pad.edges = {{1, {"", {works::legToGround(1, 1)}}}};
  round = works::rounded(pad, radius);
  const auto ring = works::outlineOf(round);
  std::size_t count = 0;
  for (const auto& e : round.as<works::Pad>()->edges) {
    const Vec2 a = ring[e.edge], b = ring[(e.edge + 1) % ring.size()];
    CHECK(std::min(a.x, b.x) > 35.9);
    CHECK(std::max(a.y, b.y) > 4 - 1e-9);
    ++count;
  }
  CHECK(count > 5);
  pad.edges.clear();
  pad.top = works::PadTop::corners, pad.cornerLevels = {1, 2, 3, 4};
  CHECK_THROWS_AS(works::rounded(pad, radius), Error);
  std::mt19937 random(8);
  for (int i = 0; i < 60; ++i) {
    const works::Shape star = works::rounded(somePad(random), 0.3 * (1 + i % 20));
    CHECK(!works::wrong(star));
  }
  // The ends of a line stay.
  works::Berm berm;
  berm.line = {{0, 0}, {20, 0}, {20, 30}};
  const auto line = works::placesOf(works::rounded(berm, 5)).front().points;
  CHECK(line.front() == Vec2{0, 0});
  CHECK(line.back() == Vec2{20, 30});
  CHECK(line.size() > 6);
}
