// What a works does to a ground: the result of placing it.
#pragma once

#include <cstdint>
#include <vector>

#include "ground/doubt.h"
#include "ground/tin.h"
#include "quantity/volume.h"
#include "works/field.h"

namespace inselberg::works {

using plane::Vec2;
using plane::Vec3;

// The top, the margin that belongs to it (working space, or a ramp's width), what the legs of its section made, and the
// batters. (Numbers are kept in no file.)
enum class FacetKind : std::uint8_t { surface, margin, leg, fillBatter, cutBatter };
constexpr bool isTop(FacetKind kind) {
  return kind <= FacetKind::margin;
}
constexpr bool isBatter(FacetKind kind) {
  return kind >= FacetKind::fillBatter;
}

// How closely a works is placed: in full, or quickly, to be looked at while it changes under the hand. A draft may take
// round corners, and lines that follow the ground, within kDraft of what they are in full.
enum class Detail : std::uint8_t { full, draft };
constexpr double kDraft = 0.01;  // m

struct Line3 {
  std::vector<Vec3> points;
  bool closed = false;
};

struct Placement {
  ground::TinPtr facets;         // the new surface over the whole footprint
  std::vector<FacetKind> kinds;  // per triangle of facets
  std::vector<Line3> crests;     // where batters start
  std::vector<Line3> daylight;   // where batters meet the ground
  std::vector<Line3> ends;       // where batters end without meeting it
  double footprintArea = 0;      // plan
  double surfaceArea = 0;        // of what lies in it
  ground::Doubts doubts;
  std::vector<Figure> figures;  // found by placing: the level and fall of a fitted plane
};

// What a placement costs against the ground it was placed on: cut, fill and depths over its footprint. `onlyTo` is the
// part of the footprint beyond the ground; the ground outside the footprint does not count as unmeasured.
quantity::Volume costOf(const Placement& placement, const ground::Tin& under, const Progress& progress);

}  // namespace inselberg::works
