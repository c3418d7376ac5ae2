// Ramps drawn from works to works begin and end at their edges.
#include "project/between_tops.h"

#include <catch2/catch.hpp>

#include "plane/polygon.h"
#include "support/grounds.h"
#include "works/works.h"

using namespace inselberg;
using namespace inselberg::testing;
using plane::Vec2;

namespace {

plane::Ring square(double x, double y, double size) {
  return {{x, y}, {x + size, y}, {x + size, y + size}, {x, y + size}};
}

project::Ground groundWith(const std::vector<works::Shape>& shapes) {
  project::Ground ground;
  for (const works::Shape& shape : shapes) {
    works::Works w{WorksId{ground.works.size() + 1}, "works", false, shape};
    ground.works.push_back(std::make_shared<works::Works>(w));
  }
  return ground;
}

}  // namespace

TEST_CASE("A ramp from inside one pad to inside another goes from edge to edge") {
  works::LevelArea area;
  area.outline = square(60, 0, 20);
  const auto ground = groundWith({works::Pad{square(0, 0, 20), 70, {}}, area});
  const auto between = project::betweenTops(ground, {{5, 10}, {10, 10}, {40, 10}, {70, 10}});
  REQUIRE(between.size() == 3);
  CHECK(between[0].x == Approx(19.999));
  CHECK(between[0].y == 10);
  CHECK(between[1] == Vec2{40, 10});
  CHECK(between[2].x == Approx(60.001));
  // From the land to the pad: only that end; beside both, or within one, nothing.
  CHECK(project::betweenTops(ground, {{40, 40}, {10, 10}}).front() == Vec2{40, 40});
  const works::Places beside{{40, 40}, {50, 90}}, within{{5, 5}, {15, 15}};
  CHECK(project::betweenTops(ground, beside) == beside);
  CHECK(project::betweenTops(ground, within) == within);
}

TEST_CASE("Hidden works and works without a top of their own hold no ramp, and the later works rules") {
  auto ground = groundWith({works::Pad{square(0, 0, 40), 70, {}}, works::Pad{square(10, 10, 10), 71, {}}});
  CHECK(project::betweenTops(ground, {{15, 15}, {60, 15}}).front().x == Approx(19.999));
  works::Works leftOut = *ground.works[1];
  leftOut.leftOut = true;
  ground.works[1] = std::make_shared<works::Works>(leftOut);
  CHECK(project::betweenTops(ground, {{15, 15}, {60, 15}}).front().x == Approx(39.999));
  works::Sculpt sculpt;
  sculpt.outline = square(0, 0, 40);
  const works::Places line{{15, 15}, {60, 15}};
  CHECK(project::betweenTops(groundWith({sculpt}), line) == line);
}

TEST_CASE("Whatever the outline, a ramp leaves it where the line does, and stays on that line", "[random]") {
  int left = 0;
  for (unsigned seed = 0; seed < 200; ++seed) {
    CAPTURE(seed);
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> place(-60, 60);
    const plane::Ring star = randomStar(random, {0, 0}, 10, 40, 5 + static_cast<int>(seed % 9));
    works::Places line{{0, 0}};
    for (unsigned k = 0; k < 1 + seed % 3; ++k) line.push_back({place(random), place(random)});
    const auto ground = groundWith({works::Pad{star, 70, {}}});
    works::Places between = project::betweenTops(ground, line);
    if (plane::contains(star, line.back())) continue;  // its other end has moved too
    ++left;
    REQUIRE(between.size() <= line.size());
    CHECK(between.back() == line.back());
    // Its first place: on the way, inside, and a millimetre from the border at most.
    CHECK(plane::contains(star, between.front()));
    const std::size_t from = line.size() - between.size();
    CHECK(plane::nearestOnSegment(between.front(), line[from], line[from + 1]).distance < 1e-9);
    double near = 1e9;
    for (std::size_t k = 0; k < star.size(); ++k)
      near = std::min(near, plane::nearestOnSegment(between.front(), star[k], star[(k + 1) % star.size()]).distance);
    CHECK(near < 1.001e-3);
    // Up to there the line never left.
    for (std::size_t i = 0; i <= from; ++i) {
      const Vec2 end = i == from ? between.front() : line[i + 1];
      for (double t = 0; t < 1; t += 0.05) CHECK(plane::contains(star, line[i] + t * (end - line[i])));
    }
  }
  CHECK(left > 50);
}
