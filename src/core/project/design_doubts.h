// What a careful checker would question about works as they were placed.
#pragma once

#include <vector>

#include "project/evaluate.h"

namespace inselberg::project {

// The site: the boundaries of the sources that are used by no ground but the surveyed. Empty when there are none.
std::vector<plane::Polygon> siteOf(const Project& project);

// Where the works reaches farthest beyond the site, how far and over what area, and what would keep it inside. Less
// than 1 cm or 0.1 m2 is none. `under` is the ground it was placed on.
ground::Doubts doubtsBeyond(const std::vector<plane::Polygon>& site, const works::Works& works,
                            const works::Placement& placement, const ground::Tin& under, const plane::Origin& origin,
                            const Progress& progress);

// Batters and legs steeper than the limits, and tops of pads and level areas that fall less than they are to: over more
// than 1 m2. A leg may be as steep as the steeper of the two limits; steeper by up to 2 % is none.
ground::Doubts doubtsOfSlopes(const Limits& limits, const works::Works& works, const works::Placement& placement,
                              const plane::Origin& origin);

// Where a ground set in meets the land around in steps of more than 2 cm, over more than 1 m: how long and how high.
// None for other works.
ground::Doubts doubtsOfJoint(const works::Works& works, const works::Placement& placement, const ground::Tin& under,
                             const plane::Origin& origin);

// Where tops and legs of two works lie over each other with more than 1 cm between their levels, over more than 1 m2;
// and where a batter of the later works lies so over tops and legs of the earlier.
ground::Doubts doubtsOfOverlap(const PlacedWorks& earlier, const PlacedWorks& later, const plane::Origin& origin);

// Hollows in or beside works that are no ponds, of more than 5 cm and 1 m3; ponds with their water above where it
// leaves, with less freeboard than the limits ask or holding less than is wanted of them; buildings that the land
// beside falls towards: one doubt each, where it is worst. `tin` is the ground with all the works.
ground::Doubts doubtsOfWater(const ground::Tin& tin, const std::vector<PlacedWorks>& works, const Limits& limits,
                             const plane::Origin& origin, const Progress& progress);

// A volume between a ground and the finished one, although there are build-ups: `layers` cubic metres of them are in
// it.
ground::Doubt doubtOfTop(const Ground& other, const Ground& formation, double layers, plane::Vec2 where);

}  // namespace inselberg::project
