#include "works/hachures.h"

#include <catch2/catch.hpp>

#include "support/grounds.h"
#include "works/works.h"

using namespace inselberg;
using namespace inselberg::testing;

TEST_CASE("Hachures run down the slope, none along it from a corner that turns in") {
  const auto flat = gridGround(100, 11, [](double, double) { return 50.0; });
  const plane::Ring notched{{30, 30}, {70, 30}, {70, 50}, {50, 50}, {50, 70}, {30, 70}};
  for (const double level : {48.0, 52.0}) {
    CAPTURE(level);
    const auto placed = works::place(works::Pad{notched, level, {}}, *flat, {}, {});
    const auto strokes = works::hachuresOf(placed, 12, plane::Box{0, 0, 100, 100});
    CHECK(strokes.size() > 150);
    for (const works::HachureStroke& stroke : strokes) {
      const auto at = [&](double part) {
        return placed.facets->levelAt(stroke.top + part * (stroke.end - stroke.top)).value();
      };
      const double length = plane::distance(stroke.top, stroke.end);
      CAPTURE(stroke.top.x, stroke.top.y, length);
      CHECK(at(0.1) - at(0.9) == Approx(0.8 * length / 2));
    }
  }
}
