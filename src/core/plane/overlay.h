// Areas laid over each other.
#pragma once

#include <span>
#include <vector>

#include "plane/polygon.h"

namespace inselberg::plane {

// Areas as sound polygons that do not overlap each other; an empty list is no area.
using Areas = std::vector<Polygon>;

// What any of the polygons covers; they may overlap. Rings that touch themselves, or cross, are taken
// by what they enclose.
Areas united(std::span<const Polygon> polygons);
// What both cover; and what the first covers and the second does not. Sides in common are no area. REQUIRES: areas as
// above.
Areas common(const Areas& a, const Areas& b);
Areas without(const Areas& a, const Areas& b);

double area(const Areas& areas);
bool contains(const Areas& areas, Vec2 p);

}  // namespace inselberg::plane
