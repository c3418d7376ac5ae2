#include "project/gaps.h"

#include <catch2/catch.hpp>

#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;

namespace {

// Four level areas round a yard of 4 x 30 m, on level land at 50.
project::ProjectPtr ringOfAreas(double level) {
  project::SourceData data;
  data.points = {{0, 0, 50}, {200, 0, 50}, {200, 200, 50}, {0, 200, 50}};
  auto project = project::emptyProject("Yard");
  project = project::withSource(*project, {"survey", ""}, std::move(data), project->surveyed());
  const plane::Ring rings[] = {rectangle(20, 20, 64, 30), rectangle(20, 60, 64, 70), rectangle(20, 30, 40, 60),
                               rectangle(44, 30, 64, 60)};
  for (const plane::Ring& ring : rings)
    project = project::withNewWorks(*project, project->finished(), "Part " + std::to_string(ring[0].x),
                                    works::LevelArea{ring, level, {}});
  return project;
}

}  // namespace

TEST_CASE("Land that works enclose is told and filled from edge to edge") {
  const auto project = ringOfAreas(52);
  project::Cache cache;
  const auto before = project::evaluate(project, cache, {});
  const auto& ground = *before->ground(project->finished());
  const auto gaps = project::gapsBetween(ground.works);
  REQUIRE(gaps.size() == 1);
  CHECK(plane::area(gaps[0].outline) == Approx(4 * 30).epsilon(0.01));
  CHECK(gaps[0].between.size() == 4);
  CHECK(std::count_if(ground.doubts.begin(), ground.doubts.end(),
                      [](const auto& d) { return d.kind == ground::DoubtKind::gap; }) == 1);
  CHECK(ground.tin->levelAt({42, 45}) == 50);
  const auto filled = project::withGapsFilled(*project, ground);
  const auto after = project::evaluate(filled, cache, {});
  for (const plane::Vec2 p : {plane::Vec2{40.01, 45}, {42, 30.01}, {42, 45}, {43.9, 59.9}})
    CHECK(*after->ground(project->finished())->tin->levelAt(p) == Approx(52).margin(1e-6));
  CHECK(project::gapsBetween(after->ground(project->finished())->works).empty());
}

TEST_CASE("An open yard, a wide one and the island of one works are no gaps") {
  project::Cache cache;
  const auto gapsOf = [&](const project::ProjectPtr& project) {
    const auto evaluation = project::evaluate(project, cache, {});
    return project::gapsBetween(evaluation->ground(project->finished())->works).size();
  };
  auto project = ringOfAreas(52);
  const auto last = project->ground(project->finished())->works.back();
  CHECK(gapsOf(project::withoutWorks(*project, last->id)) == 0);
  works::Works moved = *last;
  moved.shape = works::LevelArea{rectangle(63, 30, 64, 60), 52, {}};  // 23 m wide
  CHECK(gapsOf(project::withWorks(*project, moved)) == 0);
}
