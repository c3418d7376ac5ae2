// How low and how high a ground lies in a part of the plan, and whether it ends there: quick and never too tight.
#pragma once

#include <algorithm>
#include <atomic>
#include <cstdint>
#include <vector>

#include "ground/tin.h"

namespace inselberg::ground {

// Grids of cells over a ground, each a few times coarser than the one before, so that wide parts are not asked for cell
// by cell. A cell is looked at when it is first asked for. From several threads at once.
class LevelGrid {
 public:
  // The ground has to stay.
  explicit LevelGrid(const Tin& tin);

  struct Range {
    double lowest = 1e300, highest = -1e300;  // so where there is no ground
    bool ends = false;                        // it may not cover all
    void take(const Range& other) {
      lowest = std::min(lowest, other.lowest), highest = std::max(highest, other.highest);
      ends |= other.ends;
    }
  };
  // All levels that the ground has inside `part` lie within the range, which may be wider. Where it surely covers all
  // of the part, `ends` is false.
  Range within(const plane::Box& part) const;

 private:
  struct Layer {
    double size;
    int columns, rows;
    std::vector<std::atomic<std::uint64_t>> cells;  // packed ranges
  };
  // The cells from column c0 to c1 and row r0 to r1.
  struct Span {
    int c0, r0, c1, r1;
  };
  Span span(const Layer& layer, const plane::Box& part) const;
  Range within(std::size_t layer, const Span& span) const;
  Range cell(std::size_t layer, int c, int r) const;

  const Tin& tin_;
  plane::Box box_;
  mutable std::vector<Layer> layers_;  // the finest first
};

}  // namespace inselberg::ground
