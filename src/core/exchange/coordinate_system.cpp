// PROJ behind one door.
#include "exchange/coordinate_system.h"

#include <fmt/format.h>
#include <proj.h>
#include <proj_experimental.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <limits>
#include <memory>
#include <sstream>
#include <tuple>

#include "base/error.h"
#include "base/lower_case.h"
#include "base/quantity.h"

namespace inselberg::exchange {
namespace {

constexpr double kEvenGrid = 0.02;  // m

struct DestroyContext {
  void operator()(PJ_CONTEXT* c) const { proj_context_destroy(c); }
};
struct DestroyObject {
  void operator()(PJ* p) const { proj_destroy(p); }
};
using Context = std::unique_ptr<PJ_CONTEXT, DestroyContext>;
using Object = std::unique_ptr<PJ, DestroyObject>;

Context quietContext() {
  Context context(proj_context_create());
  proj_context_set_enable_network(context.get(), 0);
  proj_log_level(context.get(), PJ_LOG_NONE);
  return context;
}

std::string textOf(const char* text) {
  return text ? text : "";
}

// The horizontal part of a system; null when it has none.
Object horizontal(PJ_CONTEXT* context, Object crs) {
  for (int depth = 0; crs && depth < 4; ++depth) {
    switch (proj_get_type(crs.get())) {
      case PJ_TYPE_PROJECTED_CRS:
      case PJ_TYPE_GEOGRAPHIC_2D_CRS:
        return crs;
      case PJ_TYPE_GEOGRAPHIC_3D_CRS:
        crs.reset(proj_crs_demote_to_2D(context, nullptr, crs.get()));
        break;
      case PJ_TYPE_COMPOUND_CRS:
        crs.reset(proj_crs_get_sub_crs(context, crs.get(), 0));
        break;
      case PJ_TYPE_BOUND_CRS:
        crs.reset(proj_get_source_crs(context, crs.get()));
        break;
      default:
        return nullptr;
    }
  }
  return nullptr;
}

std::string codeOf(const PJ* crs) {
  const std::string authority = textOf(proj_get_id_auth_name(crs, 0)), code = textOf(proj_get_id_code(crs, 0));
  return authority.empty() || code.empty() ? std::string() : authority + ":" + code;
}

// The code of a system that was only described: what it is without doubt the same as.
std::string identified(PJ_CONTEXT* context, const PJ* crs) {
  int* confidence = nullptr;
  PJ_OBJ_LIST* matches = proj_identify(context, crs, "EPSG", nullptr, &confidence);
  std::string code;
  if (matches && proj_list_get_count(matches) > 0 && confidence && confidence[0] >= 90) {
    const Object first(proj_list_get(context, matches, 0));
    if (first) code = codeOf(first.get());
  }
  proj_int_list_destroy(confidence);
  proj_list_destroy(matches);
  return code;
}

Object objectOf(PJ_CONTEXT* context, const std::string& definition) {
  if (definition.empty() || definition.size() > 100'000) return nullptr;
  const bool number =
      std::all_of(definition.begin(), definition.end(), [](unsigned char c) { return std::isdigit(c) != 0; });
  return horizontal(context, Object(proj_create(context, (number ? "EPSG:" + definition : definition).c_str())));
}

CoordinateSystem described(PJ_CONTEXT* context, const PJ* crs) {
  CoordinateSystem system;
  system.name = textOf(proj_get_name(crs));
  system.degrees = proj_get_type(crs) == PJ_TYPE_GEOGRAPHIC_2D_CRS;
  system.definition = codeOf(crs);
  if (system.definition.empty()) system.definition = identified(context, crs);
  if (system.definition.empty()) system.definition = textOf(proj_as_wkt(context, crs, PJ_WKT2_2019, nullptr));
  const char* area = nullptr;
  if (proj_get_area_of_use(context, crs, nullptr, nullptr, nullptr, nullptr, &area)) system.area = textOf(area);
  if (!system.degrees) {
    const Object axes(proj_crs_get_coordinate_system(context, crs));
    double factor = 1;
    if (axes &&
        proj_cs_get_axis_info(context, axes.get(), 0, nullptr, nullptr, nullptr, &factor, nullptr, nullptr, nullptr) &&
        factor > 0)
      system.metresPerUnit = factor;
  }
  return system;
}

// From one system to the other for lists of positions.
class Way {
 public:
  Way(const CoordinateSystem& from, const CoordinateSystem& to, const std::string& file)
      : from_(from), to_(to), file_(file), context_(quietContext()) {
    const Object a = objectOf(context_.get(), from.definition), b = objectOf(context_.get(), to.definition);
    Object way;
    if (a && b) way.reset(proj_create_crs_to_crs_from_pj(context_.get(), a.get(), b.get(), nullptr, nullptr));
    // Easting (or longitude) first, whatever the order of the system's own axes.
    if (way) way_.reset(proj_normalize_for_visualization(context_.get(), way.get()));
    if (!way_)
      throw Error(fmt::format("there is no way from {} to {}", from.text(), to.text()), {file},
                  "choose another coordinate system");
  }

  // In place; x and y `stride` bytes apart from one position to the next.
  void move(double* x, double* y, std::size_t stride, std::size_t n, PJ_DIRECTION direction = PJ_FWD) {
    if (n == 0) return;
    const CoordinateSystem& start = direction == PJ_FWD ? from_ : to_;
    const CoordinateSystem& end = direction == PJ_FWD ? to_ : from_;
    scale(x, y, stride, n, 1 / start.metresPerUnit);
    proj_trans_generic(way_.get(), direction, x, stride, n, y, stride, n, nullptr, 0, 0, nullptr, 0, 0);
    scale(x, y, stride, n, end.metresPerUnit);
    const Object used(proj_trans_get_last_used_operation(way_.get()));
    if (!used) return;
    if (textOf(proj_get_name(used.get())).find("Ballpark") != std::string::npos) rough_ = true;
    accuracy_ = std::max(accuracy_, proj_coordoperation_get_accuracy(context_.get(), used.get()));
  }
  void move(std::vector<plane::Vec3>& list, const Progress& progress) {
    constexpr std::size_t kAtOnce = 65536;
    for (std::size_t i = 0; i < list.size(); i += kAtOnce) {
      progress.check();
      const std::size_t n = std::min(kAtOnce, list.size() - i);
      move(&list[i].x, &list[i].y, sizeof(plane::Vec3), n);
      for (std::size_t k = i; k < i + n; ++k) require(list[k].plan());
    }
  }
  void move(plane::Ring& ring) {
    if (ring.empty()) return;
    move(&ring.front().x, &ring.front().y, sizeof(plane::Vec2), ring.size());
    for (const plane::Vec2 p : ring) require(p);
  }

  void require(plane::Vec2 p) const {
    if (std::abs(p.x) <= 1e9 && std::abs(p.y) <= 1e9) return;
    throw Error(fmt::format("a place of the file has none in {}", to_.text()), {file_},
                fmt::format("check that the file is in {}", from_.text()));
  }

  std::string exactness() const {
    if (rough_) return "no exact way is known here: the two datums are taken as one, which can be metres out";
    if (accuracy_ > 0) return fmt::format("exact to {} m", formatNumber(accuracy_, accuracy_ < 0.1 ? 3 : 1));
    return "exact";
  }

 private:
  static void scale(double* x, double* y, std::size_t stride, std::size_t n, double k) {
    if (k == 1) return;
    const std::size_t step = stride / sizeof(double);
    for (std::size_t i = 0; i < n; ++i) x[i * step] *= k, y[i * step] *= k;
  }

  const CoordinateSystem& from_;
  const CoordinateSystem& to_;
  const std::string& file_;
  Context context_;
  Object way_;
  double accuracy_ = 0;
  bool rough_ = false;
};

// The even grid nearest to the new places of a raster's cells.
struct EvenGrid {
  plane::Vec2 first, columnStep, rowStep;
  double error = 0;  // greatest distance, m
};

EvenGrid evenGrid(const ground::Raster& raster, Way& way) {
  // Five by five places over the whole raster, and the least squares through them.
  constexpr int kHalf = 2;
  const double width = static_cast<double>(raster.columns), height = static_cast<double>(raster.rows);
  plane::Ring places;
  for (int v = -kHalf; v <= kHalf; ++v) {
    for (int u = -kHalf; u <= kHalf; ++u) {
      const double c = (width - 1) / 2 + u * width / (2 * kHalf), r = (height - 1) / 2 + v * height / (2 * kHalf);
      places.push_back(raster.first + c * raster.columnStep + r * raster.rowStep);
    }
  }
  way.move(places);
  plane::Vec2 middle{}, along{}, down{};
  double squares = 0;
  std::size_t i = 0;
  for (int v = -kHalf; v <= kHalf; ++v) {
    for (int u = -kHalf; u <= kHalf; ++u, ++i) {
      middle = middle + places[i];
      along = along + static_cast<double>(u) * places[i];
      down = down + static_cast<double>(v) * places[i];
      squares += u * u;
    }
  }
  middle = (1.0 / static_cast<double>(i)) * middle;
  along = (1 / squares) * along;
  down = (1 / squares) * down;
  EvenGrid grid;
  grid.columnStep = (2 * kHalf / width) * along;
  grid.rowStep = (2 * kHalf / height) * down;
  grid.first = middle - ((width - 1) / 2) * grid.columnStep - ((height - 1) / 2) * grid.rowStep;
  i = 0;
  for (int v = -kHalf; v <= kHalf; ++v) {
    for (int u = -kHalf; u <= kHalf; ++u, ++i)
      grid.error = std::max(grid.error, plane::distance(places[i], middle + static_cast<double>(u) * along +
                                                                       static_cast<double>(v) * down));
  }
  return grid;
}

// The level at a place between cells' centres; not a number where there is none.
float levelBetween(const ground::Raster& raster, double column, double row) {
  const double c1 = static_cast<double>(raster.columns) - 1, r1 = static_cast<double>(raster.rows) - 1;
  if (!(column >= -0.5 && row >= -0.5 && column <= c1 + 0.5 && row <= r1 + 0.5))
    return std::numeric_limits<float>::quiet_NaN();
  column = std::clamp(column, 0.0, c1), row = std::clamp(row, 0.0, r1);
  const auto c = static_cast<std::size_t>(column), r = static_cast<std::size_t>(row);
  const std::size_t c2 = std::min(c + 1, raster.columns - 1), r2 = std::min(r + 1, raster.rows - 1);
  const double u = column - static_cast<double>(c), v = row - static_cast<double>(r);
  const double z = (1 - v) * ((1 - u) * raster.level(c, r) + u * raster.level(c2, r)) +
                   v * ((1 - u) * raster.level(c, r2) + u * raster.level(c2, r2));
  // Beside cells without a level, the nearest cell's.
  return std::isnan(z) ? raster.level(u < 0.5 ? c : c2, v < 0.5 ? r : r2) : static_cast<float>(z);
}

void sampleAnew(ground::Raster& raster, const EvenGrid& grid, Way& way, const std::string& file,
                const Progress& progress) {
  const double cell = std::sqrt(std::abs(plane::cross(grid.columnStep, grid.rowStep)));
  const double width = static_cast<double>(raster.columns), height = static_cast<double>(raster.rows);
  plane::Ring border;
  constexpr int kSide = 64;
  for (int i = 0; i <= kSide; ++i) {
    const double t = static_cast<double>(i) / kSide;
    for (const auto& [c, r] : {std::pair(t * width, 0.0), {t * width, height}, {0.0, t * height}, {width, t * height}})
      border.push_back(raster.first + (c - 0.5) * raster.columnStep + (r - 0.5) * raster.rowStep);
  }
  way.move(border);
  const plane::Box box = plane::boundsOf(border);
  ground::Raster out;
  const double columns = std::ceil(box.width() / cell), rows = std::ceil(box.height() / cell);
  if (!(columns >= 1 && rows >= 1 && columns * rows <= 1e9))
    throw Error("the raster is too large to be moved to another coordinate system", {file}, "cut out the site first");
  out.columns = static_cast<std::size_t>(columns), out.rows = static_cast<std::size_t>(rows);
  out.columnStep = {cell, 0}, out.rowStep = {0, -cell};
  out.first = {box.minX + cell / 2, box.maxY - cell / 2};
  out.levels.reserve(out.columns * out.rows);
  const double det = plane::cross(raster.columnStep, raster.rowStep);
  plane::Ring line(out.columns);
  for (std::size_t r = 0; r < out.rows; ++r) {
    if ((r & 63) == 0) progress.report("moving the raster", static_cast<double>(r) / static_cast<double>(out.rows));
    for (std::size_t c = 0; c < out.columns; ++c) line[c] = out.place(c, r);
    way.move(&line.front().x, &line.front().y, sizeof(plane::Vec2), line.size(), PJ_INV);
    for (const plane::Vec2 p : line) {
      const plane::Vec2 d = p - raster.first;
      out.levels.push_back(
          levelBetween(raster, plane::cross(d, raster.rowStep) / det, plane::cross(raster.columnStep, d) / det));
    }
  }
  raster = std::move(out);
}

}  // namespace

std::optional<CoordinateSystem> coordinateSystem(const std::string& definition) {
  const Context context = quietContext();
  const Object crs = objectOf(context.get(), definition);
  if (!crs) return std::nullopt;
  return described(context.get(), crs.get());
}

bool isOnPlane(const std::string& definition) {
  const auto system = definition.empty() ? std::nullopt : coordinateSystem(definition);
  return system && !system->degrees;
}

CoordinateSystem requireCoordinateSystem(const std::string& definition) {
  if (auto system = coordinateSystem(definition)) return std::move(*system);
  throw Error("the coordinate system \"" + definition.substr(0, 60) + "\" is not known",
              "give its code, like EPSG:25832");
}

namespace {

// Whether a word of the text begins so. Both in lower case.
bool hasWord(const std::string& text, const std::string& begins) {
  for (auto at = text.find(begins); at != std::string::npos; at = text.find(begins, at + 1)) {
    if (at == 0 || !std::isalnum(static_cast<unsigned char>(text[at - 1]))) return true;
  }
  return false;
}

bool hasWords(const std::string& text, const std::vector<std::string>& words) {
  return std::all_of(words.begin(), words.end(), [&](const std::string& w) { return hasWord(text, w); });
}

// A system of the library's list, as it is searched.
struct Listed {
  std::string code, number, name, words;  // lower case but for the code; `words` is all there is to find
  bool degrees = false, hasBounds = false;
  double west = 0, south = 0, east = 0, north = 0;  // degrees; west is more than east over the date line

