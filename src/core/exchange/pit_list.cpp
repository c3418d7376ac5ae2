#include "exchange/pit_list.h"

#include <algorithm>

#include "base/error.h"
#include "base/lower_case.h"
#include "exchange/point_list.h"
#include "exchange/text_file.h"

namespace inselberg::exchange {

namespace {

// As for points, with a column of depths in place of levels.
std::optional<PointColumns> columnsOf(const std::string& text) {
  const TableForm form = guessForm(text);
  const auto rows = firstRows(text, form, 1);
  for (std::size_t c = 0; !rows.empty() && c < rows.front().size(); ++c) {
    const std::string& cell = rows.front()[c];
    const std::string name = lowerCase(cell);
    if (!name.starts_with("depth") && !name.starts_with("thickness")) continue;
    std::string asLevels = text;
    asLevels.replace(text.find(cell), cell.size(), "level");
    auto columns = guessColumns(asLevels, form);
    if (columns) columns->level = static_cast<int>(c);
    return columns;
  }
  return guessColumns(text);
}

}  // namespace

std::vector<plane::Vec3> readPits(const std::string& path) {
  const Imported read = readPoints(path, columnsOf(readText(path)));
  requireClean(read);
  if (read.points.empty()) throw Error("the file has no pits", {path}, "give eastings, northings and depths");
  const auto below = std::find_if(read.points.begin(), read.points.end(), [](const plane::Vec3& p) { return p.z < 0; });
  if (below != read.points.end()) {
    const long line =
        read.pointLines.empty() ? 0 : read.pointLines[static_cast<std::size_t>(below - read.points.begin())];
    throw Error("a depth cannot be negative", {path, line}, "write 0 or more");
  }
  return read.points;
}

}  // namespace inselberg::exchange
