// Where water runs once the hollows on its way are full.
#pragma once

#include <vector>

#include "ground/hollow.h"
#include "ground/water_path.h"

namespace inselberg::ground {

// From a place to the edge of the ground: the path down, and where it ends in a hollow the way on from that one's rim,
// as often as it takes. Each hollow lies lower than the one before. The first leg is waterPath's; those after it begin
// where water comes over the rim and rise nowhere above it. The last ends in a hollow only where that has no rim. Empty
// when the start is off the ground.
std::vector<WaterPath> waterLegs(const Tin& tin, Vec2 start, const Progress& progress);

// What a full hollow cannot hold, from where it comes over the rim. `ways` are of the same ground.
WaterPath legFrom(const Tin& tin, const WaterWays& ways, const Hollow& hollow, const Progress& progress);

}  // namespace inselberg::ground
