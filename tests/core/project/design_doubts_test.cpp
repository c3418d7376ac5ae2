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
  return toldIn(text, {}).find(part) != std::string::npos;
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

TEST_CASE("Batters and legs beyond the limits, and tops that do not drain, are told with how much and where") {
  auto project = levelLand();
  works::Pad pad{rectangle(80, 80, 120, 100), 52, {}};
  pad.batters.corners = works::CornerStyle::square;
  CHECK(told(with(project, "Shed", pad), DoubtKind::tooSteep).empty());
  project = project::withLimits(*project, {2.5, 3, 0.5, 0, 2});
  const auto steep = told(with(project, "Shed", pad), DoubtKind::tooSteep);
  REQUIRE(steep.size() == 1);
  // 2 m high at 2:1 round 40 x 20: 48 x 28 less the pad.
  CHECK(says(steep[0], "Shed is as steep as 2.00:1 in fill"));
  CHECK(says(steep[0], "over 544 m² in all; the limit is 3:1"));
  CHECK(told(with(project, "Shed", pad), DoubtKind::notDraining).size() == 1);
  pad.section = {{0, {"", {works::legToGround(2.5, 3)}}}};
  pad.top = works::PadTop::tilted, pad.fall = 0.5;
  CHECK(told(with(project, "Shed", pad), DoubtKind::tooSteep).empty());
  CHECK(told(with(project, "Shed", pad), DoubtKind::notDraining).empty());
  pad.fall = 0.4;
  CHECK(told(with(project, "Shed", pad), DoubtKind::notDraining).size() == 1);
  pad.building = true;
  CHECK(told(with(project, "Shed", pad), DoubtKind::notDraining).empty());
  // Legs: as steep as the steeper limit.
  pad.section = {{0, {"", {works::legBy(-1, 2.4), works::legToGround(2.5, 3)}}}};
  CHECK(told(with(project, "Shed", pad), DoubtKind::tooSteep).size() == 1);
  pad.section = {{0, {"", {works::legBy(-1, 2.6), works::legToGround(2.5, 3)}}}};
  CHECK(told(with(project, "Shed", pad), DoubtKind::tooSteep).empty());
}

TEST_CASE("Land that falls towards a building is told and land led away is not") {
  const auto project = levelLand();
  works::Pad pad{rectangle(80, 80, 120, 100), 49, {}};
  CHECK(told(with(project, "Store", pad), DoubtKind::fallsToBuilding).empty());
  pad.building = true;
  const auto falls = told(with(project, "Store", pad), DoubtKind::fallsToBuilding);
  REQUIRE(falls.size() == 1);
  CHECK(says(falls[0], "The land falls 0.99 m"));  // 2 m at 2:1, from 2 cm off
  pad.section = {{0, {"", {works::legOut(2.5, 2), works::legToGround(2, 2)}}}};
  CHECK(told(with(project, "Store", pad), DoubtKind::fallsToBuilding).empty());
  pad.section.clear(), pad.level = 51;
  CHECK(told(with(project, "Store", pad), DoubtKind::fallsToBuilding).empty());
}

TEST_CASE("A batter over the top of works beside is told as a steep join") {
  const auto project = levelLand();
  const works::Pad high{rectangle(80, 80, 120, 100), 53, {}};
  works::Pad low{rectangle(125, 80, 160, 100), 51, {}};
  // In cut 2 m down over 5 m: the batter of the first ends 1 m off; then it is 3 m too near.
  low.section = {{0, {"", {works::legToGround(2, 2)}}}};
  CHECK(told(with(with(project, "High", high), "Low", low), DoubtKind::joinedSteeply).empty());
  low.outline = rectangle(121, 80, 160, 100);
  const auto joined = told(with(with(project, "High", high), "Low", low), DoubtKind::joinedSteeply);
  REQUIRE(joined.size() == 1);
  CHECK(says(joined[0], "Low and High are joined too steeply"));
  CHECK(says(joined[0], "of the second, up to 1.50 m"));
}

TEST_CASE("A pond is told when its freeboard or what it holds is less than is asked") {
  auto project = levelLand();
  works::Pond pond;
  pond.outline = rectangle(80, 80, 120, 100);
  pond.corners = works::CornerStyle::square;
  pond.bottom = 48, pond.top = 50;
  pond.wet = true, pond.water = 49.8;
  CHECK(told(with(project, "Pond", pond), DoubtKind::freeboardShort).empty());
  project = project::withLimits(*project, {0, 0, 0, 0.3, 2});
  const auto freeboard = told(with(project, "Pond", pond), DoubtKind::freeboardShort);
  REQUIRE(freeboard.size() == 1);
  CHECK(says(freeboard[0], "Pond has 0.20 m of freeboard where 0.30 m are asked"));
  pond.water = 49.7;
  CHECK(told(with(project, "Pond", pond), DoubtKind::freeboardShort).empty());
  // 1.7 m over 40 x 20 at 3:1: a frustum to 50.2 x 30.2.
  const double a = 800, b = 50.2 * 30.2, held = 1.7 / 6 * (a + b + 4 * 45.1 * 25.1);
  pond.wanted = held - 1;
  CHECK(told(with(project, "Pond", pond), DoubtKind::storageShort).empty());
  pond.wanted = held + 1;
  CHECK(told(with(project, "Pond", pond), DoubtKind::storageShort).size() == 1);
}

TEST_CASE("A ground set in that meets the land in a step is told and one with a section is not") {
  auto project = levelLand();
  project::SourceData data;
  data.points = {{80, 80, 50}, {120, 80, 50}, {120, 120, 51}, {80, 120, 51}};
  project = project::withLooseSource(*project, {"road", ""}, std::move(data));
  project = project::withNewGround(*project, "road", project::FromSources{{project->sources[1]->id}, {}, {}},
                                   project->surveyed());
  works::Inlay inlay;
  inlay.ground.name = "road";
  const auto told1 = told(with(project, "Road", inlay), DoubtKind::stepAtJoint);
  REQUIRE(told1.size() == 1);
  // All but the low side, and 4 cm of rise on those beside.
  CHECK(says(told1[0], "in a step along 120 m of its border, up to 1.00 m"));
  inlay.section = {{0, {"", {works::legToGround(2, 2)}}}};
  CHECK(told(with(project, "Road", inlay), DoubtKind::stepAtJoint).empty());
}
