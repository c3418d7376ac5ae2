// Curves as chains of chords: arcs, ellipses and splines, each within a stated distance of the true curve.
#pragma once

#include <span>
#include <vector>

#include "plane/geometry.h"

namespace inselberg::plane {

// Chords on an ellipse around `centre` with half axes `major` and `minor` (vectors at right angles), from parameter
// `from` to `to` (radians; counter-clockwise when to > from, seen with minor to the left of major). Both ends are among
// the points. No chord is further than `chordError` from the curve; at most 512 chords to a full turn.
std::vector<Vec2> ellipseChords(Vec2 centre, Vec2 major, Vec2 minor, double from, double to, double chordError);

// Chords of the circular arc from a to b with the given bulge: the tangent of a quarter of its included angle, positive
// when the arc bends to the right of a->b. Without a itself, with b. A bulge of 0, or a == b, gives b alone.
std::vector<Vec2> bulgeChords(Vec2 a, Vec2 b, double bulge, double chordError);

// A B-spline of the given degree: knots.size() == control.size() + degree + 1, not falling; weights empty (all one) or
// one for each control point.
struct Spline {
  int degree = 3;
  std::vector<double> knots;
  std::vector<Vec3> control;
  std::vector<double> weights;
};

// Whether the counts fit together, the knots do not fall, the curve has a length, and all weights are above zero.
bool isSound(const Spline& spline);

// Points along the spline, both ends included, at every knot and between so that halving further would move no chord by
// more than chordError (in space). At most `most` points. REQUIRES: isSound.
std::vector<Vec3> splineChords(const Spline& spline, double chordError, std::size_t most = 10000);

// Points along the natural cubic spline through the given points (parameter: chord length), both ends included, within
// chordError as above. Fewer than three points come back as they are.
std::vector<Vec3> fittedChords(std::span<const Vec3> through, double chordError, std::size_t most = 10000);

}  // namespace inselberg::plane
