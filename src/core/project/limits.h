// What a design is asked to keep to; works beyond raise doubts.
#pragma once

namespace inselberg::project {

struct Limits {
  double steepestCut = 0, steepestFill = 0;  // H of H:1; 0: not asked
  double leastFall = 0;                      // % of the tops of pads and level areas, buildings aside; 0: not asked
  double freeboard = 0;                      // m of ponds with water; 0: not asked
  double besideBuildings = 2;                // m from a building over which the land must not fall towards it
  bool operator==(const Limits&) const = default;
};

}  // namespace inselberg::project
