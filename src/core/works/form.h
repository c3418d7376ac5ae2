// The one engine of all works: a top, crests, and a section on each side of them. Kinds differ in how they make these
// three.
#pragma once

#include "works/own_area.h"

namespace inselberg::works {

struct Form {
  std::vector<Top> tops;  // may be none: a line alone
  Rule rule = Rule::legs;
  Crests crests;
  std::optional<double> space = {};           // the top goes on by so much before the sections begin
  std::optional<ground::Plane> spaceIn = {};  // in this plane, else level
  std::size_t topLegs = 0;                    // so many first legs of all sections belong to the top
  bool cornersLevel = false;                  // in square corners its legs lie at the corner's level
  double reach = 500;                         // m; a batter longer than this ends there, with a doubt
};

// The works on the ground. The level on a leg at a place is that of its inner line at the nearest point and the leg's
// rise; with d the distance from there and z the level there, a batter's level after is
//   min(max(ground, z - d/fill), z + d/cut)
// (round corners; square ones prolong the planes of their sides to their mitre), on those parts only that hang together
// with a stretch of crest that lies above (fill) or below (cut) the ground. So
//  1. a batter ends where it first meets the ground; land beyond a ridge is left alone, and ground standing out of a
//     batter stays as an island;
//  2. along the daylight line the facets lie on the ground (within kOnGround);
//  3. where batters overlap the higher fill and the lower cut govern, exact at valleys and mitres, and cut over fill;
//  4. facets, crests and ends cover tops and legs whole, on the ground or not; batters never leave the ground's cover;
//  5. what lies nearest to a wall is as it was.
// Round corners are chords within the chord error of true; in a draft of kDraft, where that is more. Throws Cancelled.
Placement placeForm(const ground::Tin& ground, Form form, const plane::Origin& origin, const Progress& progress,
                    Detail detail = Detail::full);

}  // namespace inselberg::works
