// The pad: a surface over an outline, with sections to the ground.
#pragma once

#include "works/batter_rule.h"

namespace inselberg::works {

enum class PadTop {
  level,     // at the level
  tilted,    // at the level in the centroid of the outline's area, falling towards a bearing
  fitted,    // the plane with the least squares of its heights over the ground, all over the outline, no steeper than
             // the greatest fall; and the offset
  corners,   // the constrained Delaunay triangulation of the corners at their levels, no points added
  onGround,  // the same with the corners on the ground, and the offset
  ridge      // at the level along a line, falling with the distance from it, round its ends
};

struct Pad {
  plane::Ring outline;  // simple, counter-clockwise
  double level = 0;     // of a level, tilted or ridged one
  BatterRule batters;
  PadTop top = PadTop::level;
  double fall = 2;          // % downwards, of a tilted or ridged one (negative: a valley)
  double bearing = 0;       // degrees clockwise from north
  double greatestFall = 5;  // %, of a fitted one
  double offset = 0;        // m
  Numbers cornerLevels = {};
  Places ridge = {};
  double space = 0;               // m that the top goes on beyond the outline
  SectionsAlong section = {};     // round the outline from its first corner; empty: the batters
  bool building = false;          // one stands on it: the land beside is to fall away
  Edges edges = {};               // by corners of the outline as it is here
  bool writtenClockwise = false;  // corners were numbered the other way round, from the same first one
};

const Kind& kindOf(const Pad&);

// One as a bed on sloping land begins: fitted to the ground, with a level margin of a metre.
Pad slopingBed();

// Adds a doubt when the outline reaches beyond the ground. Throws Error when the top cannot be made.
Placement place(const Pad& pad, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress,
                Detail detail = Detail::full);

// The constrained Delaunay triangulation of the outline's corners at their levels: of two diagonals that serve alike,
// the one with the lowest corner number as written.
ground::TinPtr overCorners(const std::vector<Vec3>& outline, bool writtenClockwise, const Progress& progress);

}  // namespace inselberg::works
