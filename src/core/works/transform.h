// A works moved, turned or mirrored as a whole.
#pragma once

#include "works/works.h"

namespace inselberg::works {

Shape shifted(const Shape& shape, Vec2 by);
// By an angle clockwise, in degrees, about a place; what falls towards a bearing turns with it.
Shape turned(const Shape& shape, Vec2 about, double degrees);
// Across the line through a place towards a bearing.
Shape mirrored(const Shape& shape, Vec2 through, double bearing);

// With the corners of its first outline, or line, rounded: by arcs of a radius, less where sides are too short for it,
// made of chords within 2 mm. A section of an edge of its own reaches to the end of the arc after it. Throws Error when
// its corners have levels of their own.
Shape rounded(const Shape& shape, double radius);

// Sections of sides for an outline with other ones: of each of these the number of the one that it was.
Edges ofNewSides(const Edges& edges, const std::vector<std::size_t>& was);

}  // namespace inselberg::works
