// Contours: the exact level lines of the triangles.
#pragma once

#include <span>
#include <vector>

#include "base/measures.h"
#include "base/progress.h"
#include "ground/tin.h"

namespace inselberg::ground {

struct Contour {
  double level = 0;
  bool closed = false;       // a ring; the first point is not repeated
  std::vector<Vec2> points;  // at least two, higher ground to the left
};

// An interval of 1, 2 or 5 times a power of ten of metres or feet that gives about 30 contours over the relief; metres.
double proposedInterval(const Tin& tin, const Measures& measures = {});
// Every fifth contour is drawn heavier, and labelled.
bool isIndexLevel(double level, double interval);
// As many as the interval needs.
int decimalsOf(double interval);

// The multiples of `interval` above the lowest level, up to the highest. REQUIRES: interval > 0. Throws Error when
// there would be more than a hundred thousand.
std::vector<double> contourLevels(const Tin& tin, double interval);

// All contours at the levels, in the order of the levels. A point at a level counts as above it, so that
//  1. every contour is a ring or ends at the border at both ends;
//  2. contours of one ground neither cross nor touch but at shared points of the ground.
// Points lie on the triangles' sides; exact to rounding.
std::vector<Contour> contours(const Tin& tin, std::span<const double> levels, const Progress& progress);

}  // namespace inselberg::ground
