// The outlines and lines of strips, undercuts and build-ups, as corners that are moved one by one.
#pragma once

#include <vector>

#include "project/project.h"

namespace inselberg::project {

struct StagePath {
  std::vector<plane::Vec2> points;
  bool closed = true;
  std::size_t fewest() const { return closed ? 3 : 2; }
};

// The outline of a strip and what it leaves out, the line of an undercut, the outline of a build-up; none where it lies
// under works, and of an id that there is none of.
std::vector<StagePath> pathsOf(const Stages& stages, WorksId id);

// With the one of this number in `pathsOf` in place of what it was. Throws Error when its corners are too few, an
// outline crosses itself, or a line does not reach to the levels along it. REQUIRES: there is one of the number.
Stages withPath(Stages stages, WorksId id, std::size_t number, std::vector<plane::Vec2> points,
                const plane::Origin& origin);

}  // namespace inselberg::project
