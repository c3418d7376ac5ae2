// The areas drawn over the site for one use, and what of the site they cover.
#pragma once

#include <string>
#include <vector>

#include "plane/overlay.h"
#include "project/project.h"

namespace inselberg::project {

enum class AreaUse { works, strips, buildUps, regions };

struct DrawnArea {
  std::string name;
  plane::Polygon area;
  bool operator==(const DrawnArea&) const = default;
};

// Outlines of the visible works of the finished ground, of strips (without what is left out) and build-ups that have
// one, or of regions, in their order.
std::vector<DrawnArea> areasFor(const Project& project, AreaUse use);

// What should be looked at. Less than 0.01 m2 is nothing.
struct CoveragePart {
  enum class Kind {
    twice,   // two areas claim it
    sliver,  // uncovered and narrower than a metre in the mean: of the site, or between areas
    left     // of the site, uncovered
  };
  Kind kind = Kind::left;
  plane::Polygon shape;
  double area = 0;    // m2
  plane::Vec2 at;     // inside it
  std::string which;  // "A and B"; empty but for twice
};

struct Coverage {
  double site = 0;                  // m2 inside the boundaries; 0: there are none
  double covered = 0;               // m2, once; of the site where there is one
  double beyond = 0;                // m2 outside the site
  double left = 0;                  // m2 of the site, slivers included
  double twice = 0;                 // m2, each pair by itself
  plane::Areas areas;               // covered, inside the site or not
  std::vector<CoveragePart> parts;  // by kind as above, the largest first
};

//  1. Where no areas overlap, covered + beyond is the sum of the areas.
//  2. covered + left = site, where there is one.
// Throws Error when areas cannot be laid over each other.
Coverage coverageOf(const std::vector<DrawnArea>& areas, const std::vector<plane::Polygon>& site);

// The corners met on the way along a ring between two places on it, the shorter way round, the ends not included;
// nothing where no ring of these areas has both on it (within 1 µm).
std::vector<plane::Vec2> wayAlong(const std::vector<DrawnArea>& areas, plane::Vec2 from, plane::Vec2 to);

}  // namespace inselberg::project
