#include "sheet/follow.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "support/sheets.h"

using namespace inselberg;
using namespace inselberg::sheet;
using namespace inselberg::testing;

namespace {

// A wave of a pen's width, a second one beside it, and noise of a copier.
std::unique_ptr<Document> scan(double noise) {
  auto random = std::make_shared<std::mt19937>(11);
  return openDocument(shared(tiffOf({400, 200, 1, 8, 1, 1, 0,
                                     [random, noise](int c, int r, int) {
                                       const double y = 199.5 - r, x = c + 0.5;
                                       const double a = std::abs(y - (100 + 40 * std::sin(x / 40)));
                                       const double b = std::abs(y - (112 + 40 * std::sin(x / 40)));
                                       const double ink = std::clamp(2.0 - std::min(a, b), 0.0, 1.0);
                                       std::normal_distribution<double> grain(0, 1);
                                       return int(std::clamp(235 - 190 * ink + noise * grain(*random), 0.0, 255.0));
                                     }})),
                      "scan.tif");
}

}  // namespace

TEST_CASE("A line is followed along its bends, not across to the one beside it") {
  for (const double noise : {0.0, 12.0}) {
    CAPTURE(noise);
    const auto document = scan(noise);
    const auto at = [](double x) { return Vec2{x, 100 + 40 * std::sin(x / 40)}; };
    // Clicked beside it by two pixels.
    const Followed way = follow(*document, 1, at(20) + Vec2{0, -2}, at(380) + Vec2{1, -2}, 4, 1);
    REQUIRE(way.points.size() > 10);
    CHECK(way.points.size() < 200);
    CHECK(way.closeness > 0.8);
    for (const Vec2 p : way.points) CHECK(std::abs(p.y - at(p.x).y) < 2.5);
    CHECK(plane::distance(way.points.front(), at(20)) < 3);
    CHECK(plane::distance(way.points.back(), at(380)) < 3);
  }
}

TEST_CASE("Over bare paper the way is straight, and tells that it follows nothing") {
  const auto document = scan(0);
  const Followed way = follow(*document, 1, {20, 20}, {120, 22}, 3, 1);
  CHECK(way.closeness < 0.1);
  CHECK(way.points.size() < 6);
}
