// A ground as text in the formats that hold triangles or points.
#pragma once

#include <span>
#include <string>

#include "exchange/coordinate_system.h"
#include "ground/contour_labels.h"
#include "ground/contours.h"
#include "ground/tin.h"

namespace inselberg::exchange {

// Each gives the whole file; easting, northing and level in metres, with the precision of a double unless said.
// 3D faces on the layer "GROUND", and breaklines as 3D polylines on "BREAKLINES", of a drawing in metres; millimetres.
std::string groundToDxf(const ground::Tin& tin, const plane::Origin& origin);
// Triangles as polygons with levels.
std::string groundToGeoJson(const ground::Tin& tin, const Georeference& place);
// Vertices as easting northing level, faces counter-clockwise seen from above.
std::string groundToObj(const ground::Tin& tin, const plane::Origin& origin);
std::string groundToPly(const ground::Tin& tin, const plane::Origin& origin);
// Binary glTF 2.0, for viewers: metres east, up, south of the middle of the ground's box at level 0, in single
// precision; corners' normals. Easting and northing of the middle stand in the node's `extras`.
std::string groundToGlb(const ground::Tin& tin, const plane::Origin& origin);
// Points: number,easting,northing,level.
std::string groundToCsv(const ground::Tin& tin, const plane::Origin& origin);

// Contours as 3D polylines on the layer "CONTOURS", and labels as texts 1 m high on "CONTOUR LABELS".
std::string contoursToDxf(std::span<const ground::Contour> contours, const plane::Origin& origin,
                          std::span<const ground::ContourLabel> labels = {});

// Writes the ground by the name's ending: .xml .dxf .tif .asc .geojson .gpkg .obj .ply .glb .csv; rasters with cells of
// `cell` m. Formats that can name the coordinate system do (LandXML, GeoTIFF, GeoJSON, GeoPackage). Whole or not at
// all. Throws Error, also for another ending; Cancelled.
void writeGround(const ground::Tin& tin, const Georeference& place, const std::string& name, const std::string& path,
                 double cell, const Progress& progress);
// The endings writeGround knows, and how they are told: ".xml .dxf … or .csv".
bool isGroundEnding(const std::string& path);
std::string groundEndings();

}  // namespace inselberg::exchange
