// Chords keep within their error of arcs, ellipses and splines.
#include "plane/curves.h"

#include <catch2/catch.hpp>
#include <numbers>
#include <random>

using namespace inselberg;
using plane::Vec2;
using plane::Vec3;

namespace {

constexpr double kPi = std::numbers::pi;

// The greatest distance of a chain from a circle, at its corners and in the middle of its chords.
struct Off {
  double corners = 0, middles = 0;
};
Off offCircle(const std::vector<Vec2>& chain, Vec2 centre, double radius) {
  Off off;
  for (std::size_t i = 0; i < chain.size(); ++i) {
    off.corners = std::max(off.corners, std::abs(plane::distance(chain[i], centre) - radius));
    if (i == 0) continue;
    const Vec2 middle = 0.5 * (chain[i - 1] + chain[i]);
    off.middles = std::max(off.middles, std::abs(plane::distance(middle, centre) - radius));
  }
  return off;
}

}  // namespace

TEST_CASE("Chords of an arc end at its ends and stay within the error of it", "[random]") {
  std::mt19937 random(11);
  std::uniform_real_distribution<double> any(-1, 1);
  for (int i = 0; i < 300; ++i) {
    const Vec2 centre{1000 * any(random), 1000 * any(random)};
    const double radius = std::exp(6 * any(random)), from = 4 * any(random), angle = 2 * kPi * std::abs(any(random));
    const double error = 0.05 * std::exp(3 * any(random));
    CAPTURE(radius, angle, error);
    const auto chain = plane::ellipseChords(centre, {radius, 0}, {0, radius}, from, from + angle, error);
    const Off off = offCircle(chain, centre, radius);
    CHECK(off.corners < 1e-9 * (radius + 1000));
    CHECK(off.middles <= std::max(error, radius * (1 - std::cos(kPi / 512))) + 1e-9);
    CHECK(plane::distance(chain.back(), centre + radius * Vec2{std::cos(from + angle), std::sin(from + angle)}) < 1e-6);
  }
}

TEST_CASE("A bulge of one is a half circle, to the right for plus and to the left for minus") {
  const Vec2 a{10, 20}, b{30, 20};
  for (const double bulge : {1.0, -1.0}) {
    auto chain = plane::bulgeChords(a, b, bulge, 0.001);
    CHECK(chain.back() == b);
    const Vec2 middle = chain[chain.size() / 2 - 1];
    CHECK(middle.y == Approx(20 - 10 * bulge).margin(0.1));
    chain.insert(chain.begin(), a);
    CHECK(offCircle(chain, {20, 20}, 10).middles <= 0.001 + 1e-9);
  }
  CHECK(plane::bulgeChords(a, b, 0, 0.01) == std::vector<Vec2>{b});
  CHECK(plane::bulgeChords(a, a, 1, 0.01) == std::vector<Vec2>{a});
}

TEST_CASE("A bulge is the tangent of a quarter of the arc's angle", "[random]") {
  std::mt19937 random(5);
  std::uniform_real_distribution<double> any(0.05, 5.5);
  for (int i = 0; i < 100; ++i) {
    const double angle = any(random), radius = 7;
    const Vec2 a{radius, 0}, b{radius * std::cos(angle), radius * std::sin(angle)};
    auto chain = plane::bulgeChords(a, b, std::tan(angle / 4), 0.01);
    chain.insert(chain.begin(), a);
    CAPTURE(angle);
    CHECK(offCircle(chain, {0, 0}, radius).corners < 1e-9);
  }
}

TEST_CASE("A spline of degree one is its control polygon, and a rational one of degree two is a circle") {
  plane::Spline line{1, {0, 0, 1, 2, 2}, {{0, 0, 1}, {10, 0, 2}, {10, 10, 3}}, {}};
  REQUIRE(plane::isSound(line));
  CHECK(plane::splineChords(line, 0.01) == line.control);
  const double w = std::sqrt(0.5);
  plane::Spline quarter{2, {0, 0, 0, 1, 1, 1}, {{5, 0, 7}, {5, 5, 7}, {0, 5, 7}}, {1, w, 1}};
  REQUIRE(plane::isSound(quarter));
  std::vector<Vec2> chain;
  for (const Vec3& p : plane::splineChords(quarter, 0.001)) {
    chain.push_back(p.plan());
    CHECK(p.z == Approx(7));
  }
  const Off off = offCircle(chain, {0, 0}, 5);
  CHECK(off.corners < 1e-12);
  CHECK(off.middles <= 0.001);
}

TEST_CASE("Splines that do not fit together are told") {
  const plane::Spline good{2, {0, 0, 0, 1, 1, 1}, {{5, 0, 7}, {5, 5, 7}, {0, 5, 7}}, {}};
  REQUIRE(plane::isSound(good));
  auto bad = good;
  bad.knots.pop_back();
  CHECK_FALSE(plane::isSound(bad));
  bad = good;
  bad.knots[2] = 2;
  CHECK_FALSE(plane::isSound(bad));
  bad = good;
  bad.weights = {1, 0, 1};
  CHECK_FALSE(plane::isSound(bad));
  bad = good;
  bad.knots.assign(6, 1);
  CHECK_FALSE(plane::isSound(bad));
}

TEST_CASE("A curve through points meets every one of them, and through points on a line is that line") {
  const std::vector<Vec3> through{{0, 0, 1}, {10, 4, 2}, {20, 0, 3}, {30, 10, 4}};
  const auto chain = plane::fittedChords(through, 0.01);
  CHECK(chain.size() > 10);
  for (const Vec3& p : through) {
    CHECK(std::any_of(chain.begin(), chain.end(),
                      [&](const Vec3& q) { return std::hypot(p.x - q.x, p.y - q.y, p.z - q.z) < 1e-9; }));
  }
  const std::vector<Vec3> straight{{0, 0, 0}, {1, 2, 3}, {4, 8, 12}, {5, 10, 15}};
  for (const Vec3& p : plane::fittedChords(straight, 0.01)) {
    CHECK(p.y == Approx(2 * p.x).margin(1e-9));
    CHECK(p.z == Approx(3 * p.x).margin(1e-9));
  }
}
