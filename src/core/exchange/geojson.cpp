#include "exchange/geojson.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>

#include "base/error.h"
#include "exchange/areas_or_faces.h"
#include "exchange/json_tree.h"
#include "exchange/spot_levels.h"
#include "exchange/text_file.h"

namespace inselberg::exchange {
namespace {

using Kind = JsonValue::Kind;
constexpr std::size_t kMostAttributes = 100;

class Reader {
 public:
  Reader(const std::string& path, const std::optional<std::string>& levelField) : levelField_(levelField) {
    out_.file = path;
    out_.format = "GeoJSON";
  }

  Imported read() {
    const JsonValue root = parseJson(readText(out_.file), out_.file);
    const JsonValue* name = root.find("name");
    out_.layers.push_back(name && name->kind == Kind::text && !name->text.empty() ? name->text : stemOf(out_.file));
    // The member of the older standard; the present one has none and means degrees.
    if (const JsonValue* crs = root.find("crs")) {
      const JsonValue* properties = crs->find("properties");
      const JsonValue* told = properties ? properties->find("name") : nullptr;
      if (told && told->kind == Kind::text) out_.system = told->text;
    }
    object(root);
    areas_.finish(0, out_);
    if (out_.empty()) requireClean(out_);
    return std::move(out_);
  }

 private:
  [[noreturn]] void fail(const JsonValue& at, std::string what, std::string hint) const {
    throw Error(std::move(what), {out_.file, at.line}, std::move(hint));
  }

  void object(const JsonValue& value) {
    const JsonValue* type = value.find("type");
    if (!type || type->kind != Kind::text)
      fail(value, "this is not GeoJSON: an object has no \"type\"", "export it as GeoJSON");
    if (type->text == "FeatureCollection") {
      for (const JsonValue& f : list(value, "features").items) {
        // What is wrong with one feature leaves that one out.
        try {
          object(f);
        } catch (const Error& e) {
          out_.leaveOut(e, 0);
        }
      }
    } else if (type->text == "Feature") {
      const JsonValue* geometry = value.find("geometry");
      property_ = levelProperty(value);
      if (!geometry) fail(value, "a feature has no geometry", "remove it or give it one");
      if (geometry->kind != Kind::null) object(*geometry);
    } else if (type->text == "GeometryCollection") {
      for (const JsonValue& g : list(value, "geometries").items) object(g);
    } else {
      geometry(type->text, list(value, "coordinates"), *type);
    }
  }

  const JsonValue& list(const JsonValue& value, const char* name) const {
    const JsonValue* found = value.find(name);
    if (!found || found->kind != Kind::list)
      fail(value, fmt::format("\"{}\" is missing or no list", name), "export it again as GeoJSON");
    return *found;
  }

  void geometry(const std::string& type, const JsonValue& c, const JsonValue& at) {
    if (type == "Point") {
      point(c);
    } else if (type == "MultiPoint") {
      for (const JsonValue& p : c.items) point(p);
    } else if (type == "LineString") {
      line(c);
    } else if (type == "MultiLineString") {
      for (const JsonValue& l : c.items) line(l);
    } else if (type == "Polygon") {
      area(c);
    } else if (type == "MultiPolygon") {
      for (const JsonValue& a : c.items) area(a);
    } else {
      fail(at, "\"" + type.substr(0, 40) + "\" is not a kind of geometry", "use Point, LineString or Polygon");
    }
  }

  double levelProperty(const JsonValue& feature) {
    double level = std::numeric_limits<double>::quiet_NaN();
    if (const JsonValue* properties = feature.find("properties")) {
      for (const auto& [name, value] : properties->members) {
        if (value.kind != Kind::number) continue;
        if (out_.attributes.size() < kMostAttributes &&
            std::find(out_.attributes.begin(), out_.attributes.end(), name) == out_.attributes.end())
          out_.attributes.push_back(name);
        if (std::isnan(level) && std::abs(value.number) <= 1e5 &&
            (levelField_ ? name == *levelField_ : isLevelName(name)))
          level = value.number;
      }
    }
    return level;
  }

