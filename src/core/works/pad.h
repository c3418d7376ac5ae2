// The pad: a level plane over an outline, with batters to daylight.
#pragma once

#include "works/batter.h"
#include "works/kind.h"

namespace inselberg::works {

struct Pad {
  plane::Ring outline;  // simple, counter-clockwise
  double level = 0;
  BatterRule batters;
};

const Kind& kindOf(const Pad&);

// Adds a doubt when the outline reaches beyond the ground.
Placement place(const Pad& pad, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress);

}  // namespace inselberg::works
