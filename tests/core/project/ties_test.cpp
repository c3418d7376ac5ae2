#include "project/ties.h"

#include <catch2/catch.hpp>

#include "base/error.h"
#include "project/evaluate.h"
#include "support/grounds.h"

using namespace inselberg;
using namespace inselberg::testing;
using project::ProjectPtr;

namespace {

double level(const ProjectPtr& project, WorksId id) {
  return *works::levelOf(project->works(id).works->shape);
}
ProjectPtr raised(const ProjectPtr& project, WorksId id, double to) {
  works::Works w = *project->works(id).works;
  w.shape = works::atLevel(w.shape, to);
  return project::withWorks(*project, w);
}

}  // namespace

TEST_CASE("Tied works follow, in chains, keep their offset, and stay when what they follow is gone") {
  auto project = project::emptyProject("Ties");
  std::vector<WorksId> ids;
  for (int i = 0; i < 4; ++i) {
    ids.push_back(WorksId{project->nextId});
    const double x = 40.0 * i;
    project = project::withNewWorks(*project, project->finished(), "Pad " + std::to_string(i),
                                    works::Pad{rectangle(x, 0, x + 20, 20), 50.0 + i, {}});
  }
  // Against the order of the list too.
  project = project::withTie(*project, ids[0], ids[2]);
  project = project::withTie(*project, ids[2], ids[1]);
  project = project::withTie(*project, ids[3], ids[2]);
  CHECK(level(project, ids[0]) == 50);
  auto moved = raised(project, ids[1], 61);
  CHECK(level(moved, ids[2]) == Approx(62));
  CHECK(level(moved, ids[0]) == Approx(60));
  CHECK(level(moved, ids[3]) == Approx(63));
  // What has not moved is shared.
  CHECK(raised(project, ids[3], 53)->works(ids[0]).works == project->works(ids[0]).works);
  // One raised by itself stays tied, farther above.
  moved = raised(moved, ids[2], 65);
  CHECK(moved->works(ids[2]).works->tie->plus == Approx(4));
  CHECK(level(moved, ids[0]) == Approx(63));
  moved = raised(moved, ids[1], 51);
  CHECK(level(moved, ids[2]) == Approx(55));

  CHECK_THROWS_AS(project::withTie(*project, ids[1], ids[0]), Error);
  CHECK_THROWS_AS(project::withTie(*project, ids[1], ids[1]), Error);

  // A doubt for each that followed what is gone.
  project::SourceData data;
  data.points = {{-100, -100, 50}, {300, -100, 50}, {300, 200, 50}, {-100, 200, 50}};
  moved = project::withSource(*moved, {"survey", ""}, std::move(data), moved->surveyed());
  moved = project::withoutWorks(*moved, ids[2]);
  CHECK(level(moved, ids[0]) == Approx(53));
  project::Cache cache;
  int lost = 0;
  const auto evaluation = project::evaluate(moved, cache, {});
  for (const auto& d : evaluation->ground(moved->finished())->doubts) lost += d.kind == ground::DoubtKind::tieLost;
  CHECK(lost == 2);
  moved = project::withoutTie(*moved, ids[0]);
  CHECK(!moved->works(ids[0]).works->tie);
}
