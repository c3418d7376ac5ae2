// Sheets to print: the plan in its frame, with title block, legend, figures and section.
#pragma once

#include <string>
#include <vector>

#include "base/progress.h"
#include "drawing/paper.h"
#include "project/evaluate.h"
#include "project/layout.h"

namespace inselberg::report {

// A layout to begin with: A3 across, the finished ground, and the usual fields of a title block, empty.
project::Layout startedLayout(const project::Project& project);

// Where the plan stands on the page, mm, at what scale, and which place is in its middle.
struct PlanFrame {
  plane::Box at;
  double scale = 500;
  plane::Vec2 centre;
};
// Throws Error when neither the layout's ground nor the finished one can be made now.
PlanFrame frameOf(const project::Evaluation& evaluation, const project::Layout& layout);

// Everything true to scale. Figures are those of the ledger; where not all rows have room, the last tells how many are
// left out. Throws as above, when there would be too many contours, and Cancelled.
drawing::Page layoutPage(const project::Evaluation& evaluation, const project::Layout& layout,
                         const Progress& progress);

// What a file of pages holds by the ending of its name: .pdf, .svg or .png (these of one page only). Throws Error for
// others.
std::string contentOf(const std::string& name, const std::vector<drawing::Page>& pages);

}  // namespace inselberg::report
