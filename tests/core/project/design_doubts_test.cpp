#include "project/design_doubts.h"

#include <catch2/catch.hpp>

#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using ground::DoubtKind;
using project::ProjectPtr;

namespace {

// Level land at 50, 200 m square.
ProjectPtr levelLand() {
  project::SourceData data;
  data.points = {{0, 0, 50}, {200, 0, 50}, {200, 200, 50}, {0, 200, 50}};
  const auto empty = project::emptyProject("Level");
  return project::withSource(*empty, {"survey", ""}, std::move(data), empty->surveyed());
}

ProjectPtr with(const ProjectPtr& project, const std::string& name, works::Shape shape) {
  return project::withNewWorks(*project, project->finished(), name, std::move(shape));
}

std::vector<std::string> told(const ProjectPtr& project, DoubtKind kind) {
  project::Cache cache;
  std::vector<std::string> texts;
  const auto evaluation = project::evaluate(project, cache, {});
  for (const auto& doubt : evaluation->ground(project->finished())->doubts) {
    if (doubt.kind == kind) texts.push_back(doubt.text);
  }
  return texts;
}

bool says(const std::string& text, const std::string& part) {
  return text.find(part) != std::string::npos;
}

}  // namespace

TEST_CASE("A batter beyond the site is told with how far, how much and the slope that keeps it inside") {
  // The site is drawn, and the ground goes on beyond it.
  auto project = levelLand();
  project::SourceData data;
  data.boundaries.push_back(plane::sound({rectangle(20, 20, 105, 180), {}}, {}));
  project = project::withSource(*project, {"site", ""}, std::move(data), project->surveyed());
  project = project::withSourcesOf(*project, project->surveyed(), {project->sources[0]->id});
  works::Pad pad{rectangle(60, 60, 100, 100), 54, {}};
  pad.batters.corners = works::CornerStyle::square;
  const auto beyond = told(with(project, "Shed", pad), DoubtKind::beyondSite);
  REQUIRE(beyond.size() == 1);
  // 4 m high at 2:1: 8 m out, the boundary after 5 m; the strip beyond is 3 m wide along 56 m less its mitres' slant.
  CHECK(says(beyond[0], "Shed reaches 3.00 m beyond"));
  CHECK(says(beyond[0], "over 168 m²"));
  CHECK(says(beyond[0], "to 1.25:1"));
  pad.section = {{0, {"", {works::legToGround(1.25, 1.25)}}}};
  CHECK(told(with(project, "Shed", pad), DoubtKind::beyondSite).empty());
  pad.section = {{0, {"", {works::legToGround(1.3, 1.3)}}}};
  CHECK(told(with(project, "Shed", pad), DoubtKind::beyondSite).size() == 1);
}

TEST_CASE("The boundary of another survey is not that of the site") {
  auto project = levelLand();
  CHECK(project::siteOf(*project).empty());
  project::SourceData data;
  data.points = {{0, 0, 51}, {50, 0, 51}, {50, 50, 51}};
  data.boundaries.push_back(plane::sound({rectangle(5, 5, 30, 30), {}}, {}));
  project = project::withSource(*project, {"site", ""}, std::move(data), project->surveyed());
  CHECK(project::siteOf(*project).size() == 1);
  const SourceId second = project->sources[1]->id;
  project = project::withSourcesOf(*project, project->surveyed(), {project->sources[0]->id});
  project = project::withNewGround(*project, "As built", project::FromSources{{second}, {}, {}}, project->surveyed());
  CHECK(project::siteOf(*project).empty());
}

TEST_CASE("Works over each other are told when their levels differ, and under their names of now") {
  const auto project = levelLand();
  const works::Pad first{rectangle(40, 40, 80, 80), 51, {}};
  works::Pad second{rectangle(70, 70, 100, 100), 51.6, {}};
  auto both = with(with(project, "First", first), "Second", second);
  const auto overlap = told(both, DoubtKind::worksOverlap);
  REQUIRE(overlap.size() == 1);
  CHECK(says(overlap[0], "Second lies over First on 100 m², up to 0.60 m apart"));
  project::Cache cache;
  project::evaluate(both, cache, {});
  works::Works renamed = *both->ground(both->finished())->works[0];
  renamed.name = "Silo";
  both = project::withWorks(*both, renamed);
  const auto evaluation = project::evaluate(both, cache, {});
  bool found = false;
  for (const auto& doubt : evaluation->ground(both->finished())->doubts) found |= says(doubt.text, "lies over Silo");
  CHECK(found);
  second.level = 51;
  CHECK(told(with(with(project, "First", first), "Second", second), DoubtKind::worksOverlap).empty());
  // Batters over each other are no matter.
  second.level = 52, second.outline = rectangle(82, 40, 110, 80);
  CHECK(told(with(with(project, "First", first), "Second", second), DoubtKind::worksOverlap).empty());
}

TEST_CASE("A hollow that works make is told with its depth and volume and a pond is none but may be overfull") {
  const auto project = levelLand();
  works::Pad pad{rectangle(80, 80, 120, 100), 49, {}};
  pad.batters.corners = works::CornerStyle::square;
  auto water = told(with(project, "Sunk", pad), DoubtKind::holdsWater);
  REQUIRE(water.size() == 1);
  // A frustum of 40 x 20 to 44 x 24, 1 m deep: 926 m3.
  CHECK(says(water[0], "at Sunk"));
  CHECK(says(water[0], "up to 1.00 m deep, 925 m³, and leaves at 50.00"));
  pad.level = 51;
  CHECK(told(with(project, "Raised", pad), DoubtKind::holdsWater).empty());
  works::Pond pond;
  pond.outline = rectangle(80, 80, 120, 100);
  pond.bottom = 48, pond.top = 50;
  pond.wet = true, pond.water = 49.5;
  CHECK(told(with(project, "Pond", pond), DoubtKind::holdsWater).empty());
  CHECK(told(with(project, "Pond", pond), DoubtKind::overfull).empty());
  // Embanked, with a notch cut through its crest.
  pond.top = 52, pond.crest = 2, pond.water = 50.7;
  CHECK(told(with(project, "Pond", pond), DoubtKind::overfull).empty());
  const auto notched =
      with(with(project, "Pond", pond), "Notch", works::LevelArea{rectangle(110, 88, 150, 92), 50.5, {}});
  const auto overfull = told(notched, DoubtKind::overfull);
  REQUIRE(overfull.size() == 1);
  CHECK(says(overfull[0], "stands 0.20 m above"));
}

TEST_CASE("While a works is dragged, what was told of water stays until the ground is whole") {
  auto project = with(levelLand(), "Sunk", works::Pad{rectangle(80, 80, 120, 100), 49, {}});
  project::Cache cache;
  project::evaluate(project, cache, {});
  works::Works lower = *project->ground(project->finished())->works[0];
  lower.shape = works::atLevel(lower.shape, 48);
  project = project::withWorks(*project, lower);
  std::size_t early = 0;
  const auto whole =
      project::evaluate(project, cache, {}, [&](const project::EvaluationPtr& e) { early = e->doubtCount(); });
  CHECK(early == 1);
  CHECK(whole->doubtCount() == 1);
  CHECK(says(whole->ground(project->finished())->doubts[0].text, "2.00 m deep"));
}
