// The pad: a plane over an outline, with batters to daylight.
#pragma once

#include "works/batter.h"
#include "works/kind.h"

namespace inselberg::works {

enum class PadTop {
  level,   // at the level
  tilted,  // at the level in the centroid of the outline's area, falling towards a bearing
  fitted   // the plane with the least squares of its heights over the ground, all over the outline, no steeper than the
           // greatest fall; and the offset
};

struct Pad {
  plane::Ring outline;  // simple, counter-clockwise
  double level = 0;     // of a level or tilted one
  BatterRule batters;
  PadTop top = PadTop::level;
  double fall = 2;          // % downwards, of a tilted one
  double bearing = 0;       // degrees clockwise from north
  double greatestFall = 5;  // %, of a fitted one
  double offset = 0;        // m
};

const Kind& kindOf(const Pad&);

// Adds a doubt when the outline reaches beyond the ground.
Placement place(const Pad& pad, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress);

}  // namespace inselberg::works
