// Constrained Delaunay triangulation in plan: the one door to the triangulation library.
#pragma once

#include <span>
#include <utility>
#include <vector>

#include "base/progress.h"
#include "ground/tin.h"
#include "plane/linework.h"

namespace inselberg::ground {

using Edge = std::pair<Index, Index>;

struct Triangulation {
  // The input points under their own numbers, then a point for every place where segments cross.
  std::vector<Vec2> points;
  // same[i] is the first input point with exactly the position of input point i (mostly i itself); triangles use only
  // such first points.
  std::vector<Index> same;
  // All of the convex hull, counter-clockwise, near ones near each other in the order.
  std::vector<Triangle> triangles;
  std::vector<Triangle> neighbours;       // as Tin has them
  std::vector<std::uint8_t> constrained;  // bit k: side k lies on a segment
};

// Triangulates points and segments between them (by point number; equal ends are passed over). The triangulation is
// Delaunay but for the segments, decided with exact predicates; crossing points are rounded. Fewer than three points or
// all on one line give no triangles.
Triangulation triangulate(std::span<const Vec2> points, std::span<const Edge> segments, const Progress& progress);
// Lines that were noded.
Triangulation triangulate(const plane::Linework& lines, const Progress& progress);

}  // namespace inselberg::ground
