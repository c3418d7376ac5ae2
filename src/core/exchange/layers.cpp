// A layer is summed up in one walk over what it holds; the guess goes by what the format declares, then by words in its
// name, then by what it looks like (lines of one level each a common step apart are contours, one closed line around
// most of the data a boundary). Taking makes one source of all points and lines and one of each model and raster.
#include "exchange/layers.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <set>
#include <utility>

#include "base/error.h"
#include "base/lower_case.h"
#include "base/quantity.h"
#include "ground/thin.h"

namespace inselberg::exchange {
namespace {

constexpr std::array<std::pair<Take, const char*>, 8> kWords{{{Take::skip, "skip"},
                                                              {Take::points, "points"},
                                                              {Take::breaklines, "breaklines"},
                                                              {Take::contours, "contours"},
                                                              {Take::boundary, "boundary"},
                                                              {Take::voids, "void"},
                                                              {Take::works, "works"},
                                                              {Take::faces, "faces"}}};

bool mentions(const std::string& name, std::initializer_list<const char*> words) {
  return std::any_of(words.begin(), words.end(), [&](const char* w) { return name.find(w) != std::string::npos; });
}

// Lines of one level each, on several levels a common step apart.
bool lookLikeContours(const LayerSummary& s, const std::set<double>& lineLevels) {
  if (s.lines < 3 || s.levelLines * 10 < s.lines * 9 || lineLevels.size() < 2) return false;
  double step = 1e300;
  for (auto it = std::next(lineLevels.begin()); it != lineLevels.end(); ++it)
    step = std::min(step, *it - *std::prev(it));
  if (!(step > 1e-6)) return false;
  std::size_t fits = 0;
  for (const double z : lineLevels) {
    const double n = (z - *lineLevels.begin()) / step;
    fits += std::abs(n - std::round(n)) < 0.01 ? 1 : 0;
  }
  return fits * 10 >= lineLevels.size() * 9;
}

Take guessFor(const LayerSummary& s, const std::set<double>& lineLevels, const plane::Box& all) {
  const std::string name = lowerCase(s.name);
  if (s.faces > 0) return Take::faces;
  switch (s.declared) {
    case Declared::points:
      return Take::points;
    case Declared::breaklines:
      return Take::breaklines;
    case Declared::contours:
      return Take::contours;
    case Declared::boundary:
      return Take::boundary;
    case Declared::voids:
      return Take::voids;
    case Declared::nothing:
      break;
  }
  const bool rings = s.areas > 0 || s.closedLines > 0;
  const bool levelled = s.levels > s.zeros;
  const bool namedContours = mentions(name, {"contour", "cntr", "isoline"}) && s.levelLines * 2 >= s.lines;
  if (s.lines > 0 && levelled && namedContours) return Take::contours;
  if (rings && mentions(name, {"void", "hole", "exclu", "cutout", "cut-out"})) return Take::voids;
  if (rings && mentions(name, {"bound", "bdy", "perimeter", "extent", "limit", "site"})) return Take::boundary;
  if (s.lines > 0 && levelled) {
    if (mentions(name, {"break", "kerb", "curb", "edge", "ridge", "toe", "crest", "bank", "ditch"}))
      return Take::breaklines;
    return lookLikeContours(s, lineLevels) ? Take::contours : Take::breaklines;
  }
  if (s.points > 0 && (levelled || s.lines == 0)) return Take::points;
  if (s.areas > 0) return Take::boundary;
  // One closed line without a level around most of the data.
  if (s.lines == 1 && s.closedLines == 1 && all.width() > 0 &&
      s.bounds.width() * s.bounds.height() > 0.25 * all.width() * all.height())
    return Take::boundary;
  return Take::skip;
}

}  // namespace

const char* word(Take take) {
  for (const auto& [value, text] : kWords) {
    if (value == take) return text;
  }
  return "";
}

std::optional<Take> takeOf(const std::string& text) {
  for (const auto& [value, known] : kWords) {
    if (text == known) return value;
  }
  return std::nullopt;
}

namespace {

// What each layer is taken as, unless told otherwise.
void guessAll(const Imported& imported, const std::vector<std::set<double>>& lineLevels,
              std::vector<LayerSummary>& list) {
  plane::Box all;
  for (const LayerSummary& s : list) {
    if (!s.bounds.empty()) all.add(s.bounds);
  }
  for (std::size_t i = 0; i < list.size(); ++i) list[i].guess = guessFor(list[i], lineLevels[i], all);
  for (const ImportedRaster& r : imported.rasters) list[r.layer].guess = Take::faces;
  // Two grounds in one place are never wanted unasked: of models that lie over each other the first is offered.
  std::vector<plane::Box> had;
  for (LayerSummary& s : list) {
    if (s.guess != Take::faces) continue;
    const bool over = std::any_of(had.begin(), had.end(), [&](const plane::Box& b) {
      const double w = std::min(b.maxX, s.bounds.maxX) - std::max(b.minX, s.bounds.minX);
      const double h = std::min(b.maxY, s.bounds.maxY) - std::max(b.minY, s.bounds.minY);
      return w > 0 && h > 0 && w * h > 0.1 * std::min(b.width() * b.height(), s.bounds.width() * s.bounds.height());
    });
    if (over) {
      s.guess = Take::skip;
    } else {
      had.push_back(s.bounds);
    }
  }
  // What a model was made from is in the model already.
  if (!had.empty() && imported.format == "LandXML") {
    for (LayerSummary& s : list) {
      if (s.guess != Take::faces) s.guess = Take::skip;
    }
  }
}

}  // namespace

std::vector<LayerSummary> summaries(const Imported& imported) {
  std::vector<LayerSummary> list(imported.layers.size());
  std::vector<std::set<double>> lineLevels(list.size());
  for (std::size_t i = 0; i < list.size(); ++i)
    list[i].name = imported.layers[i], list[i].declared = imported.declaredOf(i);
  const auto level = [](LayerSummary& s, double z) {
    if (std::isnan(z)) return;
    ++s.levels;
    s.zeros += z == 0 ? 1 : 0;
    s.minLevel = std::min(s.minLevel.value_or(z), z);
    s.maxLevel = std::max(s.maxLevel.value_or(z), z);
  };
  for (std::size_t i = 0; i < imported.points.size(); ++i) {
    LayerSummary& s = list[imported.layerOf(i)];
    ++s.points;
    s.bounds.add(imported.points[i].plan());
    level(s, imported.points[i].z);
  }
  for (const ImportedLine& line : imported.lines) {
    LayerSummary& s = list[line.layer];
    ++s.lines;
    s.closedLines += line.closed || line.vertices.front().plan() == line.vertices.back().plan() ? 1 : 0;
    const double first = line.vertices.front().z;
    bool flat = first != 0 && !std::isnan(first);
    for (const auto& p : line.vertices) {
      s.bounds.add(p.plan());
      level(s, p.z);
      flat &= p.z == first;
    }
    if (!flat) continue;
    ++s.levelLines;
    if (lineLevels[line.layer].size() < 10000) lineLevels[line.layer].insert(first);
  }
  for (const ImportedArea& area : imported.areas) {
    LayerSummary& s = list[area.layer];
    ++s.areas;
    for (const auto p : area.polygon.outer) s.bounds.add(p);
  }
  for (const ImportedModel& model : imported.models) {
    LayerSummary& s = list[model.layer];
    s.faces += model.triangles.size();
    for (const auto& p : model.points) {
      s.bounds.add(p.plan());
      level(s, p.z);
    }
  }
  for (const ImportedRaster& r : imported.rasters) {
    LayerSummary& s = list[r.layer];
    const ground::RasterFigures& f = r.figures;
    s.points += f.cells;
    s.levels += f.cells;
    if (f.cells == 0) continue;
    s.bounds.add(f.bounds);
    s.minLevel = std::min(s.minLevel.value_or(f.minLevel), f.minLevel);
    s.maxLevel = std::max(s.maxLevel.value_or(f.maxLevel), f.maxLevel);
  }
  guessAll(imported, lineLevels, list);
  return list;
}

std::vector<Take> guesses(const Imported& imported) {
  std::vector<Take> takes;
  for (const LayerSummary& s : summaries(imported)) takes.push_back(s.guess);
  return takes;
}

namespace {

// Layers becoming sources, kind by kind.
class Taking {
 public:
  Taking(const Imported& imported, std::span<const Take> takes, const plane::Origin& origin, const TakeRules& rules,
         const Progress& progress)
      : imported_(imported), takes_(takes), origin_(origin), rules_(rules), progress_(progress) {}

