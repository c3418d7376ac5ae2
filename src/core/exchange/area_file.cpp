#include "exchange/area_file.h"

#include <fmt/format.h>

#include "base/error.h"
#include "exchange/formats.h"

namespace inselberg::exchange {

std::vector<ImportedArea> readAreas(const std::string& path, const std::string& target) {
  ReadRules rules;
  rules.target = target;
  Imported all = readAny(path, rules);
  requireClean(all);
  const auto wrong = [&](const char* kind, long line) {
    throw Error(std::string("a polygon is needed here, and this is a ") + kind, {path, line},
                "draw the area as a closed polygon");
  };
  if (!all.lines.empty()) wrong("line", all.lines.front().line);
  if (!all.points.empty()) wrong("point", all.pointLines.empty() ? 0 : all.pointLines.front());
  if (!all.models.empty() || !all.rasters.empty()) wrong("ground", 0);
  if (all.areas.empty()) throw Error("there is no polygon in the file", {path, 1}, "draw the area as a closed polygon");
  return std::move(all.areas);
}

ImportedArea readOneArea(const std::string& path, const std::string& target) {
  std::vector<ImportedArea> areas = readAreas(path, target);
  if (areas.size() > 1) {
    throw Error(fmt::format("there are {} polygons, and one is needed", areas.size()), {path, areas[1].line},
                "keep one polygon in the file");
  }
  return std::move(areas.front());
}

}  // namespace inselberg::exchange
