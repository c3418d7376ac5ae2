// Works along a line: ramp, run, berm and swale.
#pragma once

#include "works/batter_rule.h"
#include "works/graded_line.h"

namespace inselberg::works {

// A plane strip between two levels, level across, with square ends.
struct Ramp {
  Places axis;                              // from, by way of, to
  double from = 0, to = 0;                  // levels at its ends
  bool fromJoins = false, toJoins = false;  // that end takes the level of what lies there instead, as placed before it
  double greatest = 0;                      // % of grade; 0: any
  double width = 6;                         // m
  SectionsAlong left, right;                // beyond the width, looking along it; empty: 2:1
  CornerStyle corners = CornerStyle::round;
};
const Kind& kindOf(const Ramp&);
// Between the levels of the ground at its ends.
Ramp startedOn(Ramp ramp, const ground::Tin& ground);
Placement place(const Ramp& ramp, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress,
                Detail detail = Detail::full);

enum class RunEnds { open, wrapped };

// A graded line with a typical section on either side.
struct Run {
  Places line;
  Stations levels, curves;
  SectionsAlong left, right;  // empty: 2:1; a wall is a section without legs
  bool closed = false;
  RunEnds ends = RunEnds::open;
  bool part = false;  // only from one station to another
  double fromStation = 0, toStation = 0;
  CornerStyle corners = CornerStyle::round;
};
const Kind& kindOf(const Run&);
// Straight between the levels of the ground at its ends.
Run startedOn(Run run, const ground::Tin& ground);
Placement place(const Run& run, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress,
                Detail detail = Detail::full);

enum class BermBy { height, level, levels };

// A ridge along a line, its ends rounded.
struct Berm {
  Places line;
  double width = 2;  // m of crest
  BermBy by = BermBy::height;
  double height = 1;  // m above the ground all along
  double level = 0;
  Stations levels;
  Slope slope = Slope::horizontalPerVertical(2);
  CornerStyle corners = CornerStyle::round;
};
const Kind& kindOf(const Berm&);
// Throws Error when a height is to be taken where there is no ground.
Placement place(const Berm& berm, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress,
                Detail detail = Detail::full);

enum class SwaleBy { depth, levels };

// A channel along a line, with square ends.
struct Swale {
  Places line;
  double width = 1;  // m of bottom
  SwaleBy by = SwaleBy::depth;
  double depth = 0.5;  // m below the ground all along
  Stations levels;
  Slope slope = Slope::horizontalPerVertical(2);
  CornerStyle corners = CornerStyle::round;
};
const Kind& kindOf(const Swale&);
Placement place(const Swale& swale, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress,
                Detail detail = Detail::full);

}  // namespace inselberg::works
