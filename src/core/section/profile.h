// One ground along a line.
#pragma once

#include <span>
#include <vector>

#include "ground/tin.h"

namespace inselberg::section {

struct ProfilePoint {
  double station;  // m along the line from its start
  double level;    // m
};
// The pieces of a line that the ground covers, in order; in each a point at its ends, at corners of the line, and
// wherever it crosses into another triangle. Two points at one station: a wall.
using Profile = std::vector<std::vector<ProfilePoint>>;

// Stations within 1e-9 m of where the line truly crosses a side (square to the side), levels those of the triangles'
// planes. Where the line runs along a wall, either side of it. REQUIRES: two points or more.
Profile profileAlong(const ground::Tin& tin, std::span<const plane::Vec2> line);

}  // namespace inselberg::section
