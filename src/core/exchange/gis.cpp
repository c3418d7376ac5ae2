// GDAL behind one door. Its messages are caught and told as ours, its drivers are named one by one (so that no file
// makes it look elsewhere), and nothing it does reaches the network.
#include "exchange/gis.h"

#include <cpl_conv.h>
#include <cpl_error.h>
#include <cpl_string.h>
#include <cpl_vsi.h>
#include <fmt/format.h>
#include <gdal.h>
#include <ogr_api.h>
#include <ogr_srs_api.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <memory>
#include <mutex>

#include "base/database.h"
#include "base/error.h"
#include "base/lower_case.h"
#include "base/whole_file.h"
#include "exchange/areas_or_faces.h"
#include "exchange/spot_levels.h"
#include "exchange/text_file.h"

namespace inselberg::exchange {
namespace {

constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();
constexpr double kMostCells = 4e8;
// What a packed file can hold at most, for each of its bytes (the limit of the usual way of packing), and what is small
// enough not to ask.
constexpr double kMostUnpacked = 1100, kSmall = 4e6;
// A spreadsheet that unpacks to more than this for each of its bytes was made to break its readers.
constexpr double kMostSheet = 200;

// The library's last message of this thread, caught while in scope.
class Messages {
 public:
  Messages() {
    static std::once_flag once;
    std::call_once(once, [] { GDALAllRegister(); });
    CPLPushErrorHandlerEx(&Messages::take, this);
  }
  ~Messages() { CPLPopErrorHandler(); }
  Messages(const Messages&) = delete;
  Messages& operator=(const Messages&) = delete;

  bool any() const { return !text_.empty(); }
  std::string text() const { return text_.empty() ? "its content is not as expected" : text_; }

 private:
  static void CPL_STDCALL take(CPLErr kind, CPLErrorNum, const char* text) {
    auto* self = static_cast<Messages*>(CPLGetErrorHandlerUserData());
    if (kind >= CE_Failure && self->text_.empty()) self->text_ = text;
  }
  std::string text_;
};

struct Option {
  Option(const char* name, const char* value) : name_(name) { CPLSetThreadLocalConfigOption(name, value); }
  ~Option() { CPLSetThreadLocalConfigOption(name_, nullptr); }
  Option(const Option&) = delete;
  Option& operator=(const Option&) = delete;
  const char* name_;
};

struct CloseDataset {
  void operator()(GDALDatasetH d) const { GDALClose(d); }
};
using Dataset = std::unique_ptr<void, CloseDataset>;

// Opens a file that is there, with one of the drivers only. Throws Error.
Dataset openWith(const std::string& path, unsigned kind, std::initializer_list<const char*> drivers,
                 const Messages& messages, const char* what, const char* const* options = nullptr) {
  readBytesAhead(path, 1);  // tells missing, folder, unreadable and empty apart
  std::vector<const char*> names(drivers);
  names.push_back(nullptr);
  Dataset dataset(
      GDALOpenEx(path.c_str(), kind | GDAL_OF_READONLY | GDAL_OF_VERBOSE_ERROR, names.data(), options, nullptr));
  if (!dataset)
    throw Error(fmt::format("this cannot be read as {}: {}", what, messages.text()), {path}, "export it again");
  return dataset;
}

struct DestroyFeature {
  void operator()(OGRFeatureH f) const { OGR_F_Destroy(f); }
};
struct DestroyGeometry {
  void operator()(OGRGeometryH g) const { OGR_G_DestroyGeometry(g); }
};

const char* textOr(const char* text, const char* otherwise) {
  return text ? text : otherwise;
}

// The description of a coordinate system as a text; empty for none.
std::string definitionOf(OGRSpatialReferenceH reference) {
  // GeoPackages without a system have one of these names.
  if (!reference || std::string_view(textOr(OSRGetName(reference), "")).starts_with("Undefined")) return {};
  char* text = nullptr;
  const char* options[] = {"FORMAT=WKT2_2019", nullptr};
  std::string definition;
  if (OSRExportToWktEx(reference, &text, options) == OGRERR_NONE && text) definition = text;
  CPLFree(text);
  return definition;
}

struct DestroyReference {
  void operator()(OGRSpatialReferenceH r) const { OSRDestroySpatialReference(r); }
};
using Reference = std::unique_ptr<std::remove_pointer_t<OGRSpatialReferenceH>, DestroyReference>;

// The system to write; one on a plane of its own where none is known.
Reference referenceOf(const Georeference& place) {
  const auto known = writtenSystem(place);
  Reference reference(OSRNewSpatialReference(nullptr));
  if (!known || OSRSetFromUserInput(reference.get(), known->definition.c_str()) != OGRERR_NONE) {
    OSRSetLocalCS(reference.get(), "Undefined Cartesian SRS");
    OSRSetLinearUnits(reference.get(), "metre", 1);
  }
  OSRSetAxisMappingStrategy(reference.get(), OAMS_TRADITIONAL_GIS_ORDER);
  return reference;
}

// Throws Error when a layer of a GeoPackage is no plain table: a view may have no end, and the library would follow it.
void requirePlainTables(const std::string& path) {
  if (!readBytesAhead(path, 16).starts_with("SQLite format 3")) return;  // the library says what is wrong with it
  Database database(path, Database::Mode::read);
  Statement views(database, "SELECT name FROM sqlite_master WHERE type='view' AND lower(name) LIKE 'gpkg%'");
  if (views.step())
    throw Error("the table " + views.text(0) + " is a view, which a GeoPackage may not have", {path},
                "export it again");
  database.requireTables({"gpkg_contents"});
  Statement layers(database, "SELECT table_name FROM gpkg_contents WHERE data_type IN ('features', 'attributes')");
  while (layers.step()) database.requireTables({layers.text(0).c_str()});
}

// Throws Error unless the files that belong to a Shapefile are ordinary ones.
void requireOrdinarySides(const std::string& path) {
  for (const char* ending : {".shx", ".dbf", ".prj", ".cpg", ".SHX", ".DBF", ".PRJ", ".CPG"}) {
    const std::string side = path.substr(0, path.find_last_of('.')) + ending;
    struct stat info;
    if (::stat(side.c_str(), &info) == 0 && !S_ISREG(info.st_mode))
      throw Error("this is no ordinary file", {side}, "copy the Shapefile with all its parts");
  }
}

class VectorReader {
 public:
  VectorReader(const std::string& path, const std::optional<std::string>& levelField, const Progress& progress)
      : levelField_(levelField), progress_(progress) {
    out_.file = path;
    out_.format = path.ends_with("shp") || path.ends_with("SHP") ? "Shapefile" : "GeoPackage";
  }

