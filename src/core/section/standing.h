// What stands along a line once grounds were made one after another: the land, and what each step put on it.
#pragma once

#include <span>
#include <vector>

#include "section/section.h"

namespace inselberg::section {

// Between two stations, from a lower to an upper level; straight.
struct Standing {
  std::size_t by = 0;  // the place in the order of the ground that brought it; 0: the land
  double begin, lowBegin, highBegin;
  double end, lowEnd, highEnd;
  double area() const { return (end - begin) * ((highBegin - lowBegin) + (highEnd - lowEnd)) / 2; }
};

// `order`: grounds of the section, the earliest first. Each step fills up to its ground where that is higher, and takes
// away down to it where it is lower; where a ground is missing nothing is done. The land reaches down to `floor`, a
// level below all grounds. Along the line in order, at each place from below; nothing of no height.
//  - At each place what stands reaches without a gap from `floor` to the last ground there.
std::vector<Standing> standingAlong(const Section& section, std::span<const std::size_t> order, double floor);

}  // namespace inselberg::section
