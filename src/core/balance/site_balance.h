// One shift of several works that evens out the earth of the whole site, or leaves a wanted surplus, with all its
// stages and materials.
#pragma once

#include <vector>

#include "base/progress.h"
#include "project/project.h"
#include "report/figures.h"

namespace inselberg::balance {

struct SiteWish {
  std::vector<WorksId> works;  // raised or lowered together; those tied to them follow
  double surplus = 0;          // m3, compacted: more than 0 to take away, less to bring in
  double share = 0.001;        // how near, as a share of the greater of what is available and what is needed
  double most = 10;            // m up or down
};

struct SiteBalance {
  double shift = 0;             // m up
  project::ProjectPtr project;  // with the works there
  report::Figures figures;      // of that project
  bool closed = false;          // the surplus is as near as wished
  int evaluations = 0;
};

// The works of the finished ground that can be shifted: those that show, have a level, and follow no other.
std::vector<WorksId> worksToShift(const project::Project& project);

// The whole site is evaluated for every shift that is tried, so what counts is what the report says: strips and
// undercuts follow, cut is filled with by its material's share and shrinkage. Not closed when no shift within the
// limits gives the surplus, or when it jumps over it; then it is the nearest that was found. The bracket grows from
// where the works are, and is closed by TOMS 748 (G. Alefeld, F. Potra, Y. Shi, 1995).
// REQUIRES: works that worksToShift lists, at least one; share and most above 0. Throws Error when a ground cannot be
// made, Cancelled.
SiteBalance balanceSite(const project::ProjectPtr& project, const SiteWish& wish, const Progress& progress);

}  // namespace inselberg::balance
