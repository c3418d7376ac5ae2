// Keeping part of a ground.
#pragma once

#include <span>

#include "base/progress.h"
#include "ground/tin.h"
#include "plane/polygon.h"

namespace inselberg::ground {

struct Line2;

// The part of the ground inside any of the polygons (sound), cut exactly along their rings. Levels are unchanged:
//  1. wherever the result covers, it has the ground's level (to rounding);
//  2. its plan area is that of the ground inside the polygons.
// May be empty.
TinPtr keepInside(const Tin& ground, std::span<const plane::Polygon> polygons, const Progress& progress);

// The part of the ground outside all of the polygons, likewise.
TinPtr keepOutside(const Tin& ground, std::span<const plane::Polygon> polygons, const Progress& progress);

// The part of the ground beneath facets, likewise; with lines (recut.h) among its sides.
TinPtr keepBeneath(const Tin& ground, const Tin& facets, const Progress& progress);
TinPtr keepBeneath(const Tin& ground, const Tin& facets, std::span<const Line2> lines, const Progress& progress);

// The whole ground with the rings of the polygons among its sides.
TinPtr cutAlong(const Tin& ground, std::span<const plane::Polygon> polygons, const Progress& progress);

}  // namespace inselberg::ground
