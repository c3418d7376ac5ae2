// Thinning: the fewest points (near enough) whose triangles stay within a tolerance of all of them.
#pragma once

#include <span>
#include <vector>

#include "base/progress.h"
#include "ground/tin.h"

namespace inselberg::ground {

struct Thinned {
  std::vector<Index> kept;          // numbers of points, in the order they were chosen
  std::vector<Triangle> triangles;  // between numbers of points: Delaunay in plan, covering the hull of all points
  double greatestError = 0;         // m, measured over all points against the triangles
};

// Greedy insertion: starting with the corners of the hull and the `required` points, the point furthest in level from
// the triangles so far is added, until none is further than the tolerance (M. Garland, P. Heckbert: Fast polygonal
// approximation of terrains and height fields, 1995).
//  1. Every point lies within the tolerance of the triangles in level; points in one place but for the first are passed
//     over unless a level differs, which no triangles can match: `greatestError` then tells.
//  2. The hull of the kept points is that of all points.
// Fewer than three points, or all on one line: no triangles, and all points kept. REQUIRES: tolerance >= 0. Throws
// Cancelled. Time O(n log n) expected; memory about 40 bytes a point.
Thinned thin(std::span<const Vec3> points, std::span<const Index> required, double tolerance, const Progress& progress);

}  // namespace inselberg::ground