  plane::Vec3 position(const JsonValue& p) const {
    if (p.kind != Kind::list || p.items.size() < 2)
      fail(p, "a position needs two or three numbers", "write it as [easting, northing, level]");
    double v[3] = {0, 0, property_};
    const bool fixed = levelField_ && !std::isnan(property_);
    for (std::size_t i = 0; i < std::min<std::size_t>(3, p.items.size()); ++i) {
      if (p.items[i].kind != Kind::number || !(std::abs(p.items[i].number) <= 1e8)) {
        fail(p.items[i], "a coordinate is not a usable number", "correct it: metres as a plain number");
      }
      if (i < 2 || !fixed) v[i] = p.items[i].number;
    }
    return {v[0], v[1], v[2]};
  }

  std::vector<plane::Vec3> positions(const JsonValue& c) const {
    if (c.kind != Kind::list) fail(c, "coordinates are no list", "export it again as GeoJSON");
    std::vector<plane::Vec3> all;
    for (const JsonValue& p : c.items) all.push_back(position(p));
    return all;
  }

  void point(const JsonValue& c) {
    const plane::Vec3 p = position(c);
    if (std::isnan(p.z)) fail(c, "a point has no level", "give it a third coordinate");
    out_.points.push_back(p);
    out_.pointLines.push_back(c.line);
  }

  void line(const JsonValue& c) {
    ImportedLine l{positions(c), false, 0, c.line};
    if (l.vertices.size() < 2) fail(c, "a line has fewer than two positions", "remove it or complete it");
    if (l.vertices.size() > 3 && l.vertices.front() == l.vertices.back()) l.vertices.pop_back(), l.closed = true;
    out_.lines.push_back(std::move(l));
  }

  void area(const JsonValue& c) {
    if (c.kind != Kind::list || c.items.empty()) fail(c, "a polygon has no ring", "remove it or complete it");
    std::vector<std::vector<plane::Vec3>> rings;
    for (const JsonValue& ring : c.items) rings.push_back(positions(ring));
    areas_.add(rings, c.line);
  }

  const std::optional<std::string>& levelField_;
  AreasOrFaces areas_;
  double property_ = std::numeric_limits<double>::quiet_NaN();  // the feature's level, for positions without one
  Imported out_;
};

}  // namespace

Imported readGeoJson(const std::string& path, const std::optional<std::string>& levelField) {
  return Reader(path, levelField).read();
}

std::string systemMember(const Georeference& place) {
  const auto system = writtenSystem(place);
  return system ? fmt::format("\"crs\":{{\"type\":\"name\",\"properties\":{{\"name\":\"urn:ogc:def:crs:EPSG::{}\"}}}},",
                              system->definition.substr(5))
                : std::string();
}

std::string contoursToGeoJson(std::span<const ground::Contour> contours, const Georeference& place) {
  const plane::Origin& origin = place.origin;
  std::string out = "{\"type\":\"FeatureCollection\"," + systemMember(place) + "\"features\":[";
  const char* comma = "\n";
  for (const ground::Contour& c : contours) {
    fmt::format_to(std::back_inserter(out),
                   "{}{{\"type\":\"Feature\",\"properties\":{{\"level_m\":{}}},\"geometry\":{{\"type\":\"LineString\","
                   "\"coordinates\":[",
                   comma, c.level);
    comma = ",\n";
    const std::size_t n = c.points.size() + (c.closed ? 1 : 0);
    for (std::size_t i = 0; i < n; ++i) {
      const plane::Vec2 p = c.points[i % c.points.size()];
      fmt::format_to(std::back_inserter(out), "{}[{},{},{}]", i ? "," : "", p.x + origin.easting, p.y + origin.northing,
                     c.level);
    }
    out += "]}}";
  }
  out += "\n]}\n";
  return out;
}

}  // namespace inselberg::exchange
