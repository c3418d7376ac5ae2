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

// Where tops and legs of two works lie over each other with more than 1 cm between their levels, over more than 1 m2.
ground::Doubts doubtsOfOverlap(const PlacedWorks& earlier, const PlacedWorks& later, const plane::Origin& origin);

// Hollows in or beside works that are no ponds, of more than 5 cm and 1 m3; and ponds with their water above where it
// leaves. `tin` is the ground with all the works.
ground::Doubts doubtsOfWater(const ground::Tin& tin, const std::vector<PlacedWorks>& works, const plane::Origin& origin,
                             const Progress& progress);

}  // namespace inselberg::project
