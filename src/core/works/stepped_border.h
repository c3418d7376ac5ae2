// Crests round a surface that may have steps: where two of its parts lie beside each other at different levels, their
// borders run along each other, and nothing rises from there.
#pragma once

#include <vector>

#include "ground/tin.h"
#include "works/crest.h"

namespace inselberg::works {

// Whether the surface goes on to the right of an edge of its border.
bool goesOnBeyond(const ground::Tin& surface, Vec2 a, Vec2 b);

// Lines along loops of its border (counter-clockwise, holes clockwise), with sections along each from its first corner:
// all round, or where there are steps, from the end of one to the next. At an outward corner where a step ends, the
// lines on both sides of it meet half way round; elsewhere they end square.
std::vector<CrestLine> linesAround(const ground::Tin& surface, const std::vector<std::vector<Vec3>>& loops,
                                   const SectionsAlong& along);

}  // namespace inselberg::works
