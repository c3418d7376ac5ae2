// The strip: topsoil taken off inside an outline or under works, by one depth or by depths found in test pits.
#pragma once

#include <functional>
#include <memory>
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
  bool leftOut = false;             // it takes no part
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
  // For each strip the new surface where it rules, and the ground that was there; null where it rules nowhere.
  std::vector<ground::TinPtr> parts, before;
  double twice = 0;  // m2 that several strips claim
  plane::Vec2 twiceAt;
};

// Strips of one depth each in plan: what stays as it is while depths are changed, as long as the deeper stay the
// deeper.
struct StripPlan {
  ground::TinPtr land;                // the ground, cut and parted along the strips' edges
  std::vector<ground::TinPtr> parts;  // for each strip the ground where it rules; null where it rules nowhere. Their
                                      // points are those of the land, one part after the other, then the rest
};
// The strips by their depths, the greatest first, the first of equals.
std::vector<std::size_t> byDepth(const std::vector<StripArea>& strips);
// REQUIRES: of one depth. Throws Cancelled.
StripPlan planOf(const ground::Tin& ground, const std::vector<StripArea>& strips, const Progress& progress);

// The ground less the greater of the depths of the strips that cover a place, the first of equals ruling; with walls at
// their edges. Depths from pits are within 3 mm of their rule, all else exact. `plan`, if given, tells planOf(ground,
// ...) of the strips it is asked for. Throws Cancelled.
using FindPlan = std::function<std::shared_ptr<const StripPlan>(const std::vector<StripArea>&)>;
Stripped stripped(const ground::TinPtr& ground, const std::vector<StripArea>& strips, const Progress& progress,
                  const FindPlan& plan = {});

}  // namespace inselberg::works