  Imported read() {
    const Messages messages;
    const bool shape = out_.format == "Shapefile";
    if (shape) {
      requireOrdinarySides(out_.file);
    } else {
      requirePlainTables(out_.file);
    }
    const char* const asItIs[] = {"LIST_ALL_TABLES=NO", "IMMUTABLE=YES", nullptr};
    const Dataset dataset = shape ? openWith(out_.file, GDAL_OF_VECTOR, {"ESRI Shapefile"}, messages, "a Shapefile")
                                  : openWith(out_.file, GDAL_OF_VECTOR, {"GPKG"}, messages, "a GeoPackage", asItIs);
    const int layers = GDALDatasetGetLayerCount(dataset.get());
    for (int i = 0; i < layers; ++i) layer(GDALDatasetGetLayer(dataset.get(), i));
    if (out_.empty()) throw Error("there is no point, line or area in the file", {out_.file}, "choose another file");
    if (without_ > 0) out_.remarks.push_back(fmt::format("{} features have no geometry of use.", without_));
    if (byField_ > 0)
      out_.remarks.push_back(
          fmt::format("{} features have their level from the attribute \"{}\".", byField_, fieldUsed_));
    return std::move(out_);
  }

 private:
  void layer(OGRLayerH source) {
    if (!source) return;
    if (std::string told = definitionOf(OGR_L_GetSpatialRef(source)); !told.empty()) {
      if (!out_.system.empty() && out_.system != told)
        throw Error("the layers are in different coordinate systems", {out_.file}, "export them in one");
      out_.system = std::move(told);
    }
    layer_ = out_.layerNamed(OGR_L_GetName(source));
    OGRFeatureDefnH form = OGR_L_GetLayerDefn(source);
    field_ = -1;
    for (int f = 0; f < OGR_FD_GetFieldCount(form); ++f) {
      OGRFieldDefnH field = OGR_FD_GetFieldDefn(form, f);
      const std::string name = OGR_Fld_GetNameRef(field);
      const OGRFieldType type = OGR_Fld_GetType(field);
      if ((type == OFTReal || type == OFTInteger || type == OFTInteger64) &&
          std::find(out_.attributes.begin(), out_.attributes.end(), name) == out_.attributes.end())
        out_.attributes.push_back(name);
      if (levelField_ ? name == *levelField_ : field_ < 0 && isLevelName(name)) field_ = f, fieldUsed_ = name;
    }
    OGR_L_ResetReading(source);
    std::size_t n = 0;
    while (true) {
      const std::unique_ptr<void, DestroyFeature> feature(OGR_L_GetNextFeature(source));
      if (!feature) break;
      if ((++n & 0xff) == 0) progress_.check();
      feature_ = feature.get();
      OGRGeometryH geometry = OGR_F_GetGeometryRef(feature.get());
      if (!geometry || !take(geometry, 0)) ++without_;
    }
    areas_.finish(layer_, out_);
  }

