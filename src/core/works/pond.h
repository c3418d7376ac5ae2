// The pond: bottom, inside slope, bench, crest, and what lies outside.
#pragma once

#include "works/batter_rule.h"

namespace inselberg::works {

enum class PondDrawn { bottom, water, top };

struct Pond {
  plane::Ring outline;  // of what it is drawn at
  PondDrawn drawn = PondDrawn::bottom;
  double bottom = 0, top = 0;  // levels
  bool wet = false;            // it has a water level
  double water = 0;            // of one drawn there, or a wet one
  Slope inside = Slope::horizontalPerVertical(3);
  double benchHeight = 0, benchWidth = 0;  // above the bottom; no bench without a width
  double crest = 0;                        // m of width
  double wanted = 0;                       // m3 that it is to hold; 0: not said
  SectionsAlong section;                   // outside the crest; empty: 2:1
  CornerStyle corners = CornerStyle::round;

  // Of its outline.
  double drawnLevel() const { return drawn == PondDrawn::bottom ? bottom : drawn == PondDrawn::top ? top : water; }
  bool hasWater() const { return wet || drawn == PondDrawn::water; }
};
const Kind& kindOf(const Pond&);
// Its top near the ground, its bottom 2 m below.
Pond startedOn(Pond pond, const ground::Tin& ground);

// The legs from its outline up to its top and over its crest, before its section; and those down to its bottom.
Section outwardsOf(const Pond& pond);
Section inwardsOf(const Pond& pond);

// A doubt tells where slopes from its sides meet before the bottom is reached. Throws Error for levels that do not fit.
Placement place(const Pond& pond, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress,
                Detail detail = Detail::full);

}  // namespace inselberg::works
