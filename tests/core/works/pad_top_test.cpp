// The top of a pad: level, tilted, fitted to the ground.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "base/error.h"
#include "quantity/volume.h"
#include "support/grounds.h"
#include "works/fit.h"
#include "works/handles.h"
#include "works/pad.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;
using works::PadTop;

namespace {

works::Pad padWith(plane::Ring outline, double level, PadTop top) {
  works::Pad pad{std::move(outline), level, {}};
  pad.top = top;
  return pad;
}

// The integral of (plane - ground)^2 over the outline, by cells.
double misfit(const ground::Tin& tin, const plane::Ring& outline, const ground::Plane& plane) {
  const plane::Box box = plane::boundsOf(outline);
  const double cell = box.width() / 150;
  double sum = 0;
  for (double x = box.minX + cell / 2; x < box.maxX; x += cell) {
    for (double y = box.minY + cell / 2; y < box.maxY; y += cell) {
      if (!plane::contains(outline, {x, y})) continue;
      if (const auto z = tin.levelAt({x, y})) sum += std::pow(plane({x, y}) - *z, 2) * cell * cell;
    }
  }
  return sum;
}

}  // namespace

TEST_CASE("A tilted pad is at its level in the centroid of its area, and falls towards its bearing") {
  const auto ground = gridGround(100, 10, [](double, double) { return 50.0; });
  auto pad = padWith(points("30 30, 70 30, 70 50, 50 50, 50 70, 30 70"), 52, PadTop::tilted);
  pad.fall = 2.5;
  const Vec2 centre = plane::centroid(pad.outline);
  // Three squares of 20 m.
  CHECK(centre.x == Approx((40 + 60 + 40) / 3.0));
  CHECK(centre.y == Approx((40 + 40 + 60) / 3.0));
  for (const auto& [bearing, down] : {std::pair(0.0, Vec2{0, 1}), {90.0, Vec2{1, 0}}, {180.0, Vec2{0, -1}}}) {
    pad.bearing = bearing;
    const auto placed = works::place(pad, *ground, {}, {});
    CHECK(*placed.facets->levelAt(centre) == Approx(52).margin(1e-9));
    CHECK(*placed.facets->levelAt(centre + 4 * down) == Approx(52 - 0.1).margin(1e-9));
    const auto figures = works::figuresOf(pad, placed);
    REQUIRE(figures.size() == 3);
    CHECK((figures[0].name == "level_m" && figures[0].value == 52));
    CHECK((figures[1].name == "fall_percent" && figures[1].value == 2.5));
    CHECK((figures[2].name == "bearing_deg" && figures[2].value == bearing));
  }
}

TEST_CASE("A tilted pad over ground of the same tilt is a prism with its batters") {
  const auto ground = gridGround(200, 7, [](double x, double) { return 50 - 0.03 * x; });
  auto pad = padWith(points("80 80, 120 80, 120 120, 80 120"), 50 - 0.03 * 100 + 1, PadTop::tilted);
  pad.fall = 3, pad.bearing = 90;
  pad.batters.corners = works::CornerStyle::square;
  const auto placed = works::place(pad, *ground, {}, {});
  const auto v = quantity::volumeBetween(*ground, *placed.facets, {}, {});
  // Along the fall the crest stands 1 m above the ground everywhere. Across it, the batter is 2 m wide; along it, down
  // and up the slope, 1 / (1/2 - 3 %) and 1 / (1/2 + 3 %). With mitred corners the section through a height h is a
  // rectangle whose sides grow linearly: the volume by Simpson's rule, which is exact for it.
  const double across = 4, along = 1 / (0.5 - 0.03) + 1 / (0.5 + 0.03);
  const auto area = [&](double part) { return (40 + part * across) * (40 + part * along); };
  CHECK(v.fill == Approx((area(0) + 4 * area(0.5) + area(1)) / 6).epsilon(1e-9));
  CHECK(v.cut < 1e-9);
}

TEST_CASE("A fitted pad on a plane is that plane, as far as it may fall") {
  const auto ground = gridGround(100, 9, [](double x, double y) { return 50 + 0.03 * x - 0.04 * y; });
  auto pad = padWith(points("20 20, 80 30, 70 80, 30 60"), 0, PadTop::fitted);
  pad.greatestFall = 10;
  auto placed = works::place(pad, *ground, {}, {});
  auto figures = works::figuresOf(pad, placed);
  REQUIRE(figures.size() == 3);
  CHECK(figures[1].value == Approx(5));
  // It falls west and north: against the rise to the east, with the fall to the north.
  CHECK(figures[2].value == Approx(360 - std::atan2(0.03, 0.04) * 180 / std::numbers::pi));
  CHECK(quantity::volumeBetween(*ground, *placed.facets, {}, {}).maxFill < 1e-6);
  pad.offset = 0.25;
  placed = works::place(pad, *ground, {}, {});
  CHECK(quantity::volumeBetween(*ground, *placed.facets, {}, {}).maxFill == Approx(0.25).epsilon(1e-6));
  pad.greatestFall = 2;
  figures = works::figuresOf(pad, works::place(pad, *ground, {}, {}));
  CHECK(figures[1].value == Approx(2));
  pad.greatestFall = 0;
  figures = works::figuresOf(pad, works::place(pad, *ground, {}, {}));
  CHECK(figures[1].value == 0);
  const Vec2 c = plane::centroid(pad.outline);
  CHECK(figures[0].value == Approx(50 + 0.03 * c.x - 0.04 * c.y + 0.25));
}

