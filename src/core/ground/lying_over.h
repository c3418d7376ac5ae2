// Which of several surfaces lie over a ground's triangles.
#pragma once

#include <span>
#include <vector>

#include "base/progress.h"
#include "ground/tin.h"

namespace inselberg::ground {

// For each triangle the number of the last of the surfaces that covers its middle, kNone where none does. A surface
// may be null.
std::vector<Index> lastOver(const Tin& ground, std::span<const TinPtr> surfaces, const Progress& progress);

}  // namespace inselberg::ground
