// Two grounds made one, and a ground made simpler.
#pragma once

#include "base/progress.h"
#include "ground/tin.h"

namespace inselberg::quantity {

enum class Combine { over, lower, higher };

// What both cover has the level of `b` (over), the lower or the higher of both; what one covers alone has its level:
//  1. levels are those of the two grounds to rounding, also along the lines where they cross, which become sides;
//  2. the plan area is that of both together.
// Where only one goes on, or `b` ends over `a`, a wall stands.
ground::TinPtr combined(const ground::Tin& a, const ground::Tin& b, Combine rule, const Progress& progress);

// A ground of fewer triangles whose level is everywhere within the tolerance of the ground's, measured over the whole
// area; its border is kept. REQUIRES: tolerance > 0. Throws Cancelled.
ground::TinPtr simplified(const ground::Tin& tin, double tolerance, const Progress& progress);

ground::TinPtr shifted(const ground::Tin& tin, double height);

}  // namespace inselberg::quantity
