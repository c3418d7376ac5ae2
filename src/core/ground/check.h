// Looking over a built ground for what a careful checker would question.
#pragma once

#include <span>

#include "base/progress.h"
#include "ground/build.h"
#include "ground/doubt.h"
#include "ground/tin.h"

namespace inselberg::ground {

// Doubts about the ground as it is, given what it was built from (lines and points may be empty, as for a model):
//  - spikes and pits: a point beyond all its neighbours, by a quarter of its height over their mean at least, and that
//    height over 0.5 m and twelve times the usual (1.4826 x the median of all);
//  - levels at exactly zero where the neighbours are over 1 m away;
//  - contours whose level fits none of the contours beside them (the usual step, or the same level, being expected);
//  - flats between contours, unless cured;
//  - long thin triangles at the border where there is no boundary, with a longest edge that would trim them;
//  - holes in the ground that are no voids;
//  - points outside the boundary;
//  - an extent or relief out of proportion.
// At most 100 of a kind; the last tells how many more there are. Places are relative to the origin, texts absolute.
Doubts check(const Tin& tin, const BuildInput& input, const BuildRules& rules, const plane::Origin& origin,
             const Progress& progress);

// The longest border edge that `check` proposes to trim by: four times the usual length of an edge; rounded to what one
// would type.
double proposedMaxEdge(const Tin& tin);

}  // namespace inselberg::ground
