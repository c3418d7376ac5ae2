#include "project/redraw.h"

#include <fmt/format.h>

#include "base/error.h"
#include "ground/contours.h"

namespace inselberg::project {

Redrawn withRedrawn(const Project& project, GroundId of, const ground::Tin& tin, double interval,
                    const Progress& progress) {
  const std::string& name = project.ground(of)->name;
  SourceData lines;
  for (const auto& c : ground::contours(tin, ground::contourLevels(tin, interval), progress)) {
    ground::Breakline line{{}, c.closed, true};
    for (const plane::Vec2 p : c.points) line.vertices.push_back({p.x, p.y, c.level});
    lines.breaklines.push_back(std::move(line));
  }
  if (lines.breaklines.empty())
    throw Error(fmt::format("{} has no contour every {} m", name, interval), "choose a smaller interval");
  auto next = std::make_shared<Project>(project);
  const SourceId source{next->nextId++};
  next->sources.push_back(makeSource(source, {.name = "contours of " + name}, std::move(lines)));
  const GroundId made{next->nextId};
  ground::BuildRules rules;
  rules.cureFlats = true;
  return {withNewGround(*next, name + " redrawn", FromSources{{source}, rules, {}}, of), made};
}

}  // namespace inselberg::project
