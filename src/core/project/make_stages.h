// The stages between the existing and the finished ground, made from the project's strips, undercuts and build-ups.
#pragma once

#include <functional>
#include <span>
#include <vector>

#include "project/project.h"
#include "works/placement.h"

namespace inselberg::project {

// What one strip, undercut or build-up does.
struct StagePart {
  WorksId id;
  // Of a strip or undercut the new surface where it rules, and what was there (not told of strips where depths are from
  // pits); of a build-up the finished surface where it rules, and the formation below. Null where it does nothing.
  ground::TinPtr after, before;
  // Of an undercut with layers: the same as if it were dug only down to the top of each, the lowest first.
  struct Filled {
    ground::TinPtr after, before;
  };
  std::vector<Filled> layers = {};
};

struct StageGround {
  ground::TinPtr tin;
  std::vector<StagePart> parts;  // of all that are not left out, in their order
  ground::TinPtr changed;        // formation: where works or build-ups lie
  ground::Doubts doubts;
};

// A works as it lies on a ground.
struct Lying {
  works::Shape shape;
  std::shared_ptr<const works::Placement> placement;
};
// Nothing for works that are gone, left out or cannot be placed.
using FindWorks = std::function<std::optional<Lying>(WorksId)>;

// Works lie on the existing ground here: the plan of tops and legs is the same on the stripped one.
StageGround strippedFrom(const Project& project, const ground::TinPtr& existing, const FindWorks& find,
                         const works::FindPlan& plan, const Progress& progress);
// `order` are the works of the finished ground as they were placed.
StageGround formationFrom(const Project& project, const ground::TinPtr& finished, std::span<const WorksId> order,
                          const FindWorks& find, const Progress& progress);
// `formation` is the finished ground where there are no build-ups, `stripped` the existing one without strips.
StageGround undercutFrom(const Project& project, const ground::TinPtr& stripped, const ground::TinPtr& formation,
                         const FindWorks& find, const Progress& progress);

// Regions that lie over each other: what is in two is counted in both.
ground::Doubts doubtsOfRegions(const std::vector<Region>& regions, const plane::Origin& origin);

}  // namespace inselberg::project
