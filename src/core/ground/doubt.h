// A doubt: something a careful checker would question, with its place.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "plane/geometry.h"

namespace inselberg::ground {

enum class DoubtKind {
  duplicateLevels,    // points in one place whose levels disagree
  breaklineCrossing,  // breaklines crossing at different levels
  noDaylight,         // a batter that does not reach the ground
  outsideGround,      // works reaching beyond the ground
  boundaryOutside,    // a boundary reaching beyond the data
  sourcesOverlap,     // a source laid over another of the same ground
  facesOverlap,       // faces of one model lying over each other
  contourCrossing,    // contours of different levels crossing
  contourLevel,       // a contour whose level fits none beside it
  spike,              // a point far above or below all around it
  zeroLevel,          // a level of exactly zero among others that are not
  flats,              // triangles flat between contours
  borderSlivers,      // long thin triangles at the border
  hole,               // a hole in the ground that is no void
  pointsOutside,      // points outside the boundary
  oddExtent,          // an extent or relief out of proportion
  notPlaced,          // works that cannot be placed
  mendLost,           // a mend that finds nothing to do
  notReached,         // a works that does not reach the level it is to
  beyondSite,         // works that reach beyond the site boundary
  worksOverlap,       // works that lie over each other at different levels
  holdsWater,         // a hollow that works make, and no pond
  tieLost,            // works that follow the level of others that are gone
  overfull,           // a pond whose water stands above where it leaves
  tooSteep,           // a slope of works steeper than the project allows
  notDraining,        // a top that falls less than the project asks
  joinedSteeply,      // a batter that cuts into, or lies over, the top of works beside it
  fallsToBuilding,    // land beside a building that falls towards it
  freeboardShort,     // a pond with less freeboard than the project asks
  storageShort,       // a pond that holds less than is wanted of it
  stepAtJoint,        // a ground set in that meets what lies around in a step
  stripsOverlap,      // land that several strips claim
  regionsOverlap,     // regions that lie over each other
  gap,                // land left between works that enclose it
  topOrFormation,     // a volume asked to the finished ground although there are build-ups
};

const char* name(DoubtKind kind);  // "duplicate-levels", ...
std::optional<DoubtKind> doubtKindOf(const std::string& name);

struct Doubt {
  DoubtKind kind;
  plane::Vec2 where;
  std::string text;                  // one sentence for the user, in metres as `toldIn` reads them
  std::optional<double> level = {};  // of a contour: the one that would fit
  bool operator==(const Doubt&) const = default;
};

using Doubts = std::vector<Doubt>;

}  // namespace inselberg::ground
