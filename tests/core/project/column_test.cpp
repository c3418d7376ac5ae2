// The column's grounds: their names, their order, and what they are made of.
#include <catch2/catch.hpp>
#include <set>

#include "base/error.h"
#include "project/evaluate.h"
#include "report/ledger.h"
#include "support/grounds.h"
#include "works/area_works.h"
#include "works/pad.h"

using namespace inselberg;
using namespace inselberg::testing;

namespace {

// A sloping survey with a pad on it, and two grounds beside: the survey raised, and the raised one lowered again.
project::ProjectPtr fourGrounds() {
  const auto empty = project::emptyProject("column");
  project::SourceData data;
  for (int i = 0; i <= 10; ++i) {
    for (int k = 0; k <= 10; ++k) data.points.push_back({10.0 * i, 10.0 * k, 50 + 0.1 * i});
  }
  auto project = project::withSource(*empty, {"survey", ""}, std::move(data), empty->surveyed());
  project = project::withNewWorks(*project, project->finished(), "Pad", works::Pad{rectangle(30, 30, 60, 60), 51, {}});
  const GroundId raised{project->nextId};
  project = project::withNewGround(*project, "raised", project::Derived{{project->surveyed()}, project::Shift{1}},
                                   project->surveyed());
  return project::withNewGround(*project, "lowered", project::Derived{{raised}, project::Shift{-0.4}}, raised);
}

GroundId named(const project::Project& project, const std::string& name) {
  for (const auto& g : project.column) {
    if (g->name == name) return g->id;
  }
  return {};
}

double levelOf(const project::ProjectPtr& project, const std::string& name) {
  project::Cache cache;
  return project::evaluate(project, cache, {})->ground(named(*project, name))->levelAt({10, 10}).value();
}

}  // namespace

TEST_CASE("A ground's name is its own and works that set it in follow") {
  auto project = fourGrounds();
  works::Inlay inlay;
  inlay.ground.name = "raised";
  inlay.outline = rectangle(70, 70, 90, 90);
  project = project::withNewWorks(*project, project->finished(), "Set in", inlay);
  const GroundId raised = named(*project, "raised");
  CHECK_THROWS_AS(project::withGroundNamed(*project, raised, "finished"), Error);
  CHECK_THROWS_AS(project::withGroundNamed(*project, raised, ""), Error);
  const auto next = project::withGroundNamed(*project, raised, "flood level");
  CHECK(next->ground(raised)->name == "flood level");
  CHECK(works::groundNamed(next->ground(next->finished())->works.back()->shape) == "flood level");
  project::Cache cache;
  const auto before = project::evaluate(project, cache, {}), after = project::evaluate(next, cache, {});
  CHECK(after->seams[0].volume->fill == before->seams[0].volume->fill);
  CHECK(after->grounds.size() == before->grounds.size());
}

TEST_CASE("Kept results go on telling the seams of a ground that is renamed") {
  auto project = fourGrounds();
  project::Cache cache;
  project::KeptResult kept = report::keptOf(*project::evaluate(project, cache, {}));
  kept.name = "first";
  project = project::withKept(*project, kept);
  const auto next = project::withGroundNamed(*project, project->surveyed(), "survey of 2026");
  std::vector<std::string> names;
  for (const project::KeptFigure& figure : next->kept.at(0)->figures) names.push_back(figure.name);
  CHECK(std::find(names.begin(), names.end(), "survey of 2026 to finished") != names.end());
  CHECK(std::find(names.begin(), names.end(), "Pad") != names.end());
  CHECK(std::none_of(names.begin(), names.end(), [](const auto& n) { return n.starts_with("existing"); }));
  CHECK(next->kept[0]->id == project->kept[0]->id);
}

TEST_CASE("The order of the column alters no figure") {
  auto project = fourGrounds();
  project::Cache cache;
  const auto before = project::evaluate(project, cache, {});
  for (const char* name : {"finished", "existing", "lowered", "raised", "existing"}) {
    for (const std::size_t place : {std::size_t{0}, std::size_t{2}, std::size_t{99}}) {
      project = project::withGroundAt(*project, named(*project, name), place);
      CHECK(project->column[std::min<std::size_t>(place, 3)]->name == name);
      const auto after = project::evaluate(project, cache, {});
      CHECK(after->seams[0].volume->cut == before->seams[0].volume->cut);
      CHECK(levelOf(project, "lowered") == Approx(50.1 + 0.6));
    }
  }
}

TEST_CASE("What a ground is made of can be changed but not to itself") {
  const auto project = fourGrounds();
  const GroundId raised = named(*project, "raised"), lowered = named(*project, "lowered");
  CHECK(levelOf(project::withMadeOf(*project, lowered, {project->surveyed()}), "lowered") == Approx(50.1 - 0.4));
  CHECK(levelOf(project::withMadeOf(*project, project->finished(), {raised}), "finished") == Approx(51.1));
  CHECK_THROWS_AS(project::withMadeOf(*project, raised, {lowered}), Error);
  CHECK_THROWS_AS(project::withMadeOf(*project, raised, {raised}), Error);
  // Stages are made from the finished ground: it cannot stand on one of them but the stripped.
  project::Stages stages;
  works::BuildUp slab;
  slab.name = "Slab", slab.outline = rectangle(30, 30, 40, 40), slab.layers = {{"c", 0.2}};
  stages.buildUps.push_back(slab);
  const auto built = project::withStages(*project, stages);
  const GroundId formation = built->withRole(project::Role::formation)->id;
  CHECK_THROWS_AS(project::withMadeOf(*built, built->finished(), {formation}), Error);
}

TEST_CASE("Works stay on the ground that was chosen when a strip changes") {
  auto project = fourGrounds();
  project::Stages stages;
  works::Strip strip;
  strip.name = "Topsoil", strip.outline = rectangle(0, 0, 100, 100);
  stages.strips.push_back(strip);
  project = project::withStages(*project, stages);
  const GroundId stripped = project->withRole(project::Role::stripped)->id;
  const auto standsOn = [](const project::Project& p) {
    return std::get<project::OnGround>(p.ground(p.finished())->base).ground;
  };
  CHECK(standsOn(*project) == stripped);
  project = project::withMadeOf(*project, project->finished(), {project->surveyed()});
  stages = project->stages;
  stages.strips[0].depth = 0.4;
  project = project::withStages(*project, stages);
  CHECK(standsOn(*project) == project->surveyed());
}

TEST_CASE("Two new grounds of one name are told apart by a number") {
  const auto start = project::emptyProject("Tolwin");
  auto p = project::withNewGround(*start, "proposed", project::FromSources{}, start->surveyed());
  p = project::withNewGround(*p, "proposed", project::FromSources{}, start->surveyed());
  p = project::withNewGround(*p, "proposed", project::FromSources{}, start->surveyed());
  std::set<std::string> names;
  for (const project::GroundPtr& g : p->column) names.insert(g->name);
  CHECK(names.size() == p->column.size());
  CHECK(names.contains("proposed 3"));
}
