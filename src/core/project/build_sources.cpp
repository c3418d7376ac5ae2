#include "project/build_sources.h"

#include <fmt/format.h>

#include "base/error.h"
#include "base/quantity.h"
#include "ground/border.h"
#include "ground/check.h"
#include "ground/clip.h"
#include "ground/stamp.h"
#include "project/survey_offset.h"
#include "quantity/volume.h"

namespace inselberg::project {
namespace {

template <class T>
void append(std::vector<T>& to, const auto& more) {
  to.insert(to.end(), more.begin(), more.end());
}

ground::Doubt overlapDoubt(const Source& source, const quantity::Volume& shared) {
  const bool higher = shared.maxFill >= shared.maxCut;
  const auto where = higher ? shared.maxFillAt : shared.maxCutAt;
  return {ground::DoubtKind::sourcesOverlap, where.value_or(source.data->modelPoints.front().plan()),
          fmt::format(
              "{} lies over what earlier sources cover, on {}\u00a0m²; it rules there. It is up to {}\u00a0m {} here.",
              source.name, formatNumber(shared.planArea(), 0), formatNumber(std::max(shared.maxFill, shared.maxCut), 3),
              higher ? "higher" : "lower")};
}

// Boundaries and voids hold for models too.
void keepWithin(const ground::BuildInput& input, ground::BuildResult& result, const Progress& progress) {
  if (!input.boundaries.empty()) result.tin = ground::keepInside(*result.tin, input.boundaries, progress);
  if (!input.voids.empty()) result.tin = ground::keepOutside(*result.tin, input.voids, progress);
  if (result.tin->empty())
    throw Error("nothing of the ground lies inside its boundary and outside its voids",
                "check that they are of one place");
}

ground::BuildInput inputOf(std::span<const Source* const> sources) {
  ground::BuildInput input;
  for (const Source* source : sources) {
    const SourceData& d = *source->data;
    append(input.points, d.points);
    append(input.breaklines, d.breaklines);
    append(input.boundaries, d.boundaries);
    append(input.voids, d.voids);
  }
  return input;
}

}  // namespace

ground::BuildResult laidFromSources(std::span<const Source* const> sources, const ground::BuildRules& rules,
                                    const plane::Origin& origin, const Progress& progress) {
  const ground::BuildInput input = inputOf(sources);
  std::vector<const Source*> models;
  for (const Source* source : sources) {
    if (!source->data->modelTriangles.empty()) models.push_back(source);
  }
  ground::BuildResult result;
  if (models.empty() || !input.points.empty() || !input.breaklines.empty()) {
    result = ground::build(input, rules, origin, progress);
    for (ground::Doubt& doubt : offsetsBetween(sources, *result.tin, progress))
      result.doubts.push_back(std::move(doubt));
  }
  for (const Source* source : models) {
    auto model = std::make_shared<ground::Tin>(
        ground::TinParts{source->data->modelPoints.flat(), source->data->modelTriangles.flat(), {}, {}});
    if (const auto over = ground::facesOver(*model, progress); over.sides > 0)
      result.doubts.push_back(
          {ground::DoubtKind::facesOverlap, over.where,
           fmt::format(
               "Faces of {} lie over each other along {}\u00a0m of {} sides. Which of them rules there is chance.",
               source->name, formatNumber(over.length, 1), over.sides)});
    if (!result.tin) {
      result.tin = std::move(model);
      continue;
    }
    const auto shared = quantity::volumeBetween(*result.tin, *model, {}, progress);
    if (shared.planArea() > 0) result.doubts.push_back(overlapDoubt(*source, shared));
    result.tin = ground::stamp(*result.tin, *model, progress);
  }
  if (!models.empty()) keepWithin(input, result, progress);
  return result;
}

ground::BuildResult mendedAndChecked(ground::BuildResult laid, std::span<const Source* const> sources,
                                     const ground::BuildRules& rules, std::span<const ground::Mend> mends,
                                     const plane::Origin& origin, const Progress& progress) {
  if (!mends.empty()) laid.tin = ground::mended(*laid.tin, mends, origin, laid.doubts);
  progress.report("looking it over", 0.8);
  for (ground::Doubt& doubt : ground::check(*laid.tin, inputOf(sources), rules, origin, progress))
    laid.doubts.push_back(std::move(doubt));
  return laid;
}

ground::BuildResult buildFromSources(std::span<const Source* const> sources, const ground::BuildRules& rules,
                                     std::span<const ground::Mend> mends, const plane::Origin& origin,
                                     const Progress& progress) {
  return mendedAndChecked(laidFromSources(sources, rules, origin, progress), sources, rules, mends, origin, progress);
}

}  // namespace inselberg::project