TEST_CASE("No plane within the limit fits better than the fitted one", "[random]") {
  for (unsigned round = 0; round < 10; ++round) {
    std::mt19937 random(900 + round);
    CAPTURE(round);
    const auto ground = scatteredGround(200, 900, random, randomHills(random, 9));
    const auto outline = randomStar(random, {100, 100}, 20, 70, 5 + static_cast<int>(random() % 20));
    const double steepest = round % 2 ? 0.01 : 1;
    const auto best = works::fittedPlane(*ground, outline, steepest);
    CHECK(plane::norm(best.gradient) <= steepest * (1 + 1e-12));
    if (round % 2 && plane::norm(works::fittedPlane(*ground, outline, 1).gradient) > steepest)
      CHECK(plane::norm(best.gradient) == Approx(steepest));
    const double least = misfit(*ground, outline, best);
    std::uniform_real_distribution<double> u(-1, 1);
    const Vec2 c = plane::centroid(outline);
    for (int k = 0; k < 30; ++k) {
      ground::Plane other{c, best(c) + 0.2 * u(random), best.gradient + Vec2{0.004 * u(random), 0.004 * u(random)}};
      const double steep = plane::norm(other.gradient);
      if (steep > steepest) other.gradient = (steepest / steep) * other.gradient;
      CHECK(misfit(*ground, outline, other) > least - 1e-3 * least);
    }
  }
}

TEST_CASE("A fit far from the origin, beside the ground, and turned, is the same fit") {
  std::mt19937 random(31);
  const auto level = randomHills(random, 5);
  const auto near = gridGround(100, 12, level);
  const auto outline = points("20 20, 80 30, 70 80, 30 60");
  plane::Ring far;
  for (const Vec2 p : outline) far.push_back(p + Vec2{50'000, 80'000});
  const auto there = gridGround(
      100, 12, [&](double x, double y) { return level(x - 50'000, y - 80'000); }, 50'000, 80'000);
  const auto a = works::fittedPlane(*near, outline, 1), b = works::fittedPlane(*there, far, 1);
  CHECK(a.gradient.x == Approx(b.gradient.x).epsilon(1e-6));
  CHECK(a.gradient.y == Approx(b.gradient.y).epsilon(1e-6));
  CHECK(a.level == Approx(b.level).epsilon(1e-9));
  // Half of it beside the ground: fitted to the half that is there.
  const auto flat = gridGround(100, 5, [](double x, double) { return 50 + 0.02 * x; });
  CHECK(works::fittedPlane(*flat, points("80 20, 140 20, 140 80, 80 80"), 1).gradient.x == Approx(0.02));
  CHECK_THROWS_AS(works::fittedPlane(*flat, points("180 20, 240 20, 240 80"), 1), Error);
  // As a works it raises its doubt instead, by way of the same error.
  CHECK_THROWS_AS(works::place(padWith(points("180 20, 240 20, 240 80"), 0, PadTop::fitted), *flat, {}, {}), Error);
}

TEST_CASE("The tip of the fall arrow swings the fall and steepens it") {
  auto pad = padWith(points("0 0, 40 0, 40 40, 0 40"), 50, PadTop::tilted);
  pad.fall = 2, pad.bearing = 45;
  const works::Shape shape = pad;
  const auto handles = works::handlesOf(shape);
  const works::Handle tip = handles.back();
  REQUIRE(tip.grip == works::Grip::fall);
  const Vec2 along = tip.at - Vec2{20, 20};
  CHECK(along.x == Approx(along.y));
  // To the tip of any other fall, and it is that fall.
  for (const auto& [percent, bearing] : {std::pair(0.0, 10.0), {1.5, 90.0}, {7.3, 271.0}, {20.0, 359.0}}) {
    const Vec2 to = works::fallTip(shape, {{20, 20}, percent, bearing});
    const auto moved = works::moved(shape, tip, {tip.at + Vec2{1, 1}, to + Vec2{1, 1}, 0});
    REQUIRE(moved);
    const auto fall = works::fallOf(*moved);
    CHECK(fall->percent == Approx(percent));
    CHECK(fall->bearing == Approx(bearing));
    CHECK(works::levelOf(*moved) == works::levelOf(shape));
  }
  CHECK(works::movedText({WorksId{1}, "Yard", false, shape}, tip) == "change the fall of Yard");
  // A level pad has none, and a fitted one shows what it came to but is not swung.
  CHECK_FALSE(works::fallOf(works::Shape(padWith(pad.outline, 50, PadTop::level))));
  CHECK(works::handlesOf(padWith(pad.outline, 50, PadTop::fitted)).size() == 8);
}
