// How low and how high a ground lies in a part of the plan: quick and never too tight.
#pragma once

#include <algorithm>
#include <vector>

#include "ground/tin.h"

namespace inselberg::ground {

class LevelGrid {
 public:
  // Over what the ground has of `box`, in so many cells along its longer side.
  LevelGrid(const Tin& tin, const plane::Box& box, int cells = 96);

  struct Range {
    double lowest = 1e300, highest = -1e300;  // so where there is no ground
    void take(double z) { lowest = std::min(lowest, z), highest = std::max(highest, z); }
  };
  // All levels that the ground has inside `part` lie within the range, which may be wider; that of all the ground for a
  // part that is not in the box.
  Range within(const plane::Box& part) const;

 private:
  int column(double x) const { return std::clamp(static_cast<int>((x - box_.minX) / size_), 0, columns_ - 1); }
  int row(double y) const { return std::clamp(static_cast<int>((y - box_.minY) / size_), 0, rows_ - 1); }

  plane::Box given_, box_;
  Range all_;
  double size_ = 1;
  int columns_ = 1, rows_ = 1;
  std::vector<Range> cells_;
};

}  // namespace inselberg::ground
