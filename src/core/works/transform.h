// A works moved, turned or mirrored as a whole.
#pragma once

#include "works/works.h"

namespace inselberg::works {

Shape shifted(const Shape& shape, Vec2 by);
// By an angle clockwise, in degrees, about a place; what falls towards a bearing turns with it.
Shape turned(const Shape& shape, Vec2 about, double degrees);
// Across the line through a place towards a bearing.
Shape mirrored(const Shape& shape, Vec2 through, double bearing);

}  // namespace inselberg::works
