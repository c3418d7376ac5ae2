// What places are drawn to.
#include "canvas/snapping.h"

#include <catch2/catch.hpp>

#include "support/geometry_text.h"

using namespace inselberg;
using namespace inselberg::testing;

namespace {

// Where a click near the place goes when only crossings of these lines are snapped to.
std::optional<plane::Vec2> crossingNear(const std::vector<std::string>& lines, plane::Vec2 at) {
  project::SourceData data;
  for (const std::string& line : lines) data.breaklines.push_back({points3(line), false, false});
  const auto empty = project::emptyProject("Tolwin");
  const auto p = project::withSource(*empty, {.name = "lines"}, std::move(data), empty->surveyed());
  app::SnapKinds kinds;
  kinds.corners = false;
  kinds.crossings = true;
  return app::snapped({*p}, kinds, {at, 1, {}, {}, 1});
}

}  // namespace

TEST_CASE("A crossing is snapped to, also where a line ends on another, from either side and either way round") {
  CHECK(crossingNear({"0 0, 10 0 | z 5", "4 -6, 4 6 | z 7"}, {4.3, 0.2}) == plane::Vec2{4, 0});
  for (const char* other : {"4 0, 4 6 | z 7", "4 6, 4 0 | z 7", "4 0, 4 -6 | z 7", "4 -6, 4 0 | z 7"}) {
    for (const char* line : {"0 0, 10 0 | z 5", "10 0, 0 0 | z 5"}) {
      CAPTURE(line, other);
      CHECK(crossingNear({line, other}, {4.3, 0.2}) == plane::Vec2{4, 0});
      CHECK(crossingNear({other, line}, {4.3, 0.2}) == plane::Vec2{4, 0});
    }
  }
  CHECK_FALSE(crossingNear({"0 0, 10 0 | z 5", "4 0.5, 4 6 | z 7"}, {4.3, 0.2}));
  // A vertex of a straight line is no crossing.
  CHECK_FALSE(crossingNear({"0 0, 4 0, 10 0 | z 5"}, {4.3, 0.2}));
}
