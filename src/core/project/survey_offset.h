// Two surveys of one place that stand at different heights.
#pragma once

#include <span>

#include "base/progress.h"
#include "ground/doubt.h"
#include "ground/tin.h"
#include "project/source.h"

namespace inselberg::project {

// A doubt for every two sources whose points cover the same ground (a tenth of those of one, 50 at least, stand among
// the other's) and differ in level by more than 0.05 m on the whole: the median over those points of the level against
// the mean of the other's points beside, the nearer counting more. Surveys side by side, and points along a line, such
// as a ditch within a field, are none. `tin` is built from the points of all of them.
ground::Doubts offsetsBetween(std::span<const Source* const> sources, const ground::Tin& tin, const Progress& progress);

}  // namespace inselberg::project
