#include "exchange/line_file.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"
#include "exchange/formats.h"

namespace inselberg::exchange {

std::vector<plane::Vec2> readOneLine(const std::string& path, const std::string& target, const plane::Origin& origin) {
  ReadRules rules;
  rules.target = target;
  const Imported all = readAny(path, rules);
  requireClean(all);
  const auto wrong = [&](const char* kind, long line) {
    throw Error(std::string("a line is needed here, and this is a ") + kind, {path, line}, "keep one line in the file");
  };
  if (!all.areas.empty()) wrong("polygon", all.areas.front().line);
  if (!all.points.empty()) wrong("point", all.pointLines.empty() ? 0 : all.pointLines.front());
  if (!all.models.empty() || !all.rasters.empty()) wrong("ground", 0);
  if (all.lines.empty()) throw Error("there is no line in the file", {path, 1}, "keep one line in the file");
  if (all.lines.size() > 1) {
    throw Error(fmt::format("there are {} lines, and one is needed", all.lines.size()), {path, all.lines[1].line},
                "keep one line in the file");
  }
  const ImportedLine& read = all.lines.front();
  std::vector<plane::Vec2> line;
  for (const plane::Vec3& p : read.vertices) line.push_back({p.x - origin.easting, p.y - origin.northing});
  if (read.closed && !line.empty()) line.push_back(line.front());
  line.erase(std::unique(line.begin(), line.end()), line.end());
  if (line.size() < 2) throw Error("the line has no length", {path, read.line}, "give it two places or more");
  return line;
}

}  // namespace inselberg::exchange
