// Where a sheet lies on the ground: by its scale, or by points that are known.
#pragma once

#include <span>
#include <vector>

#include "sheet/document.h"

namespace inselberg::sheet {

// easting = a x + b y + c, northing = d x + e y + f.
struct Placement {
  double a = 1, b = 0, c = 0;
  double d = 0, e = 1, f = 0;
  bool operator==(const Placement&) const = default;

  Vec2 operator()(Vec2 p) const { return {a * p.x + b * p.y + c, d * p.x + e * p.y + f}; }
  double determinant() const { return a * e - b * d; }
  // REQUIRES: determinant() != 0.
  Placement inverse() const;
  // Metres on the ground for a unit along the page's x and y axes.
  double metresX() const;
  double metresY() const;
  // Of the page's x axis, degrees anticlockwise from east, in (-180, 180].
  double rotation() const;
  // Turned so many degrees anticlockwise about a place of the ground.
  Placement turned(double degrees, Vec2 about) const;
};

// The lower left corner at (0, 0), by denominators along both axes (1:500 is 500). REQUIRES: positive.
Placement byScale(double scaleX, double scaleY, Vec2 mmPerUnit);

// A length that is known: its ends on the page, and metres on the ground.
struct KnownLength {
  Vec2 from, to;
  double metres = 0;
};
// Whether they tell the scales along and up the page each by itself.
bool tellBoth(std::span<const KnownLength> lengths);
// The lower left corner at (0, 0), by the scales that fit the lengths best (least squares of their shares); one for
// both axes where they do not tell both. Throws Error for none, for one without length, and for lengths no scales fit.
Placement byLengths(std::span<const KnownLength> lengths);
// How much longer the placement makes it than it is said to be, as a share; less than 0: shorter.
double disagreement(const Placement& placement, const KnownLength& length);

struct Fit {
  Placement placement;
  std::vector<double> residuals;  // m, the distance of each point from where it should lie, in order
  double rms = 0;                 // m, the root of their mean square
};
// Least squares on the ground: a similarity (even scale, no mirror) through two points, an affine map from three on,
// exact to rounding where one exists. Throws Error for fewer than two, coincident points, and three or more on one
// line.
Fit fitTo(std::span<const Control> controls);

// A sheet whose scales differ along its axes by more than this share is doubtful.
constexpr double kUnlikeScales = 0.002;
// What a careful checker would question about a placement, a line each: unlike scales, axes that are not square, a
// mirrored sheet.
std::vector<std::string> doubtsOf(const Placement& placement);

}  // namespace inselberg::sheet
