// What a pond holds, on the ground as it is with all works; and ponds made to hold so much.
#pragma once

#include <optional>
#include <vector>

#include "ground/hollow.h"
#include "works/placement.h"
#include "works/pond.h"

namespace inselberg::works {

struct PondStorage {
  ground::Hollow hollow;
  std::vector<ground::Storage> table;  // every 0.1 m or less, from the bottom to the rim
  std::optional<double> water;         // its level, where it has one
  double held = 0;                     // m3, up to its water, or to the rim
  std::optional<double> freeboard() const { return water ? std::optional(hollow.rim - *water) : std::nullopt; }
};

// Nothing where the pond holds nothing. `after` is the ground with it set in. Throws Cancelled.
std::optional<PondStorage> storageOf(const Pond& pond, const Placement& placement, const ground::Tin& after,
                                     const Progress& progress);

// A pond is made larger by its levels: by the top, with its water as far below, of one drawn at the bottom, else by the
// bottom. Or by its outline, drawn larger or smaller about its centroid.
enum class SizeBy { level, outline };

struct SizedPond {
  Pond pond;
  double held = 0;       // m3
  bool reached = false;  // within 0.01 % or 0.01 m3 of what was asked; else the nearest that was found
};
// The pond that holds `volume` m3, placed on `under`. Tries levels up to 100 m and outlines from a twentieth to twenty
// times. Throws Cancelled, and Error when the pond as it is cannot be placed. REQUIRES: volume > 0.
SizedPond sizedFor(const Pond& pond, double volume, SizeBy by, const ground::Tin& under, const plane::Origin& origin,
                   const Progress& progress);

}  // namespace inselberg::works
