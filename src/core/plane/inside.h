// Whether places lie inside polygons, for many places and polygons of many corners.
#pragma once

#include <cstdint>
#include <span>
#include <vector>

#include "plane/polygon.h"
#include "plane/static_index.h"

namespace inselberg::plane {

// Answers as contains() does for each polygon, in the time it takes to walk along one line of a tree over the corners.
// REQUIRES: each polygon is sound.
class Inside {
 public:
  explicit Inside(std::span<const Polygon> polygons);
  explicit Inside(const Polygon& polygon) : Inside(std::span(&polygon, 1)) {}
  explicit Inside(const Ring& ring);

  // Whether p lies inside any of them; a point on a ring may come out either way.
  bool operator()(Vec2 p) const;

 private:
  void add(const Ring& ring, std::uint32_t polygon);

  std::vector<Segment2> sides_;
  std::vector<std::uint32_t> polygonOf_;  // per side
  SegmentIndex index_;
  Box box_;
};

}  // namespace inselberg::plane
