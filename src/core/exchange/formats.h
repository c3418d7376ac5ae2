// Reading a file whatever its format.
#pragma once

#include <optional>
#include <string>

#include "base/progress.h"
#include "exchange/imported.h"
#include "exchange/point_list.h"

namespace inselberg::exchange {

enum class Format { points, spreadsheet, geoJson, vector, raster, dxf, landXml, project };

// By the name's ending, else by how the file begins. Throws Error when neither tells.
Format formatOf(const std::string& path);

// A unit of length by its word: "m", "ft" (0.3048 m), "us-ft" (1200/3937 m); nothing for another word.
std::optional<double> metresPerUnit(const std::string& unit);

struct ReadRules {
  // The unit of files that do not declare one ("m", "ft", "us-ft"); a drawing's own unit gives way to it, LandXML's
  // does not. Empty: as declared, else metres. REQUIRES: a known unit.
  std::string units;
  std::optional<std::string> levelField;  // of GIS files: the attribute that holds levels
  std::optional<PointColumns> columns;    // of point lists and spreadsheets; else guessed
  // The coordinate system the file is in, whatever it tells itself, and the one its positions are moved into where it
  // has one; empty: as told, and not moved. Files of an undeclared unit are in that of their system.
  std::string system, target;
};

// Reads points, lines, areas, ground models and rasters, in layers; a project file is an Error (it is opened, not
// imported). The coordinate system given back is that of the positions, by code where it has one. Throws Error,
// Cancelled.
Imported readAny(const std::string& path, const ReadRules& rules = {}, const Progress& progress = {});

}  // namespace inselberg::exchange
