// Grounds made of level areas side by side: with their steps, or smooth.
#pragma once

#include <vector>

#include "project/project.h"
#include "quantity/volume.h"

namespace inselberg::project {

struct FlatArea {
  plane::Ring outline;  // sound
  double level = 0;
  double space = 0;  // m that it goes on beyond its outline, to work in
};

// Those drawn as works on the finished ground and visible, at their adjusted levels.
std::vector<FlatArea> flatAreasOf(const Project& project);

// The areas as they are: flat, with their working space (round at corners) and walls between, exact to their borders;
// where they overlap the later rules.
SourceData stepped(const std::vector<FlatArea>& areas);

// Where areas were traced between contours, their shared borders are those contours:
//  1. every stretch of border that two areas of different levels share is a contour at the mean of the two;
//  2. an area with contours of one level goes on evenly: to its own level in its middle where it is a top or a hollow,
//     and twice as far from the contour's at its farthest corner where the areas end there;
//  3. an area without any contour lies at its own level; the ground ends where the areas do, without working space.
// To be built with flats cured. REQUIRES: areas that do not overlap; what overlaps gives contours at its edges.
SourceData smoothed(const std::vector<FlatArea>& areas);

// The level of an area whose corners lie on contours of two levels: their mean; nothing when they lie on fewer or more.
// Only contours of shown sources count, and corners within 1 µm.
std::optional<double> levelBetweenContours(const Project& project, const plane::Ring& outline);

// Both grounds of the areas, and their volumes over a ground, each where it is.
struct SteppedAndSmooth {
  ground::TinPtr stepped, smooth;
  quantity::Volume steppedOver, smoothOver;
};
// `from` may be null: the volumes are 0 then. Throws Error when there are no areas; Cancelled.
SteppedAndSmooth steppedAndSmooth(const std::vector<FlatArea>& areas, const ground::Tin* from,
                                  const plane::Origin& origin, const Progress& progress);

// The rules that smooth grounds of areas are built by.
ground::BuildRules smoothRules();

}  // namespace inselberg::project
