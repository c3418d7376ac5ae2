// Contours leave flats; the cure takes them away without leaving the levels between the contours.
#include "ground/flats.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "ground/build.h"
#include "support/grounds.h"

using namespace inselberg;
using ground::Breakline;

namespace {

std::size_t flatsIn(const ground::Tin& tin) {
  std::size_t n = 0;
  for (ground::Index t = 0; t < tin.triangles().size(); ++t) {
    const auto c = tin.corners(t);
    const double area = plane::turn(c[0].plan(), c[1].plan(), c[2].plan());
    n += c[0].z == c[1].z && c[0].z == c[2].z && area > 0.1 ? 1 : 0;
  }
  return n;
}

Breakline contour(std::vector<ground::Vec3> vertices, bool closed = false) {
  return {std::move(vertices), closed, true};
}

// A valley: level |x| / 4 + y / 20, as V-shaped contours at every metre.
std::vector<Breakline> valley() {
  std::vector<Breakline> lines;
  for (int z = 1; z <= 10; ++z) {
    std::vector<ground::Vec3> way;
    for (int i = 0; i <= 10; ++i) way.push_back({-4.0 * z * (1 - i / 10.0), 20.0 * z * i / 10, 1.0 * z});
    for (int i = 9; i >= 0; --i) way.push_back({4.0 * z * (1 - i / 10.0), 20.0 * z * i / 10, 1.0 * z});
    lines.push_back(contour(std::move(way)));
  }
  return lines;
}

ground::BuildResult built(std::vector<Breakline> lines, bool cure) {
  ground::BuildRules rules;
  rules.cureFlats = cure;
  return ground::build({{}, std::move(lines), {}, {}}, rules, {}, {});
}

}  // namespace

TEST_CASE("The cure leaves no flat in a valley, and falls evenly along its bottom") {
  const auto plain = built(valley(), false), cured = built(valley(), true);
  CHECK(flatsIn(*plain.tin) > 20);
  CHECK(plain.flatPoints == 0);
  CHECK(flatsIn(*cured.tin) == 0);
  CHECK(cured.flatPoints > 10);
  for (double y = 30; y < 180; y += 7) {
    const double truth = y / 20;
    CAPTURE(y);
    CHECK(std::abs(*cured.tin->levelAt({0, y}) - truth) < 0.25);
  }
  // Nowhere does it leave the two contours around a place.
  for (double x = -20; x <= 20; x += 1.3) {
    for (double y = 40; y < 100; y += 3.1) {
      const auto level = cured.tin->levelAt({x, y});
      if (!level) continue;
      const double truth = std::abs(x) / 4 + y / 20;
      CHECK(*level > std::floor(truth) - 1e-6);
      CHECK(*level < std::ceil(truth) + 1e-6);
    }
  }
}

TEST_CASE("A top rises over its highest contour, a hollow falls below its lowest, by less than half a step") {
  for (const double sign : {1.0, -1.0}) {
    std::vector<Breakline> rings;
    for (int k = 0; k < 4; ++k) {
      std::vector<ground::Vec3> ring;
      for (int i = 0; i < 40; ++i) {
        const double a = 2 * M_PI * i / 40;
        ring.push_back({(40 - 8 * k) * std::cos(a), (40 - 8 * k) * std::sin(a), sign * 2 * k});
      }
      rings.push_back(contour(std::move(ring), true));
    }
    const auto cured = built(rings, true);
    CAPTURE(sign);
    CHECK(flatsIn(*cured.tin) == 0);
    const double beyond = sign * *cured.tin->levelAt({0.1, 0.1}) - 6;
    CHECK(beyond > 0.05);
    CHECK(beyond < 1);
  }
}

TEST_CASE("A saddle between two tops stays between its contour and the next") {
  std::vector<Breakline> lines;
  for (const double x : {-40.0, 40.0}) {
    std::vector<ground::Vec3> ring;
    for (int i = 0; i < 30; ++i)
      ring.push_back({x + 15 * std::cos(2 * M_PI * i / 30), 15 * std::sin(2 * M_PI * i / 30), 12});
    lines.push_back(contour(std::move(ring), true));
  }
  for (const double y : {-22.0, 22.0}) {
    std::vector<ground::Vec3> side;
    for (double x = -60; x <= 60; x += 6) side.push_back({x, y * (0.5 + std::abs(x) / 120), 10});
    lines.push_back(contour(std::move(side)));
  }
  const auto cured = built(lines, true);
  const double saddle = *cured.tin->levelAt({0, 0});
  CHECK(saddle > 10.2);
  CHECK(saddle < 11.8);
}

TEST_CASE("What is no contour is never taken for a flat, and level ground stays as it is") {
  std::vector<ground::Vec3> pad{{0, 0, 5}, {10, 0, 5}, {10, 10, 5}, {0, 10, 5}};
  ground::BuildRules rules;
  rules.cureFlats = true;
  CHECK(ground::build({pad, {}, {}, {}}, rules, {}, {}).flatPoints == 0);
  CHECK(ground::build({{}, {{pad, true, false}}, {}, {}}, rules, {}, {}).flatPoints == 0);
  // One contour alone: nothing around it to go by.
  CHECK(ground::build({{}, {{pad, true, true}}, {}, {}}, rules, {}, {}).flatPoints == 0);
}