  // The level by the attribute.
  double fieldLevel() {
    if (field_ < 0 || !OGR_F_IsFieldSetAndNotNull(feature_, field_)) return kNaN;
    const double z = OGR_F_GetFieldAsDouble(feature_, field_);
    if (!(std::abs(z) <= 1e5)) return kNaN;
    ++byField_;
    return z;
  }

  std::vector<plane::Vec3> positions(OGRGeometryH g) {
    const int n = OGR_G_GetPointCount(g);
    const bool has = OGR_G_Is3D(g) != 0;
    const double level = has && !levelField_ ? kNaN : fieldLevel();
    const bool fixed = levelField_ && !std::isnan(level);
    std::vector<plane::Vec3> list;
    list.reserve(static_cast<std::size_t>(std::max(n, 0)));
    for (int i = 0; i < n; ++i) {
      const plane::Vec3 p{OGR_G_GetX(g, i), OGR_G_GetY(g, i), has && !fixed ? OGR_G_GetZ(g, i) : level};
      if (!(std::abs(p.x) <= 1e9 && std::abs(p.y) <= 1e9))
        throw Error("a coordinate is out of range", {out_.file}, "export it again");
      list.push_back(p);
      // Some writers mark a level that is not there with a very low number.
      if (!(std::abs(list.back().z) <= 1e5)) list.back().z = kNaN;
    }
    return list;
  }

  bool take(OGRGeometryH g, int depth) {
    if (depth > 8) return false;
    if (OGR_G_HasCurveGeometry(g, 0)) {
      const std::unique_ptr<void, DestroyGeometry> straight(OGR_G_GetLinearGeometry(g, 0, nullptr));
      return straight && take(straight.get(), depth + 1);
    }
    switch (wkbFlatten(OGR_G_GetGeometryType(g))) {
      case wkbPoint: {
        const auto p = positions(g);
        if (p.empty()) return false;
        out_.points.push_back(p.front());
        out_.pointLayers.push_back(layer_);
        return true;
      }
      case wkbLineString: {
        ImportedLine line{positions(g), false, layer_, 0};
        if (line.vertices.size() < 2) return false;
        if (line.vertices.size() > 3 && line.vertices.front() == line.vertices.back())
          line.vertices.pop_back(), line.closed = true;
        out_.lines.push_back(std::move(line));
        return true;
      }
      case wkbTriangle:
      case wkbPolygon: {
        std::vector<std::vector<plane::Vec3>> rings;
        for (int r = 0; r < OGR_G_GetGeometryCount(g); ++r) rings.push_back(positions(OGR_G_GetGeometryRef(g, r)));
        if (rings.empty() || rings.front().size() < 3) return false;
        areas_.add(rings, 0);
        return true;
      }
      default: {
        bool any = false;
        for (int i = 0; i < OGR_G_GetGeometryCount(g); ++i) any |= take(OGR_G_GetGeometryRef(g, i), depth + 1);
        return any;
      }
    }
  }

