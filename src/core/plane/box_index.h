// Which of many boxes meet another: for areas side by side, none much wider than the rest.
#pragma once

#include <algorithm>
#include <numeric>
#include <vector>

#include "plane/geometry.h"

namespace inselberg::plane {

class BoxIndex {
 public:
  explicit BoxIndex(std::vector<Box> boxes) : boxes_(std::move(boxes)), order_(boxes_.size()) {
    std::iota(order_.begin(), order_.end(), std::size_t{0});
    std::sort(order_.begin(), order_.end(), [&](auto i, auto j) { return boxes_[i].minX < boxes_[j].minX; });
    for (const Box& box : boxes_) widest_ = std::max(widest_, box.width());
  }

  const Box& operator[](std::size_t i) const { return boxes_[i]; }

  // Calls f(number) for every box that overlaps this one, from west to east by where they begin.
  template <class F>
  void overlapping(const Box& box, F&& f) const {
    auto it = std::lower_bound(order_.begin(), order_.end(), box.minX - widest_,
                               [&](std::size_t i, double x) { return boxes_[i].minX < x; });
    for (; it != order_.end() && boxes_[*it].minX <= box.maxX; ++it) {
      if (boxes_[*it].overlaps(box)) f(*it);
    }
  }

 private:
  std::vector<Box> boxes_;
  std::vector<std::size_t> order_;  // by their western sides
  double widest_ = 0;
};

}  // namespace inselberg::plane
