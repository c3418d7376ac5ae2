// How long stages and quantities take: of the demo, and of a large site.
#include <fmt/format.h>

#include <chrono>
#include <cmath>

#include "project/evaluate.h"
#include "report/figures.h"
#include "store/project_file.h"
#include "table.h"
#include "works/pad.h"

namespace inselberg::bench {
namespace {

using plane::Vec2;
using Edit = std::function<void(project::Stages&, double by)>;

// Alters a project step by step, and tells how long it takes until its grounds and seams are known, and then its
// quantities.
void alter(const std::string& what, project::ProjectPtr project, project::Cache& cache, const Edit& edit,
           const std::string& wanted) {
  constexpr int kSteps = 6;
  report::QuantityCache quantities;
  double evaluating = 0, taking = 0;
  for (int step = 0; step <= kSteps; ++step) {
    project::Stages stages = project->stages;
    edit(stages, 0.01);
    project = project::withStages(*project, stages);
    const auto start = std::chrono::steady_clock::now();
    const auto since = [&] { return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count(); };
    const auto evaluation = project::evaluate(project, cache, {});
    const double whole = since();
    report::quantitiesOf(*evaluation, quantities, {});
    if (step == 0) continue;  // the first finds nothing kept
    evaluating += whole / kSteps, taking += (since() - whole) / kSteps;
  }
  row(what + ": grounds and seams; and all quantities",
      fmt::format("{:.0f} ms; {:.0f} ms", 1000 * evaluating, 1000 * taking), wanted);
}

}  // namespace

void stagesOfDemo() {
  const auto project = store::open(INSELBERG_SOURCE_DIR "/demo/tolwin/depot.inselberg").project;
  project::Cache cache;
  const auto strips = [](project::Stages& s, double by) {
    for (works::Strip& strip : s.strips) {
      strip.depth += by;
      for (plane::Vec3& pit : strip.pits) pit.z += by;
    }
  };
  alter("The demo, a strip's depth changed", project, cache, strips, "100 ms");
  alter(
      "The demo, an undercut's depth changed", project, cache,
      [](project::Stages& s, double by) { s.undercuts.at(0).depth += by; }, "100 ms");
  alter(
      "The demo, a layer's thickness changed", project, cache,
      [](project::Stages& s, double by) { s.buildUps.at(0).layers.at(0).thickness += by; }, "100 ms");
}

namespace {

plane::Ring square(Vec2 at, double side) {
  return {at, at + Vec2{side, 0}, at + Vec2{side, side}, at + Vec2{0, side}};
}

}  // namespace

// A million triangles, twenty works, five grounds and twenty regions.
void stages() {
  project::SourceData data;
  data.points = survey(500'000, 0, 5).points;
  const auto empty = project::emptyProject("large");
  auto project = project::withSource(*empty, {"survey", ""}, std::move(data), empty->surveyed());
  project::Stages stages;
  works::Strip strip;
  strip.name = "Topsoil", strip.outline = square({20, 20}, 660), strip.depth = 0.2;
  stages.strips.push_back(strip);
  works::Undercut undercut;
  works::BuildUp buildUp;
  undercut.name = "Under pads", undercut.wider = 0.5;
  buildUp.name = "Slabs", buildUp.part = works::BuildUpPart::top, buildUp.layers = {{"slab", 0.2}, {"base", 0.15}};
  for (int i = 0; i < 20; ++i) {
    const Vec2 at{60.0 + 130 * (i % 5), 60.0 + 160 * (i / 5)};
    const WorksId id{project->nextId};
    project = project::withNewWorks(*project, project->finished(), fmt::format("Pad {}", i + 1),
                                    works::Pad{square(at, 30), hills(at.x, at.y) + 0.8, {}});
    if (i % 4 == 0) undercut.under.push_back(id);
    buildUp.over.push_back(id);
    stages.regions.push_back({fmt::format("Lot {}", i + 1), {square(at - Vec2{40, 40}, 110), {}}});
  }
  stages.undercuts.push_back(undercut), stages.buildUps.push_back(buildUp);
  project = project::withStages(*project, stages);
  project::Cache cache;
  const std::string site = "1 000 000 triangles, 20 works, 5 grounds, 20 regions, ";
  alter(
      site + "a strip's depth changed", project, cache, [](project::Stages& s, double by) { s.strips[0].depth += by; },
      "1 500 ms in all");
  alter(
      site + "an undercut's depth changed", project, cache,
      [](project::Stages& s, double by) { s.undercuts[0].depth += by; }, "1 500 ms in all");
  alter(
      site + "a layer's thickness changed", project, cache,
      [](project::Stages& s, double by) { s.buildUps[0].layers[0].thickness += by; }, "1 500 ms in all");
}

}  // namespace inselberg::bench