  bool usedAt(plane::Vec2 at) const {
    const bool across = west > east, fromWest = at.x >= west, toEast = at.x <= east;
    return hasBounds && (across ? fromWest || toEast : fromWest && toEast) && at.y >= south && at.y <= north;
  }
  double extent() const { return (east - west + (east < west ? 360 : 0)) * (north - south); }
};

// Those in use, read once: reading takes longer than a search may.
const std::vector<Listed>& listed() {
  static const std::vector<Listed> all = [] {
    const Context context = quietContext();
    int n = 0;
    PROJ_CRS_INFO** list = proj_get_crs_info_list_from_database(context.get(), "EPSG", nullptr, &n);
    std::vector<Listed> kept;
    for (int i = 0; i < n; ++i) {
      const PROJ_CRS_INFO& info = *list[i];
      if (info.deprecated || (info.type != PJ_TYPE_PROJECTED_CRS && info.type != PJ_TYPE_GEOGRAPHIC_2D_CRS)) continue;
      Listed s;
      s.number = textOf(info.code);
      s.code = textOf(info.auth_name) + ":" + s.number;
      s.name = lowerCase(textOf(info.name));
      s.words = lowerCase(s.code) + " " + s.name + " " + lowerCase(textOf(info.area_name));
      s.degrees = info.type == PJ_TYPE_GEOGRAPHIC_2D_CRS;
      s.hasBounds = info.bbox_valid != 0;
      s.west = info.west_lon_degree, s.south = info.south_lat_degree;
      s.east = info.east_lon_degree, s.north = info.north_lat_degree;
      kept.push_back(std::move(s));
    }
    proj_crs_info_list_destroy(list);
    return kept;
  }();
  return all;
}

}  // namespace

std::vector<CoordinateSystem> findCoordinateSystems(const std::string& words, std::size_t most,
                                                    const std::optional<plane::Vec2>& at) {
  std::vector<std::string> wanted;
  std::istringstream parts(lowerCase(words));
  for (std::string word; parts >> word;) wanted.push_back(word);
  struct Found {
    const Listed* system;
    bool otherCode, elsewhere;  // not the very code; a word is not in the name
    double extent;              // 0 without a place
  };
  std::vector<Found> found;
  for (const Listed& s : listed()) {
    if ((at && !s.usedAt(*at)) || !hasWords(s.words, wanted)) continue;
    const bool exact = wanted.size() == 1 && (lowerCase(s.code) == wanted[0] || s.number == wanted[0]);
    found.push_back({&s, !exact, !hasWords(s.name, wanted), at ? s.extent() : 0});
  }
  std::ranges::sort(found, {}, [](const Found& f) {
    return std::tie(f.otherCode, f.system->degrees, f.elsewhere, f.extent, f.system->name);
  });
  if (found.size() > most) found.resize(most);
  const Context context = quietContext();
  std::vector<CoordinateSystem> systems;
  for (const Found& f : found) {
    if (const Object crs = objectOf(context.get(), f.system->code))
      systems.push_back(described(context.get(), crs.get()));
  }
  return systems;
}

void reproject(Imported& imported, const CoordinateSystem& from, const CoordinateSystem& to, const Progress& progress) {
  imported.system = to.definition;
  if (from.definition == to.definition) return;
  Way way(from, to, imported.file);
  progress.report("moving to another coordinate system", 0);
  way.move(imported.points, progress);
  for (auto& line : imported.lines) way.move(line.vertices, progress);
  for (auto& model : imported.models) way.move(model.points, progress);
  for (auto& area : imported.areas) {
    way.move(area.polygon.outer);
    for (auto& hole : area.polygon.holes) way.move(hole);
  }
  std::string sampled;
  for (auto& r : imported.rasters) {
    const EvenGrid grid = evenGrid(r.raster, way);
    if (grid.error <= kEvenGrid) {
      r.raster.first = grid.first, r.raster.columnStep = grid.columnStep, r.raster.rowStep = grid.rowStep;
    } else {
      sampleAnew(r.raster, grid, way, imported.file, progress);
      sampled = fmt::format("; its raster was sampled anew on cells of {} m", formatNumber(r.raster.columnStep.x, 2));
    }
    r.look();
  }
  imported.remarks.push_back(fmt::format("Moved from {} to {} ({}); levels as they were{}.", from.text(), to.text(),
                                         way.exactness(), sampled));
}

std::optional<CoordinateSystem> writtenSystem(const Georeference& place) {
  if (place.system.empty()) return std::nullopt;
  auto system = coordinateSystem(place.system);
  if (!system || system->degrees || system->metresPerUnit != 1 || !system->definition.starts_with("EPSG:"))
    return std::nullopt;
  return system;
}

bool couldBeDegrees(const Imported& imported) {
  const plane::Box box = imported.bounds();
  return !box.empty() && box.minX >= -180 && box.maxX <= 360 && box.minY >= -90 && box.maxY <= 90;
}

bool looksLikeDegrees(const Imported& imported) {
  const plane::Box box = imported.bounds();
  return couldBeDegrees(imported) && std::max(box.width(), box.height()) < 10;
}

}  // namespace inselberg::exchange