  Imported out_;
  std::optional<std::string> levelField_;
  const Progress& progress_;
  LayerIndex layer_ = 0;
  OGRFeatureH feature_ = nullptr;
  int field_ = -1;
  std::string fieldUsed_;
  std::size_t without_ = 0, byField_ = 0;
  AreasOrFaces areas_;
};

}  // namespace

Imported readVector(const std::string& path, const std::optional<std::string>& levelField, const Progress& progress) {
  return VectorReader(path, levelField, progress).read();
}

namespace {

// The description beside an ASCII grid, in a file of its name that ends in .prj; empty when there is none.
std::string besideGrid(const std::string& path) {
  const std::string beside = path.substr(0, path.find_last_of('.')) + ".prj";
  struct stat info;
  if (::stat(beside.c_str(), &info) != 0 || !S_ISREG(info.st_mode) || info.st_size > 100'000 || info.st_size == 0)
    return {};
  return readText(beside);
}

}  // namespace

Imported readRaster(const std::string& path, const Progress& progress) {
  const Messages messages;
  const Option noSidecars("GDAL_DISABLE_READDIR_ON_OPEN", "EMPTY_DIR");
  const Dataset dataset = openWith(path, GDAL_OF_RASTER, {"GTiff", "AAIGrid"}, messages, "a raster");
  Imported out;
  out.file = path;
  const std::string driver = GDALGetDriverShortName(GDALGetDatasetDriver(dataset.get()));
  out.format = driver == "GTiff" ? "GeoTIFF" : "ASCII grid";
  out.layers.push_back(stemOf(path));
  std::array<double, 6> t{};
  if (GDALGetGeoTransform(dataset.get(), t.data()) != CE_None)
    throw Error("the raster does not say where it lies", {path}, "export it with its place (georeferenced)");
  ground::Raster raster;
  const int columns = GDALGetRasterXSize(dataset.get()), rows = GDALGetRasterYSize(dataset.get());
  if (columns < 1 || rows < 1 || static_cast<double>(columns) * rows > kMostCells)
    throw Error(fmt::format("the raster has {} by {} cells, more than can be taken at once", columns, rows), {path},
                "cut out the site, or make the cells larger");
  struct stat info;
  const double bytes = ::stat(path.c_str(), &info) == 0 ? static_cast<double>(info.st_size) : 0;
  if (sizeof(float) * static_cast<double>(columns) * rows > kMostUnpacked * bytes + kSmall)
    throw Error(
        fmt::format("the raster says it has {} by {} cells, more than its {} bytes can hold", columns, rows, bytes),
        {path}, "copy or export it again");
  const double det = t[1] * t[5] - t[2] * t[4];
  for (const double v : t) {
    if (!(std::abs(v) <= 1e9)) throw Error("the place of the raster is out of range", {path}, "export it again");
  }
  if (!(std::abs(det) > 0)) throw Error("the raster's cells have no area", {path}, "export it again");
  raster.columns = static_cast<std::size_t>(columns), raster.rows = static_cast<std::size_t>(rows);
  raster.columnStep = {t[1], t[4]};
  raster.rowStep = {t[2], t[5]};
  raster.first = plane::Vec2{t[0], t[3]} + 0.5 * raster.columnStep + 0.5 * raster.rowStep;
  GDALRasterBandH band = GDALGetRasterBand(dataset.get(), 1);
  if (!band) throw Error("the raster has no band", {path}, "export it again");
  int hasNoData = 0, known = 0;
  const double noData = GDALGetRasterNoDataValue(band, &hasNoData);
  double scale = GDALGetRasterScale(band, &known);
  if (!known || scale == 0) scale = 1;
  double offset = GDALGetRasterOffset(band, &known);
  if (!known) offset = 0;
  raster.levels.reserve(raster.columns * raster.rows);
  std::vector<double> line(raster.columns);
  for (std::size_t r = 0; r < raster.rows; ++r) {
    if ((r & 63) == 0) progress.report("reading the raster", static_cast<double>(r) / static_cast<double>(raster.rows));
    if (GDALRasterIO(band, GF_Read, 0, static_cast<int>(r), columns, 1, line.data(), columns, 1, GDT_Float64, 0, 0) !=
        CE_None)
      throw Error("the raster breaks off: " + messages.text(), {path}, "copy or export it again");
    for (const double v : line) {
      const bool none = std::isnan(v) || (hasNoData && (v == noData || std::abs(v - noData) < 1e-9 * std::abs(noData)));
      const double z = v * scale + offset;
      raster.levels.push_back(none || !(std::abs(z) <= 1e5) ? std::numeric_limits<float>::quiet_NaN()
                                                            : static_cast<float>(z));
    }
  }
  ImportedRaster& made = out.rasters.emplace_back();
  made.raster = std::move(raster);
  made.look();
  if (made.figures.cells == 0) throw Error("no cell of the raster has data", {path}, "choose another file");
  out.unitsDeclared = false;
  out.system = definitionOf(GDALGetSpatialRef(dataset.get()));
  if (out.system.empty() && driver == "AAIGrid") out.system = besideGrid(path);
  return out;
}

namespace {

// Throws Error when the packed file would unpack to something out of all proportion.
void requireModest(const std::string& path) {
  readBytesAhead(path, 1);
  struct stat info;
  if (::stat(path.c_str(), &info) != 0) return;
  const std::string inside = "/vsizip/{" + path + "}";
  double unpacked = 0;
  char** names = VSIReadDirRecursive(inside.c_str());
  for (int i = 0; i < CSLCount(names); ++i) {
    VSIStatBufL entry;
    if (VSIStatL((inside + "/" + names[i]).c_str(), &entry) == 0) unpacked += static_cast<double>(entry.st_size);
  }
  CSLDestroy(names);
  if (unpacked > kMostSheet * static_cast<double>(info.st_size) + kSmall)
    throw Error(fmt::format("the spreadsheet unpacks to {:.0f} MB, out of all proportion to its size", unpacked / 1e6),
                {path}, "save it again, with its points only");
}

}  // namespace

std::vector<Sheet> readSheetRows(const std::string& path, const Progress& progress) {
  const Messages messages;
  requireModest(path);
  const Option headers("OGR_XLSX_HEADERS", "DISABLE"), types("OGR_XLSX_FIELD_TYPES", "STRING");
  const Option odsHeaders("OGR_ODS_HEADERS", "DISABLE"), odsTypes("OGR_ODS_FIELD_TYPES", "STRING");
  const Dataset dataset = openWith(path, GDAL_OF_VECTOR, {"XLSX", "ODS"}, messages, "a spreadsheet");
  std::vector<Sheet> sheets;
  for (int i = 0; i < GDALDatasetGetLayerCount(dataset.get()); ++i) {
    OGRLayerH layer = GDALDatasetGetLayer(dataset.get(), i);
    if (!layer) continue;
    Sheet& sheet = sheets.emplace_back();
    sheet.name = OGR_L_GetName(layer);
    OGR_L_ResetReading(layer);
    long line = 0;
    while (true) {
      const std::unique_ptr<void, DestroyFeature> feature(OGR_L_GetNextFeature(layer));
      if (!feature) break;
      if ((++line & 0xff) == 0) progress.check();
      SheetRow row{line, {}};
      const int n = OGR_F_GetFieldCount(feature.get());
      for (int f = 0; f < n; ++f)
        row.cells.emplace_back(OGR_F_IsFieldSetAndNotNull(feature.get(), f) ? OGR_F_GetFieldAsString(feature.get(), f)
                                                                            : "");
      while (!row.cells.empty() && row.cells.back().empty()) row.cells.pop_back();
      sheet.rows.push_back(std::move(row));
    }
  }
  return sheets;
}

void writeRaster(const ground::Raster& raster, const Georeference& place, const std::string& path) {
  const plane::Origin& origin = place.origin;
  const bool tiff = !lowerCase(path).ends_with(".asc");
  const plane::Vec2 corner = raster.first - 0.5 * raster.columnStep - 0.5 * raster.rowStep;
  constexpr float kNoData = -9999;
  const int columns = static_cast<int>(raster.columns), rows = static_cast<int>(raster.rows);
  if (!tiff) {
    std::string out =
        fmt::format("ncols {}\nnrows {}\nxllcorner {}\nyllcorner {}\ncellsize {}\nNODATA_value -9999\n", columns, rows,
                    corner.x + origin.easting,
                    corner.y + origin.northing + static_cast<double>(rows) * raster.rowStep.y, raster.columnStep.x);
    for (std::size_t r = 0; r < raster.rows; ++r) {
      for (std::size_t c = 0; c < raster.columns; ++c) {
        const float z = raster.level(c, r);
        fmt::format_to(std::back_inserter(out), "{}{}", c ? " " : "", std::isnan(z) ? kNoData : z);
      }
      out += '\n';
    }
    writeWhole(path, out);
    return;
  }
  writeBeside(path, "", [&](const std::string& part) {
    const Messages messages;
    const auto fail = [&] {
      throw Error("the raster cannot be written: " + messages.text(), {path}, "check the place and the disk");
    };
    const char* options[] = {"COMPRESS=DEFLATE", "PREDICTOR=3", "TILED=YES", nullptr};
    Dataset dataset(GDALCreate(GDALGetDriverByName("GTiff"), part.c_str(), columns, rows, 1, GDT_Float32,
                               const_cast<char**>(options)));
    if (!dataset) fail();
    std::array<double, 6> t{corner.x + origin.easting,  raster.columnStep.x, raster.rowStep.x,
                            corner.y + origin.northing, raster.columnStep.y, raster.rowStep.y};
    GDALSetGeoTransform(dataset.get(), t.data());
    if (writtenSystem(place)) GDALSetSpatialRef(dataset.get(), referenceOf(place).get());
    GDALRasterBandH band = GDALGetRasterBand(dataset.get(), 1);
    GDALSetRasterNoDataValue(band, kNoData);
    std::vector<float> line(raster.columns);
    for (std::size_t r = 0; r < raster.rows; ++r) {
      for (std::size_t c = 0; c < raster.columns; ++c)
        line[c] = std::isnan(raster.level(c, r)) ? kNoData : raster.level(c, r);
      if (GDALRasterIO(band, GF_Write, 0, static_cast<int>(r), columns, 1, line.data(), columns, 1, GDT_Float32, 0,
                       0) != CE_None)
        fail();
    }
    dataset.reset();  // the last of it is written at closing
    if (messages.any()) fail();
  });
}

void writeGeoPackage(const ground::Tin& tin, const Georeference& place, const std::string& name,
                     const std::string& path) {
  const plane::Origin& origin = place.origin;
  writeBeside(path, ".gpkg", [&](const std::string& part) {
    const Messages messages;
    const auto fail = [&] {
      throw Error("the GeoPackage cannot be written: " + messages.text(), {path}, "check the place and the disk");
    };
    Dataset dataset(GDALCreate(GDALGetDriverByName("GPKG"), part.c_str(), 0, 0, 0, GDT_Unknown, nullptr));
    if (!dataset) fail();
    GDALDatasetStartTransaction(dataset.get(), FALSE);
    const auto add = [&](OGRLayerH layer, OGRGeometryH geometry) {
      const std::unique_ptr<void, DestroyFeature> feature(OGR_F_Create(OGR_L_GetLayerDefn(layer)));
      OGR_F_SetGeometryDirectly(feature.get(), geometry);
      if (OGR_L_CreateFeature(layer, feature.get()) != OGRERR_NONE) fail();
    };
    const auto east = [&](const plane::Vec3& p) { return p.x + origin.easting; };
    const auto north = [&](const plane::Vec3& p) { return p.y + origin.northing; };
    const Reference reference = referenceOf(place);
    OGRLayerH faces = GDALDatasetCreateLayer(dataset.get(), name.c_str(), reference.get(), wkbPolygon25D, nullptr);
    OGRLayerH points =
        GDALDatasetCreateLayer(dataset.get(), (name + " points").c_str(), reference.get(), wkbPoint25D, nullptr);
    if (!faces || !points) fail();
    for (ground::Index t = 0; t < tin.triangles().size(); ++t) {
      OGRGeometryH ring = OGR_G_CreateGeometry(wkbLinearRing), polygon = OGR_G_CreateGeometry(wkbPolygon25D);
      const auto corners = tin.corners(t);
      for (std::size_t k = 0; k < 4; ++k)
        OGR_G_AddPoint(ring, east(corners[k % 3]), north(corners[k % 3]), corners[k % 3].z);
      OGR_G_AddGeometryDirectly(polygon, ring);
      add(faces, polygon);
    }
    for (const plane::Vec3& p : tin.points()) {
      OGRGeometryH point = OGR_G_CreateGeometry(wkbPoint25D);
      OGR_G_SetPoint(point, 0, east(p), north(p), p.z);
      add(points, point);
    }
    if (GDALDatasetCommitTransaction(dataset.get()) != OGRERR_NONE) fail();
    dataset.reset();
    if (messages.any()) fail();
    // The library leaves its journal's remains beside the file.
    for (const char* rest : {"-wal", "-shm", "-journal"}) ::unlink((part + rest).c_str());
  });
}

}  // namespace inselberg::exchange
