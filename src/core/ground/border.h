// The border of a ground: its loops, and where it runs through the ground itself.
#pragma once

#include <span>
#include <vector>

#include "base/progress.h"
#include "ground/tin.h"
#include "plane/overlay.h"

namespace inselberg::ground {

// The border sides as loops of points: outer ones counter-clockwise, those around holes clockwise; no point twice in a
// loop, so that loops that touch in a point are told apart. `neighbours` as findNeighbours gives them.
std::vector<std::vector<Index>> borderLoops(std::span<const Triangle> triangles, std::span<const Triangle> neighbours);

// What a ground covers in plan, as areas with holes; walls in it are no border.
plane::Areas coverOf(const Tin& tin);

// Faces that lie over others of the same ground, as in a model that was folded or put together of overlapping parts.
struct FacesOver {
  std::size_t sides = 0;  // border sides that run through the inside of another triangle for more than 1 mm
  Vec2 where;             // the middle of the longest such stretch
  double length = 0;      // of all such stretches, m
};
// Exact but for faces that overlap by less than 0.3 mm: going out from a place that is covered twice, the cover ends
// somewhere, and what ends there is a border side inside another triangle.
FacesOver facesOver(const Tin& tin, const Progress& progress);

}  // namespace inselberg::ground
