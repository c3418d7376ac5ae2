#include "exchange/contours_write.h"

#include "base/lower_case.h"
#include "exchange/geojson.h"
#include "exchange/ground_write.h"
#include "exchange/text_file.h"
#include "ground/contour_labels.h"
#include "ground/contours.h"

namespace inselberg::exchange {

std::size_t writeContours(const ground::Tin& tin, const Georeference& place, double interval,
                          std::span<const std::vector<plane::Vec2>> labelLines, const std::string& path,
                          const Progress& progress) {
  const auto lines = ground::contours(tin, ground::contourLevels(tin, interval), progress);
  if (!lowerCase(path).ends_with(".dxf")) {
    writeWhole(path, contoursToGeoJson(lines, place));
    return lines.size();
  }
  std::vector<ground::ContourLabel> labels;
  for (const auto& line : labelLines) {
    const auto more = ground::labelsAlong(lines, line);
    labels.insert(labels.end(), more.begin(), more.end());
  }
  writeWhole(path, contoursToDxf(lines, place.origin, labels));
  return lines.size();
}

}  // namespace inselberg::exchange
