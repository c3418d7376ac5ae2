// Where water comes from.
#pragma once

#include <functional>
#include <vector>

#include "ground/water_path.h"

namespace inselberg::ground {

struct Catchment {
  double area = 0;          // m2, plan
  double cell = 0;          // m: water was followed from the middle of each cell of this side
  std::vector<Vec2> cells;  // the middles of those whose water comes there
  // Of those whose water comes there as well once the hollows that hold it are full.
  double areaOver = 0;
  std::vector<Vec2> cellsOver;
};

// The land whose water comes to a place, as it runs by waterPath: that is, unless a hollow holds it on its way; and
// what comes besides when those hollows are full, as by waterLegs. `meets` tells whether a step of the way gets there.
// About as many cells as asked cover the ground; the area is theirs, so that it is true to about a cell along the
// divide.
Catchment catchmentOf(const Tin& tin, const std::function<bool(Vec2 from, Vec2 to)>& meets, std::size_t cells,
                      const Progress& progress);

}  // namespace inselberg::ground
