// GeoJSON (RFC 7946 geometry, in the site's own plan coordinates).
#pragma once

#include <span>
#include <string>

#include "exchange/coordinate_system.h"
#include "exchange/imported.h"
#include "ground/contours.h"

namespace inselberg::exchange {

// Reads a FeatureCollection, Feature or bare geometry: points, lines, polygons and their Multi forms; levels as
// in readVector (exchange/gis.h). Throws Error for
// what is no GeoJSON. A feature with something wrong in it (coordinates that are missing or implausible) is left out
// and told in the problems; it is an Error when nothing else is there.
Imported readGeoJson(const std::string& path, const std::optional<std::string>& levelField = {});

// Contours as LineStrings with their level as third coordinate and as property "level_m".
std::string contoursToGeoJson(std::span<const ground::Contour> contours, const Georeference& place);

// The member of a FeatureCollection that names the coordinate system, with a comma; empty where none can be named.
std::string systemMember(const Georeference& place);

}  // namespace inselberg::exchange