  Taken all() {
    takePoints();
    for (const ImportedLine& line : imported_.lines) takeLine(line);
    for (const ImportedArea& area : imported_.areas) {
      if (takes_[area.layer] != Take::skip) addArea(area.polygon, takes_[area.layer], area.line, {});
    }
    if (without_ > 0) remark(fmt::format("{} points have no level and were left out.", without_));
    if (open_ > 0) remark(fmt::format("{} lines are open and were not taken as outlines.", open_));
    if (data_.points.size() > rules_.cloud) thinCloud();
    if (!data_.points.empty() || !data_.breaklines.empty() || !data_.boundaries.empty() || !data_.voids.empty())
      taken_.sources.push_back({stemOf(imported_.file), std::move(data_)});
    for (const ImportedModel& m : imported_.models) takeModel(m);
    for (const ImportedRaster& r : imported_.rasters) takeRaster(r);
    if (taken_.sources.empty() && taken_.works.empty())
      throw Error("nothing of the file is taken", {imported_.file},
                  "say what its layers are taken as, or choose another file");
    return std::move(taken_);
  }

 private:
  plane::Vec3 moved(plane::Vec3 p) const { return {p.x - origin_.easting, p.y - origin_.northing, p.z}; }
  void remark(std::string text) { taken_.remarks.push_back(std::move(text)); }

