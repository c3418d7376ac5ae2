#include "balance/site_balance.h"

#include <algorithm>
#include <boost/math/tools/toms748_solve.hpp>
#include <cmath>

#include "base/error.h"
#include "project/evaluate.h"

namespace inselberg::balance {
namespace {

project::ProjectPtr shifted(project::ProjectPtr project, const std::vector<WorksId>& list, double by) {
  for (const WorksId id : list) {
    works::Works moved = *project->works(id).works;
    moved.shape = works::atLevel(moved.shape, works::levelOf(moved.shape).value() + by);
    project = project::withWorks(*project, moved);
  }
  return project;
}

class Trials {
 public:
  Trials(project::ProjectPtr project, const SiteWish& wish, const Progress& progress)
      : project_(std::move(project)), wish_(wish), progress_(progress) {}

  // How much more than wished is left at a shift; 0 where that is near enough.
  double operator()(double shift) {
    progress_.report("balancing", std::min(0.95, made_.evaluations / 12.0));
    SiteBalance now;
    now.shift = shift;
    now.project = shift == 0 ? project_ : shifted(project_, wish_.works, shift);
    const auto evaluation = project::evaluate(now.project, cache_, progress_);
    for (const auto& ground : evaluation->grounds) {
      const project::Ground& of = *project_->ground(ground.id);
      if (!ground.tin && project::isStage(of.role)) throw Error(ground.problem, {"", 0, of.name}, "mend that first");
    }
    now.figures = report::figuresOf(*evaluation, quantities_, progress_);
    now.evaluations = made_.evaluations + 1;
    const double excess = now.figures.surplus() - wish_.surplus;
    now.closed = std::abs(excess) <= wish_.share * std::max({now.figures.available, now.figures.needed, 1e-3});
    const bool nearest = made_.evaluations == 0 || std::abs(excess) < nearest_;
    made_.evaluations = now.evaluations;
    if (nearest) nearest_ = std::abs(excess), made_ = std::move(now);
    return made_.closed && nearest ? 0 : excess;
  }

  const SiteBalance& best() const { return made_; }

 private:
  project::ProjectPtr project_;
  const SiteWish& wish_;
  const Progress& progress_;
  project::Cache cache_;
  report::QuantityCache quantities_;
  SiteBalance made_;
  double nearest_ = 0;
};

}  // namespace

std::vector<WorksId> worksToShift(const project::Project& project) {
  std::vector<WorksId> list;
  for (const project::WorksPtr& w : project.ground(project.finished())->works) {
    const bool follows = w->tie && project.works(w->tie->to).works;
    if (!w->leftOut && !w->held && !follows && works::levelOf(w->shape)) list.push_back(w->id);
  }
  return list;
}

SiteBalance balanceSite(const project::ProjectPtr& project, const SiteWish& wish, const Progress& progress) {
  Trials trial(project, wish, progress);
  double near = 0, atNear = trial(0);
  // Raising the works uses up earth.
  const double towards = atNear > 0 ? 1 : -1;
  double far = 0, atFar = atNear;
  for (double reach = 0.25; atFar != 0 && (atFar > 0) == (atNear > 0) && std::abs(far) < wish.most; reach *= 2) {
    near = far, atNear = atFar;
    far = towards * std::min(reach, wish.most);
    atFar = trial(far);
  }
  if (atFar == 0 || (atFar > 0) == (atNear > 0)) return trial.best();
  if (near > far) std::swap(near, far), std::swap(atNear, atFar);
  std::uintmax_t most = 40;
  boost::math::tools::toms748_solve([&](double shift) { return trial(shift); }, near, far, atNear, atFar,
                                    [](double a, double b) { return b - a < 1e-9; }, most);
  return trial.best();
}

}  // namespace inselberg::balance
