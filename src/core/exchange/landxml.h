// LandXML 1.x: ground models and survey.
#pragma once

#include <string>

#include "base/progress.h"
#include "exchange/coordinate_system.h"
#include "exchange/imported.h"

namespace inselberg::exchange {

// Reads versions 1.0 to 1.2, metric and foot units honoured, positions as northing easting level. Layers:
//  - every surface of faces, by its name, as a model; faces marked i="1" are left out;
//  - a surface's source data as "NAME points", "NAME breaklines", "NAME contours", "NAME boundary", "NAME voids";
//  - "survey points" with number and code, "plan features" as lines, "parcels" as areas; curves within 1 cm.
// Throws Error with the line for what is no LandXML, breaks off, declares entities, holds none of these, has a face
// that names a point that is not there, or numbers that are none; Cancelled.
Imported readLandXml(const std::string& path, const Progress& progress = {});

// One surface in metres, with its coordinate system where that has an EPSG code. `name` is shown by readers.
std::string groundToLandXml(const ground::Tin& tin, const Georeference& place, const std::string& name);

}  // namespace inselberg::exchange
