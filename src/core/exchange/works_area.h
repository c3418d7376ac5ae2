// Works from outlines that came in files.
#pragma once

#include <string>

#include "exchange/imported.h"
#include "works/works.h"

namespace inselberg::exchange {

// A works of the kind with the area as its outline, the rest as it is before anything is said. Throws Error with its
// place for an area that has holes or is not sound. REQUIRES: the kind has an outline.
works::Shape shapeFromArea(const works::Kind& kind, ImportedArea area, const std::string& file,
                           const plane::Origin& origin);

}  // namespace inselberg::exchange
