// Areas grown and shrunk.
#pragma once

#include <vector>

#include "plane/overlay.h"

namespace inselberg::plane {

enum class OffsetCorners { round, square };

// All places within `by` metres of the polygon; `by` below zero: all that lie so far inside it. Round corners are
// chords within 1 mm; square ones are prolonged to their mitre, at most ten times as far as the sides go. What it falls
// apart into are several; nothing may be left. REQUIRES: sound.
std::vector<Polygon> offset(const Polygon& polygon, double by, OffsetCorners corners);

// The same for each of several areas, united where they come to overlap.
Areas offset(const Areas& areas, double by, OffsetCorners corners);

}  // namespace inselberg::plane
