// Arrows the way water runs.
#pragma once

#include <functional>

#include "canvas/view_transform.h"
#include "ground/tin.h"

class QPainter;

namespace inselberg::app {

// The surface at a place of the plan; nothing where there is none.
using SurfaceAt = std::function<std::optional<ground::Plane>(plane::Vec2)>;

// An arrow every so many pixels down the surface there: longer where it is steeper, up to 1 in 5; a ring where it is
// flatter than 1 in 500 and water would stand or wander. Where there is room they say their fall in percent.
void paintFlow(QPainter& painter, const SurfaceAt& surface, const ViewTransform& view);

}  // namespace inselberg::app
