// What makes the stages between the existing and the finished ground, and what their quantities are told by.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "plane/polygon.h"
#include "works/buildup.h"
#include "works/strip.h"
#include "works/undercut.h"

namespace inselberg::project {

// A named area that quantities are broken down by.
struct Region {
  std::string name;
  plane::Polygon area;
  bool operator==(const Region&) const = default;
};

// What a cut is made of.
struct Material {
  std::string name;
  double bulking = 0;    // loose is bank times 1 and this
  double shrinkage = 0;  // compacted is bank times 1 less this
  double usable = 1;     // share that can be filled with
  double cutRate = 0;    // per bank m3
  double haulRate = 0;   // per loose m3
  bool operator==(const Material&) const = default;
};

// How sure the levels of a source are, as standard deviations in metres.
struct Accuracy {
  std::string source;     // the name of its file
  double random = 0;      // of each point by itself
  double systematic = 0;  // of all of them together
  bool operator==(const Accuracy&) const = default;
};

struct Stages {
  std::vector<works::Strip> strips;
  std::vector<works::Undercut> undercuts;
  std::vector<works::BuildUp> buildUps;
  std::vector<Region> regions;
  std::vector<Material> materials;  // in the order in which they are filled with
  std::vector<Accuracy> accuracy;
  bool operator==(const Stages&) const = default;
};

}  // namespace inselberg::project
