// Plan sheets printed beneath a plan.
#pragma once

#include <optional>

#include "base/progress.h"
#include "drawing/paper.h"
#include "project/project.h"

namespace inselberg::report {

// The plan sheets that are shown, as they lie in a part of the plan (`window`, m), drawn into `at` on the page: at 12
// dots a millimetre, fewer on large pages. What is white on them is clear, so that colours beneath are seen and lines
// stay dark. Nothing where none lies there. Throws Error for a sheet that cannot be drawn, and Cancelled.
std::optional<drawing::Picture> printedSheets(const project::Project& project, const plane::Box& window,
                                              const plane::Box& at, const Progress& progress);

}  // namespace inselberg::report
