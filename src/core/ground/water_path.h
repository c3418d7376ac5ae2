// Where water runs on a ground.
#pragma once

#include <span>
#include <vector>

#include "base/progress.h"
#include "ground/tin.h"

namespace inselberg::ground {

struct WaterPath {
  enum class End { border, hollow };  // off the ground, or in a place lower than all around it
  std::vector<Vec3> way;              // falling throughout; empty when the start is off the ground
  End end = End::hollow;
};

// The steepest way down from a place: across each triangle against its gradient, along a side where both sides lead
// into it, from a point down its steepest triangle or side. Level ground is crossed towards its lowest outlet by sides;
// a flat without one is a hollow.
WaterPath waterPath(const Tin& tin, Vec2 start, const Progress& progress);

// The triangles that have each point as a corner.
class TrianglesAtPoints {
 public:
  explicit TrianglesAtPoints(const Tin& tin);
  std::span<const Index> at(Index point) const {
    return std::span(triangles_).subspan(first_[point], first_[point + 1] - first_[point]);
  }

 private:
  std::vector<std::size_t> first_;
  std::vector<Index> triangles_;
};

// The same ways for many starts on one ground, which must stay there.
class WaterWays {
 public:
  explicit WaterWays(const Tin& tin) : tin_(tin), at_(tin) {}
  WaterPath from(Vec2 start, const Progress& progress) const;

 private:
  const Tin& tin_;
  const TrianglesAtPoints at_;
};

}  // namespace inselberg::ground