  void takePoints() {
    for (std::size_t i = 0; i < imported_.points.size(); ++i) {
      const Take as = takes_[imported_.layerOf(i)];
      if (as != Take::points && as != Take::breaklines && as != Take::contours) continue;
      if (std::isnan(imported_.points[i].z)) {
        ++without_;
        continue;
      }
      data_.points.push_back(moved(imported_.points[i]));
      data_.codes.push_back(imported_.codes.empty() ? std::string() : imported_.codes[i]);
    }
    if (std::all_of(data_.codes.begin(), data_.codes.end(), [](const auto& c) { return c.empty(); }))
      data_.codes.clear();
  }

  void takeLine(const ImportedLine& line) {
    switch (takes_[line.layer]) {
      case Take::skip:
      case Take::faces:
        return;
      case Take::points:
        for (const auto& p : line.vertices) {
          if (std::isnan(p.z)) continue;
          data_.points.push_back(moved(p));
          if (!data_.codes.empty()) data_.codes.push_back({});
        }
        return;
      case Take::breaklines:
      case Take::contours: {
        ground::Breakline b;
        b.closed = line.closed;
        b.contour = takes_[line.layer] == Take::contours;
        for (const auto& p : line.vertices) b.vertices.push_back(moved(p));
        data_.breaklines.push_back(std::move(b));
        return;
      }
      case Take::boundary:
      case Take::voids:
      case Take::works:
        takeOutline(line);
    }
  }

