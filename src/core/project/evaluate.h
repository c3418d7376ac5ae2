// From the project's recipes to grounds, seams and doubts.
#pragma once

#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <unordered_map>
#include <vector>

#include "base/progress.h"
#include "project/project.h"
#include "quantity/volume.h"

namespace inselberg::project {

// A works placed, and what it costs against the ground it was placed on.
struct PlacedWorks {
  WorksPtr works;
  std::shared_ptr<const works::Placement> placement;
  quantity::Volume volume;
  ground::TinPtr under;  // the ground it was placed on
};

struct EvaluatedGround {
  GroundId id;
  ground::TinPtr tin;  // null when it could not be made; then `problem` says why
  std::string problem;
  std::vector<PlacedWorks> works;  // hidden works take no part
  ground::Doubts doubts;
  ground::TinPtr pending;  // early only: facets of the last works, not yet set into `tin`

  // The level at p, pending facets first; nothing where neither covers it.
  std::optional<double> levelAt(plane::Vec2 p) const;
};

struct Seam {
  GroundId from, to;
  std::optional<quantity::Volume> volume;  // nothing while either ground is missing or not computed yet
};

// Immutable once published.
struct Evaluation {
  ProjectPtr project;
  std::vector<EvaluatedGround> grounds;  // in the order of the column
  std::vector<Seam> seams;               // between each ground and the next
  bool whole = false;                    // false: published early, before the last works is set into its ground

  const EvaluatedGround* ground(GroundId id) const;
  const PlacedWorks* works(WorksId id) const;
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

// Called with an evaluation that is not whole, as soon as every works is placed. Its last ground has `pending` facets;
// seams that need that ground as a whole are missing.
using Early = std::function<void(EvaluationPtr)>;

// Evaluates all grounds of the column and the seams between them. Where the works between two grounds keep clear of
// each other, their seam is the sum of their volumes; else the two grounds are measured against each other. A ground
// that cannot be made (no points, bad data) carries its problem, and those above it too; nothing else is disturbed.
// Throws Cancelled.
EvaluationPtr evaluate(const ProjectPtr& project, Cache& cache, const Progress& progress, const Early& early = {});

}  // namespace inselberg::project
