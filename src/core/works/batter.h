// The batter engine: side slopes from a crest to daylight.
#pragma once

#include "base/progress.h"
#include "base/quantity.h"
#include "plane/polygon.h"
#include "works/batter_field.h"
#include "works/placement.h"

namespace inselberg::works {

// m: levels nearer than this are one.
inline constexpr double kOnGround = 1e-5;

struct BatterRule {
  Slope cut = Slope::horizontalPerVertical(2);
  Slope fill = Slope::horizontalPerVertical(2);
  CornerStyle corners = CornerStyle::round;
  double reach = 500;        // m; a batter longer than this ends there, with a doubt
  double chordError = 1e-3;  // m; of round corners, in plan
  bool operator==(const BatterRule&) const = default;
};

// A plane over an outline, with batters from its edge to the ground. With d the distance in plan from the outline and z
// the level at its nearest point, the level after is
//   min(max(ground, z - d/fill), z + d/cut)
// (round corners; square ones prolong the edges' planes to their mitre), on those parts only that hang together with a
// stretch of crest that lies above (fill) or below (cut) the ground. So
//  1. a batter ends where it first meets the ground; land beyond a ridge is left alone, and ground standing out of a
//     batter stays as an island;
//  2. along the daylight line the facets lie on the ground (within kOnGround);
//  3. where batters overlap the higher fill and the lower cut govern, exact at valleys and mitres;
//  4. facets, crests and ends cover the outline whole, on the ground or not; batters never leave the ground's cover.
// REQUIRES: `outline` sound and without holes (corner order as in plane::sound). Throws Cancelled.
Placement placeWithBatters(const ground::Tin& ground, const plane::Ring& outline, const ground::Plane& top,
                           const BatterRule& rule, const plane::Origin& origin, const Progress& progress);

}  // namespace inselberg::works
