// Hollows: places that hold water, how much, and where it leaves.
#pragma once

#include <optional>
#include <vector>

#include "base/progress.h"
#include "ground/tin.h"

namespace inselberg::ground {

struct Hollow {
  Index start = kNone;  // a triangle at its bottom
  double bottom = 0;    // m
  double rim = 0;       // the lowest level by which water leaves: over the edge of the ground, or to what lies lower
  Vec2 spill;           // where it has to reach that level
  // From there, the places over which what the hollow cannot hold goes on: to a corner below the bottom, or to the
  // edge of the ground. Hollows on the way that are not as deep are full then too.
  std::vector<Vec2> on;
};

// The hollow that holds a place: from the lowest corner of its triangle upwards, as water fills it. Nothing when the
// place is off the ground, or water runs off it at once.
std::optional<Hollow> hollowAt(const Tin& tin, Vec2 place, const Progress& progress);
// The same from a triangle.
std::optional<Hollow> hollowFrom(const Tin& tin, Index triangle, const Progress& progress);

// What a hollow holds up to a level: the volume between the level plane and the ground, and the area of the water, over
// all that hangs together with its bottom below that level. Exact.
struct Storage {
  double level = 0;   // m
  double volume = 0;  // m3
  double area = 0;    // m2
};
Storage storageAt(const Tin& tin, const Hollow& hollow, double level);
// The triangles that water at that level covers, in part or wholly.
std::vector<Index> underWater(const Tin& tin, const Hollow& hollow, double level);
// From the bottom to the rim, at equal steps of at most `step` m.
std::vector<Storage> storageTable(const Tin& tin, const Hollow& hollow, double step);

}  // namespace inselberg::ground
