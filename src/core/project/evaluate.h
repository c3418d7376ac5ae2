// From the project's recipes to grounds, seams and doubts.
#pragma once

#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <unordered_map>
#include <vector>

#include "base/progress.h"
#include "project/make_stages.h"
#include "project/project.h"
#include "quantity/volume.h"

namespace inselberg::project {

// A works placed, and what it costs against the ground it was placed on.
struct PlacedWorks {
  WorksPtr works;
  std::shared_ptr<const works::Placement> placement;
  quantity::Volume volume;
  ground::TinPtr under;  // the ground it was placed on
  // Of its facets with that, where regions are to be measured; null where it is not at hand.
  std::shared_ptr<const quantity::Comparison> comparison;
};

struct EvaluatedGround {
  GroundId id;
  ground::TinPtr tin;  // null when it could not be made; then `problem` says why
  std::string problem;
  std::vector<PlacedWorks> works;  // none that are left out
  ground::Doubts doubts;
  std::optional<ground::TinStatistics> statistics;  // once whole
  std::shared_ptr<const StageGround> stage;         // of a ground that follows from the stages
  ground::TinPtr pending;                           // early only: facets of works that are not yet set into `tin`

  // The level at p, pending facets first; nothing where neither covers it.
  std::optional<double> levelAt(plane::Vec2 p) const;
};

struct Seam : Between {
  std::optional<quantity::Volume> volume;  // nothing while either ground is missing or not computed yet
  // What it was measured by, ready for regions; null where there are none, and for what is summed over works.
  std::shared_ptr<const quantity::Comparison> comparison;
};

// Immutable once published.
struct Evaluation {
  ProjectPtr project;
  std::vector<EvaluatedGround> grounds;  // in the order of the column
  std::vector<Seam> seams;               // those of the project, in its order
  bool whole = false;                    // false: published early, before the changed works are set into their ground
  bool patched = false;                  // early, and grounds stand in for those that take long to build

  const EvaluatedGround* ground(GroundId id) const;
  const EvaluatedGround* surveyed() const;
  const PlacedWorks* works(WorksId id) const;
  // What a plan of a ground draws: the works of the grounds up to it that are not hidden, or chosen; without one
  // of all grounds.
  std::vector<PlacedWorks> worksShown(GroundId upTo, WorksId chosen = {}) const;
  std::size_t doubtCount() const;  // without those accepted
};
using EvaluationPtr = std::shared_ptr<const Evaluation>;

// Results kept by the hash of what they were made from. Holds what the latest evaluations used and drops the rest.
// One evaluation at a time may use it.
class Cache {
 public:
  Cache();
  ~Cache();

  struct Store;
  Store& store() { return *store_; }

 private:
  std::unique_ptr<Store> store_;
};

// Called once at most, with an evaluation that is not whole.
//  - Where points or lines of a big survey have moved: with the ground patched there and the works on it `pending`,
//    before it is built anew; what is computed from whole grounds is missing.
//  - Otherwise as soon as the works of the first ground in which some changed are placed. That ground has the unchanged
//    works set in and the changed ones `pending`; grounds made from it, and seams that need it as a whole, are missing.
using Early = std::function<void(EvaluationPtr)>;

// Evaluates all grounds of the project, in whatever order they are made from each other, and its seams:
//  1. works are placed in order, each on the ground left by those before it; what a works does not touch does not alter
//     its placement, and works whose footprints keep clear of each other are set into the ground together;
//  2. the seam between a ground and the one it stands on is the sum of what its works do, those that stand on each
//  other
//     taken together; other seams are measured between the two grounds;
//  3. a ground that cannot be made (no points, bad data, made from itself) carries its problem, and those made from it
//     too; works that cannot be placed raise a doubt; nothing else is disturbed;
//  4. the order of the column alters nothing but the order of the results.
// With `early`, the triangles (never the surface) of a ground may depend on what was evaluated before. `shown`: as a
// draft, works that take long in full and less so are drafts in what is given early; in what is returned none is.
// Throws Cancelled.
EvaluationPtr evaluate(const ProjectPtr& project, Cache& cache, const Progress& progress, const Early& early = {},
                       works::Detail shown = works::Detail::full);

}  // namespace inselberg::project
