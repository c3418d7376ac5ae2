#include "exchange/formats.h"

#include <algorithm>
#include <cctype>

#include "base/error.h"
#include "exchange/dxf.h"
#include "exchange/geojson.h"
#include "exchange/landxml.h"
#include "exchange/points_csv.h"
#include "exchange/text_file.h"

namespace inselberg::exchange {

Format formatOf(const std::string& path) {
  std::string name = path;
  std::transform(name.begin(), name.end(), name.begin(),
                 [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  const auto ends = [&](std::initializer_list<const char*> endings) {
    return std::any_of(endings.begin(), endings.end(), [&](const char* e) { return name.ends_with(e); });
  };
  if (ends({".csv", ".txt", ".pnt", ".xyz"})) return Format::points;
  if (ends({".geojson", ".json"})) return Format::geoJson;
  if (ends({".dxf"})) return Format::dxf;
  if (ends({".xml", ".landxml"})) return Format::landXml;
  if (ends({".inselberg"})) return Format::project;
  const std::string start = readBytes(path).substr(0, 200);
  if (start.starts_with("SQLite format 3")) return Format::project;
  const auto first = start.find_first_not_of(" \t\r\n\xef\xbb\xbf");
  if (first != std::string::npos && start[first] == '<') return Format::landXml;
  if (first != std::string::npos && start[first] == '{') return Format::geoJson;
  throw Error("the format of the file is not known", {path}, "use CSV, GeoJSON, DXF or LandXML with its usual ending");
}

Imported readAny(const std::string& path, const Progress& progress) {
  switch (formatOf(path)) {
    case Format::points:
      return readPoints(path, std::nullopt, 1, progress);
    case Format::geoJson:
      return readGeoJson(path);
    case Format::dxf:
      return readDxf(path, progress);
    case Format::landXml:
      return readLandXml(path, progress);
    case Format::project:
      break;
  }
  throw Error("this is a project, not a survey", {path}, "open it instead of importing it");
}

}  // namespace inselberg::exchange
