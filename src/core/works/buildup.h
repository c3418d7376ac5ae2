// The build-up: thickness from the finished ground down to formation, in layers.
#pragma once

#include <string>
#include <vector>

#include "base/id.h"
#include "base/progress.h"
#include "ground/tin.h"
#include "plane/polygon.h"

namespace inselberg::works {

enum class BuildUpPart { top, batters, all };

struct Layer {
  std::string name;
  double thickness = 0;   // m
  bool fromSite = false;  // made of what the site has: it counts among what is needed from it
  bool operator==(const Layer&) const = default;
};

struct BuildUp {
  WorksId id;
  std::string name;
  bool leftOut = false;       // it takes no part
  std::vector<WorksId> over;  // works; else an outline
  plane::Ring outline;
  BuildUpPart part = BuildUpPart::all;  // of works
  std::vector<Layer> layers;            // from the top down
  bool slopeTrue = false;               // thickness square to the slope, else vertical
  std::string phase;                    // empty: not said
  bool operator==(const BuildUp&) const = default;

  double thickness() const {
    double sum = 0;
    for (const Layer& layer : layers) sum += layer.thickness;
    return sum;
  }
};

// A finished ground less the build-ups that its triangles carry.
struct Formation {
  ground::TinPtr tin;
  // For each build-up the finished surface where it rules, and the formation below it; null where nowhere.
  std::vector<ground::TinPtr> above, below;
};

// `carried` tells for each triangle of the finished ground the number of the build-up that rules there, -1 for none.
// Walls stand where thicknesses differ.
Formation formationUnder(const ground::TinPtr& finished, const std::vector<BuildUp>& buildUps,
                         const std::vector<int>& carried);

}  // namespace inselberg::works
