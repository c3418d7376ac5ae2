#include "project/stage_paths.h"

#include "base/error.h"
#include "plane/polygon.h"
#include "project/stage_place.h"
#include "works/graded_line.h"

namespace inselberg::project {
namespace {

struct Path {
  std::vector<plane::Vec2>* points;
  bool closed;
};

// Of the stages themselves.
std::vector<Path> pathsIn(Stages& stages, WorksId id) {
  const auto at = placeOf(stages, id);
  if (!at) return {};
  std::vector<Path> paths;
  const auto add = [&](std::vector<plane::Vec2>& points, bool closed) {
    if (!points.empty()) paths.push_back({&points, closed});
  };
  switch (at->kind) {
    case StageKind::strip: {
      works::Strip& strip = stages.strips[at->place];
      add(strip.outline, true);
      for (plane::Ring& ring : strip.except) add(ring, true);
      break;
    }
    case StageKind::undercut:
      add(stages.undercuts[at->place].line, false);
      break;
    case StageKind::buildUp:
      add(stages.buildUps[at->place].outline, true);
      break;
  }
  return paths;
}

}  // namespace

std::vector<StagePath> pathsOf(const Stages& stages, WorksId id) {
  Stages copy = stages;
  std::vector<StagePath> paths;
  for (const Path& path : pathsIn(copy, id)) paths.push_back({*path.points, path.closed});
  return paths;
}

Stages withPath(Stages stages, WorksId id, std::size_t number, std::vector<plane::Vec2> points,
                const plane::Origin& origin) {
  const Path path = pathsIn(stages, id).at(number);
  if (points.size() < StagePath{{}, path.closed}.fewest())
    throw Error(path.closed ? "an outline has three corners or more" : "a line has two points or more",
                "remove it as a whole, in the column");
  if (path.closed) plane::sound({points, {}}, origin);
  *path.points = std::move(points);
  if (const auto at = placeOf(stages, id); at->kind == StageKind::undercut) {
    const works::Undercut& u = stages.undercuts[at->place];
    const auto why = u.byLevels ? works::Grades(u.levels, {}).wrong(works::lengthOf(u.line, false)) : std::nullopt;
    if (why) throw Error("the line " + *why, "mend the levels along it first");
  }
  return stages;
}

}  // namespace inselberg::project
