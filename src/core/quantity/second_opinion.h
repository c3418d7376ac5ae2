// The volume between two grounds by other methods than the exact one: to see that it can be believed.
#pragma once

#include "quantity/volume.h"

namespace inselberg::quantity {

// m3
struct Earth {
  double cut = 0, fill = 0;
};

// The depth at the middle of every square cell of a grid, times its area.
Earth byGrid(const ground::Tin& from, const ground::Tin& to, const std::vector<plane::Polygon>& region, double cell,
             const Progress& progress);

// Parallel sections across the longer way of the ground, evenly, no farther apart than `spacing`: the mean of two
// neighbours' areas times their distance (average end areas), and with the section half way between them in it, by
// Simpson's rule (the prismoidal formula).
struct BySections {
  Earth endAreas, prismoidal;
  std::size_t count = 0;
};
BySections bySections(const ground::Tin& from, const ground::Tin& to, const std::vector<plane::Polygon>& region,
                      double spacing, const Progress& progress);

// The area where `to` lies within so much of `from`, and beyond it on either side; m2 of what both cover. Exact.
struct Tolerance {
  double within = 0, above = 0, below = 0;
};
Tolerance toleranceOf(const ground::Tin& from, const ground::Tin& to, const std::vector<plane::Polygon>& region,
                      double tolerance, const Progress& progress);

// All of them beside the exact one.
struct SecondOpinion {
  double cell = 0, spacing = 0;  // m
  Volume exact;
  Earth grid;
  BySections sections;
};
// A cell or spacing of 0: one that suits the ground (about 250 000 cells, 200 sections). Throws Error when there would
// be more than 100 million cells or 100 000 sections; Cancelled. REQUIRES: sizes not below 0; for single methods,
// above.
SecondOpinion secondOpinion(const ground::Tin& from, const ground::Tin& to, const std::vector<plane::Polygon>& region,
                            double cell, double spacing, const Progress& progress);

}  // namespace inselberg::quantity
