// The strip: topsoil taken off inside an outline or under works, by one depth or by depths found in test pits.
#pragma once

#include <string>
#include <vector>

#include "base/id.h"
#include "base/progress.h"
#include "ground/tin.h"
#include "plane/overlay.h"
#include "works/field.h"

namespace inselberg::works {

struct Strip {
  WorksId id;
  std::string name;
  bool hidden = false;
  plane::Ring outline;              // else under works
  std::vector<WorksId> under;       // the plan of their tops and legs
  double margin = 0;                // m that it is grown by, corners as theirs
  std::vector<plane::Ring> except;  // left out
  double depth = 0.3;               // m; without pits
  std::vector<plane::Vec3> pits;    // plan, and the depth found there
  std::string material, phase;      // empty: not said
  bool operator==(const Strip&) const = default;
};

// A strip with the area it covers, its exceptions taken off.
struct StripArea {
  const Strip* strip = nullptr;
  plane::Areas area;
};

// What strips leave of a ground.
struct Stripped {
  ground::TinPtr tin;
  std::vector<ground::TinPtr> parts;  // for each strip the new surface where it rules; null where it rules nowhere
  double twice = 0;                   // m2 that several strips claim
  plane::Vec2 twiceAt;
};

// The ground less the greater of the depths of the strips that cover a place, the first of equals ruling; with walls at
// their edges. Depths from pits are within 3 mm of their rule, all else exact. Throws Cancelled.
Stripped stripped(const ground::TinPtr& ground, const std::vector<StripArea>& strips, const Progress& progress);

}  // namespace inselberg::works
