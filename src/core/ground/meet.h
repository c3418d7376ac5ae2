// Points and breaklines made to meet: the step before a ground is triangulated.
#pragma once

#include <span>
#include <vector>

#include "base/progress.h"
#include "ground/build.h"
#include "ground/triangulate.h"

namespace inselberg::ground {

// Points nearer than this in plan are one; a point nearer than this to a line lies on it.
inline constexpr double kSamePlan = 1e-3;
// Levels that differ by more than this disagree.
inline constexpr double kSameLevel = 5e-3;

// What the rule makes of several levels in one place, in the order of the input. REQUIRES: at least one.
double levelBy(DuplicateRule rule, std::span<const double> levels);

struct Met {
  std::vector<Vec3> at;       // the input's points, the lines' vertices, then places where lines cross; members of one
                              // place have the same coordinates
  std::vector<char> contour;  // per vertex: a contour runs through it
  std::vector<Edge> edges;    // the lines' parts, between vertices that are the first of their place
};

// After it:
//  1. vertices within 1 mm of each other in plan are one place, that of the first of them, and have one level;
//  2. each segment of a line is a chain of parts that leaves it by no more than 1 mm (a few where lines lie that close
//     together), through every place within 1 mm of it; no two parts meet but at their ends;
//  3. the level of a place is, of the lines that pass through it away from their own vertices, or have one there, the
//     latest line's: its own vertex's (of several members there, as the rule decides), or that straight between its
//     vertices. A place no line passes has the level the rule decides;
//  4. a doubt marks each place where that differs by more than 5 mm from what any point or line says there, and only
//     those.
// Counts duplicates, crossings and lines without level in `result`, and adds the doubts to it. Throws Cancelled.
Met meet(const BuildInput& input, DuplicateRule rule, const plane::Origin& origin, BuildResult& result,
         const Progress& progress);

}  // namespace inselberg::ground
