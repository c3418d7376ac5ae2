// Places that come as degrees, moved to the system a sheet was drawn in; for sheet/pdf.cpp.
#pragma once

#include "sheet/document.h"

namespace inselberg::sheet {

// `controls` are in longitude and latitude of the system; it is given by its description or, where that is empty, its
// EPSG code. Nothing when the system is not known. A system in degrees leaves them as they are.
std::optional<OwnPlace> placeFromDegrees(std::vector<Control> controls, const std::string& wkt, int epsg);

}  // namespace inselberg::sheet
