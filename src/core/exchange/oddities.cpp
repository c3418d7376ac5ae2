#include "exchange/oddities.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/quantity.h"
#include "exchange/coordinate_system.h"
#include "exchange/layers.h"

namespace inselberg::exchange {

std::vector<std::string> oddities(const Imported& imported, const std::optional<plane::Box>& site) {
  std::vector<std::string> found;
  const plane::Box box = imported.bounds();
  if (box.empty()) return found;
  const double extent = std::max(box.width(), box.height());
  if (site && !site->empty()) {
    const double reach = 2 * std::max({site->width(), site->height(), 1000.0});
    if (!box.overlaps(site->grown(reach))) {
      plane::Box turned;
      turned.add(plane::Vec2{box.minY, box.minX});
      turned.add(plane::Vec2{box.maxY, box.maxX});
      found.push_back(turned.overlaps(*site)
                          ? "Easting and northing look exchanged: the data would fit the site the other way round."
                          : fmt::format("The data lies {} km from the site. Check the units and the coordinate system.",
                                        formatNumber(plane::distance(box.centre(), site->centre()) / 1000, 1)));
    }
  }
  if (extent > 50'000)
    found.push_back(fmt::format("The data stretches over {} km. A stray point, or the wrong unit?",
                                formatNumber(extent / 1000, 0)));
  const auto system = imported.system.empty() ? std::nullopt : coordinateSystem(imported.system);
  if (system && system->degrees) {
    // The zone of six degrees around the site, on the datum every receiver knows.
    const int zone = std::clamp(static_cast<int>(std::floor((box.centre().x + 180) / 6)) + 1, 1, 60);
    found.push_back(fmt::format(
        "The positions are degrees ({}). Choose a coordinate system for the project, for example EPSG:{}, and the file "
        "is moved into it.",
        system->text(), (box.centre().y < 0 ? 32700 : 32600) + zone));
    return found;
  }
  if (extent < 1)
    found.push_back(fmt::format("The data covers less than a metre ({} m). The wrong unit{}?", formatNumber(extent, 3),
                                looksLikeDegrees(imported) ? ", or degrees of longitude and latitude" : ""));

  std::size_t zero = 0, other = 0, without = 0;
  double low = 1e300, high = -1e300;
  const auto level = [&](double z) {
    if (std::isnan(z)) return;
    (z == 0 ? zero : other) += 1;
    low = std::min(low, z), high = std::max(high, z);
  };
  for (const auto& p : imported.points) level(p.z);
  for (const auto& m : imported.models) {
    for (const auto& p : m.points) level(p.z);
  }
  for (const auto& r : imported.rasters) {
    for (const float z : r.raster.levels) level(z);
  }
  for (const auto& line : imported.lines) {
    bool any = false;
    for (const auto& p : line.vertices) level(p.z), any |= !std::isnan(p.z);
    without += any ? 0 : 1;
  }
  for (const LayerSummary& s : summaries(imported)) {
    if (s.zeros > 0 && s.zeros == s.levels && other > 0 && (low < -1 || high > 1))
      found.push_back(fmt::format("{}: all {} levels are zero while other layers have theirs. Levels lost on the way?",
                                  s.name, s.levels));
    if (s.zeros == 0 || s.zeros == s.levels || (*s.minLevel > -1 && *s.maxLevel < 1)) continue;
    found.push_back(fmt::format("{}{} of {} levels are exactly zero while the others are not. Levels lost on the way?",
                                imported.layers.size() > 1 ? s.name + ": " : "", s.zeros, s.levels));
  }
  if (zero > 0 && other == 0 && !imported.points.empty())
    found.push_back("All levels are zero. Was the level column or the right file chosen?");
  if (high - low > 3000 || (high - low > extent && extent > 1 && other > 2)) {
    found.push_back(fmt::format("The levels span {} m over {} m of ground. A stray level, or a wrong column?",
                                formatNumber(high - low, 0), formatNumber(extent, 0)));
  }
  if (without > 0) found.push_back(fmt::format("{} lines have no level at all and will take no part.", without));

  std::vector<plane::Vec2> places;
  for (const auto& p : imported.points) places.push_back(p.plan());
  std::ranges::sort(places, {}, [](plane::Vec2 p) { return std::pair(p.x, p.y); });
  std::size_t repeated = 0;
  for (std::size_t i = 1; i < places.size(); ++i) repeated += places[i] == places[i - 1] ? 1 : 0;
  if (repeated > 0)
    found.push_back(fmt::format("{} points lie in the place of another. The rule for duplicates decides.", repeated));
  return found;
}

}  // namespace inselberg::exchange
