// The undercut: digging below works and wider than they are, sloped back; or along a line.
#pragma once

#include <string>
#include <vector>

#include "base/id.h"
#include "works/buildup.h"
#include "works/field.h"
#include "works/form.h"
#include "works/graded_line.h"

namespace inselberg::works {

enum class UndercutBelow { formation, stripped };

struct Undercut {
  WorksId id;
  std::string name;
  bool leftOut = false;        // it takes no part
  std::vector<WorksId> under;  // works; else along the line
  Places line;
  double width = 1;       // m of the bottom along a line
  bool byLevels = false;  // along a line: at these levels; else so deep below
  Stations levels;
  double depth = 1;  // m
  UndercutBelow below = UndercutBelow::formation;
  double wider = 0;      // m that the bottom goes on beyond the tops
  double backSlope = 1;  // H of H:1
  // What it is filled with from the bottom up, bedding first; above them common fill.
  std::vector<Layer> layers;
  std::string material, phase;  // empty: not said
  bool operator==(const Undercut&) const = default;
};

// A bottom at its levels, and how the corners of what rises from it are made.
struct Bottom {
  ground::TinPtr tin;
  CornerStyle corners = CornerStyle::round;
};

// The bottom, going on level by `wider` beyond its border, and from there up at the back slope to the level `upTo`;
// without an upper side. REQUIRES: the bottom is not empty and lies below `upTo`.
ground::TinPtr bathOver(const Bottom& bottom, double wider, double backSlope, double upTo, const Progress& progress);

// The same along a line, with open ends: level across, at these levels along it.
ground::TinPtr bathAlong(const Places& line, const Stations& levels, double width, double backSlope, double upTo,
                         const Progress& progress);

// What is dug into a ground by one undercut: the new surface where it lies below what was there, and what was there.
struct Dug {
  ground::TinPtr tin;            // the whole ground after
  ground::TinPtr after, before;  // over where it was lowered; null where nothing was
};
// The lower of the ground and the baths, within the ground's cover.
Dug dug(const ground::TinPtr& ground, const std::vector<ground::TinPtr>& baths, const Progress& progress);

}  // namespace inselberg::works
