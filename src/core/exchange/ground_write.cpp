#include "exchange/ground_write.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <cstring>
#include <numbers>

#include "base/error.h"
#include "base/lower_case.h"
#include "exchange/dxf_write.h"
#include "exchange/geojson.h"
#include "exchange/gis.h"
#include "exchange/landxml.h"
#include "exchange/text_file.h"
#include "ground/raster.h"

namespace inselberg::exchange {
namespace {

plane::Vec3 absolute(const plane::Vec3& p, const plane::Origin& origin) {
  return {p.x + origin.easting, p.y + origin.northing, p.z};
}

constexpr std::array kEndings{".xml", ".dxf", ".tif", ".asc", ".geojson", ".gpkg", ".obj", ".ply", ".glb", ".csv"};

}  // namespace

std::string groundToDxf(const ground::Tin& tin, const plane::Origin& origin) {
  std::string out = dxfStart();
  const auto to = std::back_inserter(out);
  for (ground::Index t = 0; t < tin.triangles().size(); ++t) {
    const auto c = tin.corners(t);
    out += "0\n3DFACE\n8\nGROUND\n";
    for (int k = 0; k < 4; ++k) {
      const plane::Vec3 p = absolute(c[static_cast<std::size_t>(std::min(k, 2))], origin);
      fmt::format_to(to, "{}\n{:.6f}\n{}\n{:.6f}\n{}\n{:.6f}\n", 10 + k, p.x, 20 + k, p.y, 30 + k, p.z);
    }
  }
  for (ground::Index t = 0; t < tin.triangles().size(); ++t) {
    for (int k = 0; k < 3; ++k) {
      const ground::Index other = tin.neighbours()[t][static_cast<std::size_t>(k)];
      if (!tin.isBreak(t, k) || (other != ground::kNone && other < t)) continue;
      const auto c = tin.corners(t);
      addPolyline(out, "BREAKLINES", false,
                  std::array{absolute(c[static_cast<std::size_t>(ground::next(k))], origin),
                             absolute(c[static_cast<std::size_t>(ground::before(k))], origin)});
    }
  }
  return out + dxfEnd();
}

std::string groundToGeoJson(const ground::Tin& tin, const Georeference& place) {
  std::string out = "{\"type\":\"FeatureCollection\",\"name\":\"ground\"," + systemMember(place) + "\"features\":[";
  for (ground::Index t = 0; t < tin.triangles().size(); ++t) {
    const auto c = tin.corners(t);
    out += t ? ",\n" : "\n";
    out += "{\"type\":\"Feature\",\"properties\":{},\"geometry\":{\"type\":\"Polygon\",\"coordinates\":[[";
    for (std::size_t k = 0; k < 4; ++k) {
      const plane::Vec3 p = absolute(c[k % 3], place.origin);
      fmt::format_to(std::back_inserter(out), "{}[{},{},{}]", k ? "," : "", p.x, p.y, p.z);
    }
    out += "]]}}";
  }
  return out + "\n]}\n";
}

std::string groundToObj(const ground::Tin& tin, const plane::Origin& origin) {
  std::string out = "# easting northing level, m\n";
  const auto to = std::back_inserter(out);
  for (const plane::Vec3& v : tin.points()) {
    const plane::Vec3 p = absolute(v, origin);
    fmt::format_to(to, "v {} {} {}\n", p.x, p.y, p.z);
  }
  for (const ground::Triangle& t : tin.triangles()) fmt::format_to(to, "f {} {} {}\n", t[0] + 1, t[1] + 1, t[2] + 1);
  return out;
}

std::string groundToPly(const ground::Tin& tin, const plane::Origin& origin) {
  static_assert(std::endian::native == std::endian::little, "the header says so");
  std::string out = fmt::format(
      "ply\nformat binary_little_endian 1.0\ncomment easting northing level, m\nelement vertex {}\nproperty double x\n"
      "property double y\nproperty double z\nelement face {}\nproperty list uchar int vertex_indices\nend_header\n",
      tin.points().size(), tin.triangles().size());
  const auto put = [&](const auto& value) { out.append(reinterpret_cast<const char*>(&value), sizeof value); };
  for (const plane::Vec3& v : tin.points()) {
    const plane::Vec3 p = absolute(v, origin);
    put(p.x), put(p.y), put(p.z);
  }
  for (const ground::Triangle& t : tin.triangles()) {
    put(std::uint8_t{3});
    for (const ground::Index v : t) put(static_cast<std::int32_t>(v));
  }
  return out;
}

std::string groundToCsv(const ground::Tin& tin, const plane::Origin& origin) {
  std::string out = "number,easting,northing,level\n";
  std::size_t number = 0;
  for (const plane::Vec3& v : tin.points()) {
    const plane::Vec3 p = absolute(v, origin);
    fmt::format_to(std::back_inserter(out), "{},{},{},{}\n", ++number, p.x, p.y, p.z);
  }
  return out;
}

std::string contoursToDxf(std::span<const ground::Contour> contours, const plane::Origin& origin,
                          std::span<const ground::ContourLabel> labels) {
  std::string out = dxfStart();
  std::vector<plane::Vec3> points;
  for (const ground::Contour& c : contours) {
    points.clear();
    for (const plane::Vec2 p : c.points) points.push_back(absolute({p.x, p.y, c.level}, origin));
    addPolyline(out, "CONTOURS", c.closed, points);
  }
  for (const ground::ContourLabel& label : labels) {
    const plane::Vec3 p = absolute({label.at.x, label.at.y, label.level}, origin);
    const double turned = std::atan2(label.along.y, label.along.x) * 180 / std::numbers::pi;
    addText(out, "CONTOUR LABELS", p, fmt::format("{}", label.level), 1, turned);
  }
  return out + dxfEnd();
}

bool isGroundEnding(const std::string& path) {
  const std::string name = lowerCase(path);
  return std::any_of(kEndings.begin(), kEndings.end(), [&](const char* e) { return name.ends_with(e); });
}

void writeGround(const ground::Tin& tin, const Georeference& place, const std::string& name, const std::string& path,
                 double cell, const Progress& progress) {
  const auto is = [low = lowerCase(path)](const char* ending) { return low.ends_with(ending); };
  if (is(".xml")) return writeWhole(path, groundToLandXml(tin, place, name));
  if (is(".dxf")) return writeWhole(path, groundToDxf(tin, place.origin));
  if (is(".geojson")) return writeWhole(path, groundToGeoJson(tin, place));
  if (is(".obj")) return writeWhole(path, groundToObj(tin, place.origin));
  if (is(".ply")) return writeWhole(path, groundToPly(tin, place.origin));
  if (is(".glb")) return writeWhole(path, groundToGlb(tin, place.origin));
  if (is(".csv")) return writeWhole(path, groundToCsv(tin, place.origin));
  if (is(".gpkg")) return writeGeoPackage(tin, place, name, path);
  if (is(".tif") || is(".asc")) return writeRaster(ground::sampled(tin, cell, progress), place, path);
  throw Error("the ending of the file is not known", {path}, "end it in " + groundEndings());
}

std::string groundEndings() {
  return fmt::format("{} or {}", fmt::join(kEndings.begin(), kEndings.end() - 1, " "), kEndings.back());
}

}  // namespace inselberg::exchange
