// How high a batter or a leg lies above its crest, by the way out from there.
#pragma once

#include <cstddef>
#include <vector>

#include "works/section.h"

namespace inselberg::works {

// A strip's height at a depth along one of its rays.
struct RailPoint {
  double depth = 0, height = 0;
};
using Rail = std::vector<RailPoint>;
double heightAt(const Rail& rail, double depth);

// How many steps of its benches a batter has within the reach.
std::size_t stepsWithin(const Leg& leg, double sign, double reach);

// How far out the steps of a batter go, and how high it is there above its crest (below zero). sign: +1 fill, -1 cut,
// of which levels are turned.
Rail stepsOf(const Leg& leg, double sign, double reach, std::size_t steps);

}  // namespace inselberg::works
