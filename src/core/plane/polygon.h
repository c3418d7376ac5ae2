// Polygons with holes: outlines of works, boundaries, regions.
#pragma once

#include <string>
#include <vector>

#include "plane/geometry.h"

namespace inselberg::plane {

// One outer ring and any number of holes; rings are closed without repeating the first point.
// A *sound* polygon has at least three corners in each ring, no ring crossing itself or another, holes inside the outer
// ring, the outer ring counter-clockwise and the holes clockwise.
struct Polygon {
  Ring outer;
  std::vector<Ring> holes;
  bool operator==(const Polygon&) const = default;
};

// Positive for a counter-clockwise ring.
double signedArea(const Ring& ring);

// The centroid of the ring's area. REQUIRES: it has one.
Vec2 centroid(const Ring& ring);

// A place well inside a sound polygon, where it is wide: to write its name at, or to ask what lies there.
Vec2 placeIn(const Polygon& polygon);

// The plan area of a sound polygon.
double area(const Polygon& polygon);

Box boundsOf(const Ring& ring);

// By the crossing rule; a point on the ring may come out either way.
bool contains(const Ring& ring, Vec2 p);
bool contains(const Polygon& polygon, Vec2 p);

// The sound form of a polygon as it came: repeated points dropped, rings turned the right way. Throws Error (with no
// place: the caller adds it) when a ring has fewer than three different corners, has no area, or rings cross; the text
// says which and near which coordinates (origin added).
Polygon sound(Polygon polygon, const Origin& origin);

}  // namespace inselberg::plane
