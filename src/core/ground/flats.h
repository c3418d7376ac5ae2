// Flats between contours, and their cure.
#pragma once

#include <span>
#include <vector>

#include "ground/triangulate.h"

namespace inselberg::ground {

// Which triangles wider than 1 mm join three contour points of one level. `contour` says of each point whether it lies
// on a contour; triangles, points and levels as in the triangulation (levels one for each point).
std::vector<char> flatTriangles(const Triangulation& made, std::span<const Vec3> at, std::span<const char> contour);

// Points that take the flats away: on the medial line of every flat (the middles of the sides inside it), with levels
//  1. between the contour's and that of what the flat opens to, in the ratio of the ways along the medial line to its
//     far end and to there: the ridge or valley rises or falls evenly;
//  2. half-way at the most between two openings to one level (a saddle);
//  3. where it opens to nothing (a top or hollow), carried on at the slope outside, by less than half a contour step.
// A flat with nothing around it to go by gets none.
std::vector<Vec3> flatCures(const Triangulation& made, std::span<const Vec3> at, std::span<const char> flat);

}  // namespace inselberg::ground