  void takeOutline(const ImportedLine& line) {
    plane::Ring ring;
    for (const auto& p : line.vertices) ring.push_back(p.plan());
    if (!line.closed && ring.size() > 2 && plane::distance(ring.front(), ring.back()) > 1e-3) {
      ++open_;
      return;
    }
    if (!line.closed && ring.size() > 1) ring.pop_back();
    const double z = line.vertices.front().z;
    const bool level =
        z != 0 && std::all_of(line.vertices.begin(), line.vertices.end(), [&](const auto& p) { return p.z == z; });
    addArea({std::move(ring), {}}, takes_[line.layer], line.line, level ? std::optional(z) : std::nullopt);
  }

  void addArea(plane::Polygon polygon, Take as, long line, std::optional<double> level) {
    polygon = soundArea(std::move(polygon), imported_.file, line, origin_);
    if (as == Take::works) {
      taken_.works.push_back({std::move(polygon), level});
    } else {
      (as == Take::voids ? data_.voids : data_.boundaries).push_back(std::move(polygon));
    }
  }

  void thinCloud() {
    const std::size_t before = data_.points.size();
    const ground::Thinned thinned = ground::thin(data_.points.flat(), {}, rules_.tolerance, progress_);
    std::vector<plane::Vec3> points;
    std::vector<std::string> codes;
    for (const ground::Index i : thinned.kept) {
      points.push_back(data_.points[i]);
      if (!data_.codes.empty()) codes.push_back(data_.codes[i]);
    }
    data_.points = std::move(points);
    data_.codes = std::move(codes);
    remark(fmt::format("{} of {} points are enough to stay within {} m of all of them.", counted(data_.points.size()),
                       counted(before), formatNumber(rules_.tolerance, 3)));
  }

  void takeModel(const ImportedModel& m) {
    if (takes_[m.layer] == Take::skip || m.triangles.empty()) return;
    std::vector<plane::Vec3> points;
    points.reserve(m.points.size());
    for (const auto& p : m.points) points.push_back(moved(p));
    std::vector<ground::Triangle> triangles = m.triangles;
    const std::size_t leftOut = tidyModel(points, triangles);
    if (triangles.empty())
      throw Error("all faces of the surface stand upright or have no area",
                  {imported_.file, 0, imported_.layers[m.layer]}, "export it again");
    if (leftOut > 0) remark(fmt::format("{} faces without plan area were left out.", leftOut));
    addModel(m.layer, std::move(points), std::move(triangles));
  }

  void takeRaster(const ImportedRaster& r) {
    if (takes_[r.layer] == Take::skip) return;
    ground::Raster raster = r.raster;
    raster.first = raster.first - plane::Vec2{origin_.easting, origin_.northing};
    ground::TinParts parts;
    try {
      parts = ground::asTriangles(raster, rules_.tolerance, progress_);
    } catch (const Error& e) {
      throw Error(e.happened(), {imported_.file, 0, imported_.layers[r.layer]}, e.hint());
    }
    remark(fmt::format("{} cells became {} triangles, everywhere within {} m of the cells.", counted(r.figures.cells),
                       counted(parts.triangles.size()), formatNumber(rules_.tolerance, 3)));
    addModel(r.layer, std::move(parts.points), std::move(parts.triangles));
  }

  void addModel(LayerIndex layer, std::vector<plane::Vec3> points, std::vector<ground::Triangle> triangles) {
    project::SourceData model;
    model.modelPoints = std::move(points);
    model.modelTriangles = std::move(triangles);
    taken_.sources.push_back({imported_.layers[layer], std::move(model)});
  }

  static std::string counted(std::size_t n) { return formatNumber(static_cast<double>(n), 0); }

  const Imported& imported_;
  const std::span<const Take> takes_;
  const plane::Origin& origin_;
  const TakeRules& rules_;
  const Progress& progress_;
  Taken taken_;
  project::SourceData data_;  // of points and lines
  std::size_t without_ = 0, open_ = 0;
};

}  // namespace

Taken take(const Imported& imported, std::span<const Take> takes, const plane::Origin& origin, const TakeRules& rules,
           const Progress& progress) {
  return Taking(imported, takes, origin, rules, progress).all();
}

}  // namespace inselberg::exchange
