// Projects with stages, from the text of a design.
#pragma once

#include "exchange/design_file.h"
#include "project/evaluate.h"
#include "report/figures.h"
#include "support/grounds.h"

namespace inselberg::testing {

// A square of `size` metres from the origin of a site at E 400 000, N 6 000 000; the design's positions count from
// there.
inline project::ProjectPtr siteWith(const std::string& design, const Level& level, double size = 200, int n = 20) {
  project::SourceData data;
  for (int j = 0; j <= n; ++j) {
    for (int i = 0; i <= n; ++i) {
      const double x = size * i / n, y = size * j / n;
      data.points.push_back({x, y, level(x, y)});
    }
  }
  const auto empty = project::emptyProject("Site");
  auto project = std::make_shared<project::Project>(
      *project::withSource(*empty, {"survey", "/data/survey.csv"}, std::move(data), empty->surveyed()));
  project->hasOrigin = true;
  return exchange::withDesign(*project, design, "design.json", [](const project::Project& p, const std::string&) {
    return std::make_shared<project::Project>(p);
  });
}

struct Staged {
  project::EvaluationPtr evaluation;
  report::Quantities quantities;

  const project::EvaluatedGround& ground(project::Role role) const {
    return *evaluation->ground(evaluation->project->withRole(role)->id);
  }
  double level(project::Role role, plane::Vec2 p) const { return ground(role).tin->levelAt(p).value(); }
};
inline Staged staged(const project::ProjectPtr& project) {
  project::Cache cache;
  Staged made{project::evaluate(project, cache, {}), {}};
  made.quantities = report::quantitiesOf(*made.evaluation, {});
  return made;
}
inline Staged staged(const std::string& design, const Level& level) {
  return staged(siteWith(design, level));
}

}  // namespace inselberg::testing
