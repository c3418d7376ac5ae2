// The upright face where the relief is cut away: the land, and what was put on it, in layers.
#pragma once

#include <QColor>
#include <vector>

#include "ground/tin.h"

namespace inselberg::app {

// What lies to the left of the line through a place is cut away.
struct ReliefCut {
  plane::Vec2 at, along;
  bool away(plane::Vec2 p) const { return plane::cross(along, p - at) > 0; }
  bool operator==(const ReliefCut&) const = default;
};

// A ground, and the colour of what was put on to reach it, of the first the land's; not above another ground, if one is
// given (section/standing.h).
struct EarthStep {
  ground::TinPtr tin;
  QColor colour;
  ground::TinPtr notAbove = nullptr;
  bool operator==(const EarthStep&) const = default;
};

struct CutFace {
  struct Layer {
    std::vector<plane::Vec3> triangles;  // three corners each, true levels
    QColor colour;
  };
  std::vector<Layer> layers;
};

// Along the whole line as far as the grounds lie, in their order of work; the land goes a little below the lowest of
// them. Grounds that are empty are left out.
CutFace cutFaceOf(const ReliefCut& cut, const std::vector<EarthStep>& steps);

}  // namespace inselberg::app
