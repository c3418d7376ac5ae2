// What of the site the areas of each use cover: computed when it is asked for, and kept while they stay as they are.
#pragma once

#include <QString>
#include <array>

#include "project/areas.h"

namespace inselberg::app {

class Coverages {
 public:
  // Of the visible areas; empty where they cannot be laid over each other.
  const project::Coverage& of(const project::Project& project, project::AreaUse use);

 private:
  struct Kept {
    std::vector<project::DrawnArea> areas;
    std::vector<plane::Polygon> site;
    project::Coverage coverage;
    bool known = false;
  };
  std::array<Kept, 4> kept_;
};

// "Regions cover 31 240 m² of the site, 2 610 m² are left; 1 sliver; 120 m² twice".
QString told(project::AreaUse use, const project::Coverage& coverage);

}  // namespace inselberg::app
