// What a pond holds, on the ground as it is with all works.
#pragma once

#include <optional>

#include "ground/hollow.h"
#include "project/evaluate.h"

namespace inselberg::report {

struct PondStorage {
  ground::Hollow hollow;
  std::vector<ground::Storage> table;  // every 0.1 m or less, from the bottom to the rim
  std::optional<double> water;         // its level, where it has one
  double held = 0;                     // m3, up to its water, or to the rim
  std::optional<double> freeboard() const { return water ? std::optional(hollow.rim - *water) : std::nullopt; }
};

// Nothing for works of other kinds, before the ground is whole, and where the pond holds nothing.
// Throws Cancelled.
std::optional<PondStorage> storageOf(const project::EvaluatedGround& ground, const project::PlacedWorks& works,
                                     const Progress& progress);

}  // namespace inselberg::report
