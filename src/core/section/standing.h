// What stands along a line once grounds were made one after another: the land, and what each step put on it.
#pragma once

#include <optional>
#include <span>
#include <vector>

#include "section/section.h"

namespace inselberg::section {

// Between two stations, from a lower to an upper level; straight.
struct Standing {
  std::size_t by = 0;  // the place in the order of the step that brought it; 0: the land
  double begin, lowBegin, highBegin;
  double end, lowEnd, highEnd;
  double area() const { return (end - begin) * ((highBegin - lowBegin) + (highEnd - lowEnd)) / 2; }
};

// A step of the work, by a ground's number in the section: it fills up to that ground where it is higher, and takes
// away down to it where it is lower; not above another one, as what is dug out is filled again up to the lower of the
// land and of what is made.
struct Step {
  std::size_t ground = 0;
  std::optional<std::size_t> notAbove = {};
};

// `steps`: the earliest first; where a ground of one is missing nothing is done. The land reaches down to `floor`, a
// level below all grounds. Along the line in order, at each place from below; nothing of no height.
//  - At each place what stands reaches without a gap from `floor` to the last step's ground there.
std::vector<Standing> standingAlong(const Section& section, std::span<const Step> steps, double floor);

}  // namespace inselberg::section
