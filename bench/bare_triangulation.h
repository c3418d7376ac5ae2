// The yardstick: the triangulation library alone, as plainly as it can be used.
#pragma once

#include <cstddef>
#include <span>
#include <utility>

#include "ground/tin.h"

namespace inselberg::bench {

// Inserts all points, then all segments between them; returns the number of triangles.
std::size_t bareTriangulation(std::span<const plane::Vec2> points,
                              std::span<const std::pair<ground::Index, ground::Index>> segments);

}  // namespace inselberg::bench
