// Levels of contours by the order a line crosses them in.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <vector>

#include "project/features.h"

namespace inselberg::project {

// Contours of shown sources that may be edited, in the order the stroke crosses them; one that is crossed again later
// comes once. Here and below, those of sources that only other grounds than `of` are built from do not count.
std::vector<Feature> contoursCrossed(const Project& project, GroundId of, plane::Vec2 from, plane::Vec2 to);

// Levels in order, from what is known of them (nothing: not known): steps of `interval`, up or down as two of those
// known say, else as `falling` says; from `first` where none is known. Throws Error when those known do not fit.
std::vector<double> levelsInOrder(std::span<const std::optional<double>> known, double interval, bool falling,
                                  std::optional<double> first);

// A question about the level of a new contour that is more than five steps off that of the contour beside it: a level
// mistyped, most likely. Only contours of shown sources count, and no farther away than `reach`.
std::optional<std::string> outOfLineText(const Project& project, GroundId of, const ground::Breakline& contour,
                                         double interval, double reach = 500);

}  // namespace inselberg::project
