// Where the levels of contours are written.
#pragma once

#include <array>
#include <functional>
#include <span>
#include <vector>

#include "ground/contours.h"
#include "ground/tin.h"

namespace inselberg::ground {

struct ContourLabel {
  Vec2 at;     // of its middle
  Vec2 along;  // of unit length, the way text runs
  double level = 0;
};

// One label at each crossing of a contour with the line, in the order of the contours; upright.
std::vector<ContourLabel> labelsAlong(std::span<const Contour> contours, std::span<const Vec2> line);

// Lengths in metres.
struct LabelSpacing {
  double half = 0;              // of a label's length
  double slack = 0;             // how far the contour may leave the straight line beneath a label
  double first = 0, every = 0;  // how far along the first one is tried, and the next after one that was taken
  double step = 1;              // between tries
};
// Tries labels along a contour where it runs straight enough beneath them, until `takes` takes one. They read uphill:
// higher ground lies to the left of a contour.
void labelContour(const Contour& contour, const LabelSpacing& spacing,
                  const std::function<bool(const ContourLabel&)>& takes);

// The corners of the plate of a label, so long to either side and so high in all.
std::array<Vec2, 4> cornersOf(const ContourLabel& label, double half, double height);

// Whether a label of so much length to either side and so much height in all lies wholly on the ground, so that its
// edge does not cut it, and nowhere more than `most` above or below its contour: within the interval it covers no other
// one.
bool liesOn(const Tin& tin, const ContourLabel& label, double half, double height, double most);

// Labels so high in all, that lie wholly on the ground; where it is so steep that they cover other contours, so far
// apart in level, only on a contour that has no other place.
void labelContour(const Contour& contour, const Tin& tin, double height, double interval, const LabelSpacing& spacing,
                  const std::function<bool(const ContourLabel&)>& takes);

}  // namespace inselberg::ground
