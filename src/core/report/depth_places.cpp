#include "report/depth_places.h"

namespace inselberg::report {

std::vector<plane::Vec2> deepestPlaces(const project::Evaluation& evaluation, GroundId from, GroundId to) {
  std::vector<plane::Vec2> places;
  const auto add = [&](const quantity::Volume& v) {
    if (v.maxCutAt) places.push_back(*v.maxCutAt);
    if (v.maxFillAt) places.push_back(*v.maxFillAt);
  };
  for (const project::Seam& seam : evaluation.seams) {
    if (seam.from == from && seam.to == to && seam.volume) add(*seam.volume);
  }
  const project::Ground* later = evaluation.project->ground(to);
  const auto* on = later ? std::get_if<project::OnGround>(&later->base) : nullptr;
  if (const auto* ground = evaluation.ground(to);
      ground && ((on && on->ground == from) || from == evaluation.project->surveyed())) {
    for (const project::PlacedWorks& works : ground->works) add(works.volume);
  }
  return places;
}

}  // namespace inselberg::report
