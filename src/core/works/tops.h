// The tops of works by themselves, for what lies under and over them.
#pragma once

#include "works/works.h"

namespace inselberg::works {

// The facets of the top and its margin; may be empty.
ground::TinPtr topAndMarginOf(const Placement& placement);

// The facets of the top with its space. Of a run, a pond, a berm or a swale all up to the batters. REQUIRES: the
// placement is the shape's.
ground::TinPtr topOf(const Shape& shape, const Placement& placement);

// Tops and legs: all but the batters.
ground::TinPtr topAndLegsOf(const Placement& placement);

// How corners of the works are made; round where it says nothing.
CornerStyle cornersOf(const Shape& shape);

}  // namespace inselberg::works
