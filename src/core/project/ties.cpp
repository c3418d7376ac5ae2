#include "project/ties.h"

#include <cmath>

#include "base/error.h"

namespace inselberg::project {
namespace {

constexpr double kSame = 1e-9;  // m

std::optional<double> levelOf(const Project& project, WorksId id) {
  const auto placed = project.works(id);
  return placed.works ? works::levelOf(placed.works->shape) : std::nullopt;
}

}  // namespace

ProjectPtr withTie(const Project& project, WorksId id, WorksId to) {
  const auto own = levelOf(project, id), other = levelOf(project, to);
  if (!own || !other)
    throw Error("one of them has no level of its own", "tie pads, level areas, or others with a level");
  // From one to what it follows, as long as there is something.
  for (WorksId at = to; at;) {
    if (at == id) throw Error("that works follows this one", "tie only one of them to the other");
    const auto placed = project.works(at);
    at = placed.works && placed.works->tie ? placed.works->tie->to : WorksId{};
  }
  works::Works tied = *project.works(id).works;
  tied.tie = works::Tie{to, *own - *other};
  return withWorks(project, tied);
}

ProjectPtr withoutTie(const Project& project, WorksId id) {
  works::Works free = *project.works(id).works;
  free.tie.reset();
  return withWorks(project, free);
}

ProjectPtr settled(ProjectPtr project) {
  std::size_t rounds = 0;
  for (const GroundPtr& ground : project->column) rounds += ground->works.size();
  // What follows what follows another comes right in the next round.
  for (bool any = true; any && rounds > 0; --rounds) {
    any = false;
    auto next = std::make_shared<Project>(*project);
    for (GroundPtr& ground : next->column) {
      for (std::size_t i = 0; i < ground->works.size(); ++i) {
        const works::Works& w = *ground->works[i];
        const auto to = w.tie ? levelOf(*project, w.tie->to) : std::nullopt;
        const auto own = to ? works::levelOf(w.shape) : std::nullopt;
        if (!own || std::abs(*to + w.tie->plus - *own) < kSame) continue;
        auto moved = std::make_shared<works::Works>(w);
        moved->shape = works::atLevel(w.shape, *to + w.tie->plus);
        auto changed = std::make_shared<Ground>(*ground);
        changed->works[i] = std::move(moved);
        ground = std::move(changed);
        any = true;
      }
    }
    if (any) project = std::move(next);
  }
  return project;
}

}  // namespace inselberg::project
