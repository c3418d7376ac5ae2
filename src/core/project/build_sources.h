// From sources to a ground.
#pragma once

#include <span>

#include "base/progress.h"
#include "ground/build.h"
#include "ground/mend.h"
#include "project/source.h"

namespace inselberg::project {

// What is built from the points and lines of all sources comes first, by the rules; models of faces are laid over it in
// the order of the sources, the later over the earlier, with a doubt where they cover what was there. Boundaries and
// voids of all sources hold for all. Throws Error (without a place) when there is no ground; Cancelled.
ground::BuildResult laidFromSources(std::span<const Source* const> sources, const ground::BuildRules& rules,
                                    const plane::Origin& origin, const Progress& progress);

// That with the mends made, and looked over (ground/check.h).
ground::BuildResult mendedAndChecked(ground::BuildResult laid, std::span<const Source* const> sources,
                                     const ground::BuildRules& rules, std::span<const ground::Mend> mends,
                                     const plane::Origin& origin, const Progress& progress);

// The one after the other.
ground::BuildResult buildFromSources(std::span<const Source* const> sources, const ground::BuildRules& rules,
                                     std::span<const ground::Mend> mends, const plane::Origin& origin,
                                     const Progress& progress);

}  // namespace inselberg::project
