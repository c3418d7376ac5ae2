#include "project/stage_paths.h"

#include "base/error.h"
#include "plane/polygon.h"
#include "project/stage_place.h"
#include "works/graded_line.h"

namespace inselberg::project {
namespace {

// Calls f(points, closed) for each, in the order of their numbers.
template <class AnyStages, class F>
void eachPath(AnyStages& stages, WorksId id, F&& f) {
  const auto at = placeOf(stages, id);
  if (!at) return;
  const auto tell = [&](auto& points, bool closed) {
    if (!points.empty()) f(points, closed);
  };
  switch (at->kind) {
    case StageKind::strip:
      tell(stages.strips[at->place].outline, true);
      for (auto& ring : stages.strips[at->place].except) tell(ring, true);
      break;
    case StageKind::undercut:
      tell(stages.undercuts[at->place].line, false);
      break;
    case StageKind::buildUp:
      tell(stages.buildUps[at->place].outline, true);
      break;
  }
}

}  // namespace

std::vector<StagePath> pathsOf(const Stages& stages, WorksId id) {
  std::vector<StagePath> paths;
  eachPath(stages, id, [&](const auto& points, bool closed) { paths.push_back({points, closed}); });
  return paths;
}

Stages withPath(Stages stages, WorksId id, std::size_t number, std::vector<plane::Vec2> points,
                const plane::Origin& origin) {
  const StagePath path = pathsOf(stages, id).at(number);
  if (points.size() < path.fewest())
    throw Error(path.closed ? "an outline has three corners or more" : "a line has two points or more",
                "remove it as a whole, in the column");
  if (path.closed) plane::sound({points, {}}, origin);
  std::size_t k = 0;
  eachPath(stages, id, [&](auto& own, bool) {
    if (k++ == number) own = points;
  });
  if (const auto at = placeOf(stages, id); at->kind == StageKind::undercut) {
    const works::Undercut& u = stages.undercuts[at->place];
    const auto why = u.byLevels ? works::Grades(u.levels, {}).wrong(works::lengthOf(u.line, false)) : std::nullopt;
    if (why) throw Error("the line " + *why, "mend the levels along it first");
  }
  return stages;
}

}  // namespace inselberg::project
