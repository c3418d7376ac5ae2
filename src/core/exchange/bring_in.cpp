#include "exchange/bring_in.h"

#include <fmt/format.h>

#include <array>
#include <cmath>

#include "base/quantity.h"

namespace inselberg::exchange {
namespace {

std::string fileName(const std::string& path) {
  return path.substr(path.find_last_of('/') + 1);
}

// A report may grow no longer than this.
constexpr std::size_t kMostLines = 200;

}  // namespace

Choices readingOf(const ReadRules& rules, const plane::Polygon* limit) {
  Choices list;
  if (!rules.units.empty()) list.emplace_back("units", rules.units);
  if (!rules.system.empty()) list.emplace_back("system", rules.system);
  if (rules.levelField) list.emplace_back("levels", *rules.levelField);
  if (limit) {
    std::string ring;
    for (const plane::Vec2 p : limit->outer) ring += fmt::format("{}{} {}", ring.empty() ? "" : ", ", p.x, p.y);
    list.emplace_back("limit", ring);
  }
  return list;
}

std::string comesIn(const Imported& imported, std::span<const Take> takes) {
  std::array<std::size_t, 8> number{};
  std::size_t points = 0, boundaries = 0, faces = 0, cells = 0;
  const auto takeOf = [&](LayerIndex layer) { return takes[layer]; };
  const auto at = [&](Take take) -> std::size_t& { return number[static_cast<std::size_t>(take)]; };
  for (std::size_t i = 0; i < imported.points.size(); ++i) {
    const Take take = takeOf(imported.layerOf(i));
    points += take == Take::points || take == Take::breaklines || take == Take::contours ? 1 : 0;
  }
  for (const auto& line : imported.lines) {
    if (takeOf(line.layer) == Take::points)
      points += line.vertices.size();
    else
      ++at(takeOf(line.layer));
  }
  for (const auto& area : imported.areas) {
    const Take take = takeOf(area.layer);
    if (take == Take::voids || take == Take::works)
      ++at(take);
    else if (take != Take::skip)
      ++boundaries;
  }
  boundaries += at(Take::boundary);
  for (const auto& m : imported.models) faces += takeOf(m.layer) == Take::skip ? 0 : m.triangles.size();
  for (const auto& r : imported.rasters) {
    if (takeOf(r.layer) != Take::skip) cells += r.figures.cells;
  }
  std::string text;
  const auto say = [&](std::size_t n, const char* what) {
    if (n > 0)
      text += (text.empty() ? "" : ", ") + fmt::format(fmt::runtime(what), formatNumber(static_cast<double>(n), 0));
  };
  say(faces, "a ground model of {} faces");
  say(cells, "a raster of {} cells");
  say(points, "{} points");
  say(at(Take::breaklines), "{} breaklines");
  say(at(Take::contours), "{} contours");
  say(boundaries, "{} boundaries");
  say(at(Take::voids), "{} voids");
  say(at(Take::works), "{} works outlines");
  return text;
}

BroughtIn broughtIn(const Imported& imported, std::span<const Take> takes, Taken taken, Choices reading,
                    Georeference place) {
  BroughtIn made;
  made.file = imported.file;
  made.place = std::move(place);
  made.units = imported.units;
  made.reading = std::move(reading);
  made.report.push_back("Comes in: " + comesIn(imported, takes));
  for (std::size_t i = 0; i < imported.layers.size(); ++i) {
    made.takes.emplace_back(imported.layers[i], word(takes[i]));
    if (takes[i] == Take::skip) made.report.push_back(fmt::format("Layer {} was left out.", imported.layers[i]));
  }
  for (const auto& p : imported.problems) {
    if (made.report.size() > kMostLines) break;
    made.report.push_back(fmt::format("Line {}: {}; left out.", p.line, p.what));
  }
  made.report.insert(made.report.end(), imported.remarks.begin(), imported.remarks.end());
  made.report.insert(made.report.end(), taken.remarks.begin(), taken.remarks.end());
  made.taken = std::move(taken);
  return made;
}

project::ProjectPtr withBroughtIn(const project::Project& project, BroughtIn file,
                                  const std::function<std::optional<double>(plane::Vec2)>& levelUnder) {
  auto start = std::make_shared<project::Project>(project);
  start->origin = file.place.origin;
  start->system = file.place.system;
  start->hasOrigin = true;
  const GroundId surveyed = start->surveyed(), finished = start->finished();
  const std::string name = fileName(file.file);
  std::vector<project::NewSource> sources;
  for (TakenSource& s : file.taken.sources) {
    const bool model = !s.data.modelTriangles.empty() && file.taken.sources.size() > 1;
    project::SourceInfo info;
    info.name = model ? s.name : name;
    info.file = file.file;
    info.takes = file.takes;
    info.report = file.report;
    info.reading = file.reading;
    info.locked = true;  // data as it came is not changed by a slip of the mouse
    sources.push_back({std::move(info), std::move(s.data)});
  }
  project::ProjectPtr next = start;
  if (file.again) {
    next = project::withFileAgain(*next, file.file, std::move(sources), surveyed);
  } else {
    for (auto& s : sources) next = project::withSource(*next, std::move(s.info), std::move(s.data), surveyed);
  }
  int number = 0;
  for (const TakenOutline& outline : file.taken.works) {
    double level = outline.level.value_or(0);
    if (!outline.level && levelUnder) {
      const auto under = levelUnder(plane::boundsOf(outline.polygon.outer).centre());
      level = std::round(under.value_or(0) * 20) / 20;
    }
    works::Pad pad{outline.polygon.outer, level, {}};
    next = project::withNewWorks(*next, finished, fmt::format("{} {}", stemOf(name), ++number), std::move(pad));
  }
  return next;
}

}  // namespace inselberg::exchange
