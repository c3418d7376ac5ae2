#include "exchange/formats.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"
#include "base/lower_case.h"
#include "base/quantity.h"
#include "base/text.h"
#include "exchange/coordinate_system.h"
#include "exchange/dxf.h"
#include "exchange/geojson.h"
#include "exchange/gis.h"
#include "exchange/landxml.h"
#include "exchange/length_units.h"
#include "exchange/point_list.h"
#include "exchange/text_file.h"

namespace inselberg::exchange {

Format formatOf(const std::string& path) {
  const std::string name = lowerCase(path);
  const auto ends = [&](std::initializer_list<const char*> endings) {
    return std::any_of(endings.begin(), endings.end(), [&](const char* e) { return name.ends_with(e); });
  };
  if (ends({".csv", ".txt", ".pnt", ".xyz", ".pts", ".tsv"})) return Format::points;
  if (ends({".xlsx", ".ods"})) return Format::spreadsheet;
  if (ends({".geojson", ".json"})) return Format::geoJson;
  if (ends({".gpkg", ".shp"})) return Format::vector;
  if (ends({".tif", ".tiff", ".asc"})) return Format::raster;
  if (ends({".dxf"})) return Format::dxf;
  if (ends({".xml", ".landxml"})) return Format::landXml;
  if (ends({".inselberg"})) return Format::project;
  const std::string start = readBytesAhead(path, 4096);
  if (start.starts_with("SQLite format 3"))
    return start.size() >= 72 && start.substr(68, 4) == "GPKG" ? Format::vector : Format::project;
  if (start.starts_with("PK\x03\x04")) return Format::spreadsheet;
  if (start.starts_with(std::string_view("II*\0", 4)) || start.starts_with(std::string_view("MM\0*", 4)))
    return Format::raster;
  if (start.find("Binary DXF") == 8) return Format::dxf;
  const auto first = start.find_first_not_of(" \t\r\n\xef\xbb\xbf");
  if (first != std::string::npos) {
    const std::string_view text = std::string_view(start).substr(first);
    if (text.starts_with('<')) return Format::landXml;
    if (text.starts_with('{')) return Format::geoJson;
    if (text.starts_with("ncols") || text.starts_with("NCOLS")) return Format::raster;
    if (text.starts_with("0\n") || text.starts_with("0\r\n") || text.starts_with("999\n")) return Format::dxf;
  }
  throw Error(
      "the format of the file is not known", {path},
      "use CSV, XLSX, ODS, DXF, LandXML, GeoJSON, GeoPackage, Shapefile, GeoTIFF or ASCII grid with its usual ending");
}

std::optional<double> metresPerUnit(const std::string& unit) {
  if (unit == "m") return 1.0;
  if (unit == "ft") return kMetresPerFoot;
  if (unit == "us-ft") return kMetresPerSurveyFoot;
  return std::nullopt;
}

namespace {

// Texts are UTF-8 from here on.
void makeTextsValid(Imported& found) {
  for (auto* list : {&found.attributes, &found.layers, &found.numbers, &found.codes, &found.remarks}) {
    for (std::string& text : *list) {
      if (!isUtf8(text)) text = validUtf8(std::move(text));
    }
  }
  for (ImportProblem& p : found.problems) p.what = validUtf8(std::move(p.what)), p.hint = validUtf8(std::move(p.hint));
  found.system = validUtf8(std::move(found.system));
}

Imported readAs(Format format, const std::string& path, const ReadRules& rules, const Progress& progress) {
  switch (format) {
    case Format::points:
      return readPoints(path, rules.columns, progress);
    case Format::spreadsheet:
      return readSheets(path, rules.columns, progress);
    case Format::geoJson:
      return readGeoJson(path, rules.levelField);
    case Format::vector:
      return readVector(path, rules.levelField, progress);
    case Format::raster:
      return readRaster(path, progress);
    case Format::dxf:
      return readDxf(path, {metresPerUnit(rules.units), DxfRules{}.chordError}, progress);
    case Format::landXml:
      return readLandXml(path, progress);
    case Format::project:
      break;
  }
  throw Error("this is a project, not a survey", {path}, "open it instead of importing it");
}

// The system the positions are in: as the caller says, else as the file does, with a remark where that is not to be
// believed. What the file itself tells goes into found.ownSystem.
std::optional<CoordinateSystem> systemOf(Imported& found, Format format, const ReadRules& rules) {
  const auto own = found.system.empty() ? std::nullopt : coordinateSystem(found.system);
  const bool believed = own && !(own->degrees && rules.system.empty() && !couldBeDegrees(found));
  if (believed) found.ownSystem = own->definition;
  if (!rules.system.empty()) return requireCoordinateSystem(rules.system);
  if (believed) return own;
  if (own) {
    found.remarks.push_back(fmt::format(
        "The file says it is in {}, in degrees, which its numbers cannot be: they stay as they are.", own->text()));
  } else if (!found.system.empty()) {
    found.remarks.push_back("The coordinate system the file tells is not a known one: its numbers stay as they are.");
  } else if (format == Format::geoJson && !rules.target.empty() && looksLikeDegrees(found)) {
    return requireCoordinateSystem("EPSG:4326");  // what its standard says
  }
  return std::nullopt;
}

}  // namespace

Imported readAny(const std::string& path, const ReadRules& rules, const Progress& progress) {
  // What is asked for is looked at before anything is read.
  if (!rules.system.empty()) requireCoordinateSystem(rules.system);
  if (!rules.target.empty()) requireCoordinateSystem(rules.target);
  const Format format = formatOf(path);
  Imported found = readAs(format, path, rules, progress);
  makeTextsValid(found);
  const std::optional<CoordinateSystem> system = systemOf(found, format, rules);
  found.system = system ? system->definition : std::string();
  if (format != Format::dxf && format != Format::landXml) {  // those declare their unit
    const bool onPlane = system && !system->degrees;
    const std::optional<double> unit = metresPerUnit(rules.units);
    const double factor = unit.value_or(onPlane ? system->metresPerUnit : 1);
    if (unit || factor != 1)
      scaleTo(found, system && system->degrees ? 1 : factor, factor, unit ? rules.units : unitNameOf(factor));
  }
  if (system && !rules.target.empty()) reproject(found, *system, requireCoordinateSystem(rules.target), progress);
  return found;
}

}  // namespace inselberg::exchange
