// Formats read and written by a library: GeoPackage, Shapefile, GeoTIFF, ASCII grid, spreadsheets.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "base/progress.h"
#include "exchange/coordinate_system.h"
#include "exchange/imported.h"

namespace inselberg::exchange {

// Points, lines and areas of a GeoPackage or Shapefile, by layer; curves as chords of four degrees. Levels come from
// the attribute `levelField` where that is given and filled in, else from the geometry, else from an attribute named
// like a level; a line or point without any has no level. Layers that hold nothing but triangles with levels come in as
// models. Throws Error; Cancelled.
Imported readVector(const std::string& path, const std::optional<std::string>& levelField = {},
                    const Progress& progress = {});

// The first band of a raster as levels at cell centres, scale and offset applied, no-data respected. Throws Error for a
// file without a place on the ground, with more than 400 million cells, or unreadable; Cancelled.
Imported readRaster(const std::string& path, const Progress& progress = {});

struct SheetRow {
  long line = 0;
  std::vector<std::string> cells;
};
struct Sheet {
  std::string name;
  std::vector<SheetRow> rows;
};
// All sheets of an XLSX or ODS file, cells as text (numbers with a decimal point). Throws Error; Cancelled.
std::vector<Sheet> readSheetRows(const std::string& path, const Progress& progress = {});

// Writes levels as GeoTIFF or ASCII grid, by the ending (.tif, .asc), whole or not at all. Throws Error.
void writeRaster(const ground::Raster& raster, const Georeference& place, const std::string& path);

// Writes a ground's triangles (3D polygons) and points as layers of a GeoPackage, whole or not at all. Throws Error.
void writeGeoPackage(const ground::Tin& tin, const Georeference& place, const std::string& name,
                     const std::string& path);

}  // namespace inselberg::exchange
