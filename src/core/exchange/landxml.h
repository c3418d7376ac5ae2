// LandXML 1.x surfaces of faces.
#pragma once

#include <string>

#include "base/progress.h"
#include "exchange/imported.h"

namespace inselberg::exchange {

// Reads the first surface of faces as a ground model: metric and foot units honoured, points as northing easting level,
// faces by point id, faces marked i="1" left out. Throws Error with the line for what is no LandXML, breaks off,
// declares entities, has a face that names a point that is not there, or numbers that are none.
// Throws Cancelled.
Imported readLandXml(const std::string& path, const Progress& progress = {});

// One surface in metres. `name` is shown by readers.
std::string groundToLandXml(const ground::Tin& tin, const plane::Origin& origin, const std::string& name);

}  // namespace inselberg::exchange
