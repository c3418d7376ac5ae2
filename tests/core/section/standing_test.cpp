// What stands along a line, against the steps of the work done place by place.
#include "section/standing.h"

#include <catch2/catch.hpp>

#include "ground/clip.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;
using section::Named;
using section::Section;
using section::Standing;

namespace {

ground::TinPtr levelGround(double level) {
  return gridGround(100, 10, [=](double, double) { return level; });
}

Section acrossMiddle(const std::vector<ground::TinPtr>& grounds) {
  std::vector<Named> named;
  for (const auto& tin : grounds) named.push_back({"g", tin});
  return section::sectionAlong(named, {{10, 50}, {90, 50}});
}

double areaBy(const std::vector<Standing>& all, std::size_t by) {
  double sum = 0;
  for (const Standing& s : all) sum += s.by == by ? s.area() : 0;
  return sum;
}

// The work done at one place: layers from below, as (top, by).
std::vector<std::pair<double, std::size_t>> built(const std::vector<std::optional<double>>& levels) {
  std::vector<std::pair<double, std::size_t>> stack;
  for (std::size_t k = 0; k < levels.size(); ++k) {
    if (!levels[k]) continue;
    if (stack.empty()) {
      stack.push_back({*levels[k], 0});
      continue;
    }
    const double top = stack.back().first;
    if (*levels[k] > top) stack.push_back({*levels[k], k});
    while (stack.size() > 1 && stack[stack.size() - 2].first >= *levels[k]) stack.pop_back();
    stack.back().first = std::min(stack.back().first, *levels[k]);
  }
  return stack;
}

}  // namespace

TEST_CASE("Land that is stripped, dug out, filled and paved stands in its layers") {
  // 10, stripped to 9.7, dug to 8, filled to 11, paved to 11.4: the land to 8, 3 m of fill, 0.4 m of pavement.
  const Section s =
      acrossMiddle({levelGround(10), levelGround(9.7), levelGround(8), levelGround(11), levelGround(11.4)});
  const std::vector<section::Step> order{{0}, {1}, {2}, {3}, {4}};
  const auto all = section::standingAlong(s, order, 5);
  CHECK(areaBy(all, 0) == Approx(80 * 3));
  CHECK(areaBy(all, 1) == 0);
  CHECK(areaBy(all, 2) == 0);
  CHECK(areaBy(all, 3) == Approx(80 * 3));
  CHECK(areaBy(all, 4) == Approx(80 * 0.4));
  // The same grounds the other way round: all is cut away again.
  const std::vector<section::Step> back{{4}, {3}, {1}, {2}};
  CHECK(areaBy(section::standingAlong(s, back, 5), 0) == Approx(80 * 3));
  CHECK(areaBy(section::standingAlong(s, back, 5), 1) == 0);
  // What was dug out told apart: 1.7 m up to the stripped land, 1.3 m above it.
  const std::vector<section::Step> again{{0}, {1}, {2}, {3, 1}, {3}, {4}};
  const auto apart = section::standingAlong(s, again, 5);
  CHECK(areaBy(apart, 3) == Approx(80 * 1.7));
  CHECK(areaBy(apart, 4) == Approx(80 * 1.3));
  CHECK(areaBy(apart, 0) == Approx(80 * 3));
}

TEST_CASE("A slope through level land stands as land below and fill above where they cross") {
  const auto slope = gridGround(100, 10, [](double x, double) { return 10 + (x - 50) / 10; });
  const Section s = acrossMiddle({levelGround(10), slope});
  const std::vector<section::Step> order{{0}, {1}};
  const auto all = section::standingAlong(s, order, 0);
  CHECK(areaBy(all, 1) == Approx(40 * 4 / 2.0));  // a triangle from 50 to 90, 4 m high
  CHECK(areaBy(all, 0) == Approx(80 * 10 - 40 * 4 / 2.0));
}

TEST_CASE("What stands is what the steps of the work leave, wherever it is asked for", "[random]") {
  int asked = 0;
  for (unsigned seed = 0; seed < 25; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    std::vector<ground::TinPtr> grounds;
    std::vector<section::Step> order;
    for (std::size_t k = 0; k < 2 + seed % 4; ++k) {
      auto tin = scatteredGround(100, 120, random, randomHills(random, 5));
      if (k == 1)
        tin = ground::keepOutside(*tin, std::vector<plane::Polygon>{{randomStar(random, {50, 50}, 5, 25, 9), {}}}, {});
      grounds.push_back(tin);
      order.push_back({k});
      if (k > 1 && random() % 2) order.back().notAbove = random() % k;
    }
    std::shuffle(order.begin(), order.end(), random);
    const Section s = acrossMiddle(grounds);
    double floor = 1e9;
    for (const auto& tin : grounds) floor = std::min(floor, tin->minLevel());
    const auto all = section::standingAlong(s, order, floor - 3);
    std::uniform_real_distribution<double> along(0, s.length());
    for (int i = 0; i < 200; ++i) {
      const double station = along(random);
      std::vector<std::optional<double>> levels;
      for (const section::Step& step : order) {
        levels.push_back(s.level(step.ground, station));
        const auto cap = step.notAbove ? s.level(*step.notAbove, station) : levels.back();
        levels.back() = levels.back() && cap ? std::optional(std::min(*levels.back(), *cap)) : std::nullopt;
      }
      const auto want = built(levels);
      double reached = floor - 3;
      for (const Standing& piece : all) {
        if (piece.begin > station || piece.end < station) continue;
        const double t = (station - piece.begin) / (piece.end - piece.begin);
        const double low = piece.lowBegin + t * (piece.lowEnd - piece.lowBegin),
                     high = piece.highBegin + t * (piece.highEnd - piece.highBegin);
        CHECK(low == Approx(reached).margin(1e-6));  // no gap
        reached = high;
        if (high - low < 1e-4) continue;
        const double middle = (low + high) / 2;
        const auto in = std::find_if(want.begin(), want.end(), [&](const auto& l) { return l.first > middle; });
        REQUIRE(in != want.end());
        CHECK(in->second == piece.by);
        ++asked;
      }
      if (want.empty()) {
        CHECK(reached == floor - 3);
      } else {
        CHECK(reached == Approx(want.back().first).margin(1e-6));  // of the last step there
      }
    }
  }
  CHECK(asked > 5000);
}
