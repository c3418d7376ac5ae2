#include "exchange/sheet_file.h"

#include <fmt/format.h>

#include <array>
#include <cmath>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "base/error.h"
#include "base/lower_case.h"
#include "base/text.h"
#include "exchange/dxf_write.h"
#include "exchange/geojson.h"
#include "exchange/text_file.h"

namespace inselberg::exchange {
namespace {

namespace fs = std::filesystem;

// A world file has the picture's name and an ending made from its own: .pgw or .pngw for .png; or .wld.
std::string worldFileOf(const std::string& path) {
  const fs::path picture(path);
  const std::string own = picture.extension().string();
  if (own.size() < 4) return {};
  const std::string brief = own.substr(0, 2) + own.back() + "w";
  for (const std::string& ending : {brief, own + "w", std::string(".wld")}) {
    for (const bool upper : {false, true}) {
      std::string cased = lowerCase(ending);
      if (upper)
        std::transform(cased.begin(), cased.end(), cased.begin(), [](unsigned char c) { return std::toupper(c); });
      fs::path beside = picture;
      beside.replace_extension(cased);
      std::error_code none;
      if (fs::is_regular_file(beside, none)) return beside.string();
    }
  }
  return {};
}

std::string colourText(sheet::Colour colour) {
  return fmt::format("{:06X}", colour);
}

std::string dashText(const sheet::Line& line) {
  std::string text;
  for (const double length : line.dash) text += fmt::format("{}{:.4g}", text.empty() ? "" : " ", length);
  return text;
}

// The nearest of the plain colours that the oldest readers know.
int plainIndex(sheet::Colour colour) {
  constexpr std::array<std::pair<int, sheet::Colour>, 9> kPlain{{{1, 0xff0000},
                                                                 {2, 0xffff00},
                                                                 {3, 0x00ff00},
                                                                 {4, 0x00ffff},
                                                                 {5, 0x0000ff},
                                                                 {6, 0xff00ff},
                                                                 {7, 0x000000},
                                                                 {8, 0x808080},
                                                                 {30, 0xff7f00}}};
  const auto far = [&](sheet::Colour other) {
    int sum = 0;
    for (const int shift : {0, 8, 16}) {
      const int d = int(colour >> shift & 255) - int(other >> shift & 255);
      sum += d * d;
    }
    return sum;
  };
  return std::min_element(kPlain.begin(), kPlain.end(),
                          [&](const auto& a, const auto& b) { return far(a.second) < far(b.second); })
      ->first;
}

std::string dxf(const std::vector<sheet::Line>& lines, const std::vector<sheet::SpotText>& levels,
                const sheet::Placement& placement) {
  std::string out = dxfStart();
  std::vector<plane::Vec3> points;
  for (const sheet::Line& line : lines) {
    points.clear();
    for (const plane::Vec2 p : line.points) {
      const plane::Vec2 q = placement(p);
      points.push_back({q.x, q.y, 0});
    }
    const std::string layer = dxfLayer(line.filled ? fmt::format("FILLED-{}", colourText(line.colour))
                                                   : fmt::format("LINES-{}-{:.2f}{}", colourText(line.colour),
                                                                 line.width, line.dash.empty() ? "" : "-DASHED"));
    addPolyline(out, layer, line.closed, points,
                {plainIndex(line.colour),
                 {"colour=" + colourText(line.colour), fmt::format("width_mm={:.4g}", line.width),
                  "dash=" + dashText(line), fmt::format("filled={}", line.filled)}});
  }
  for (const sheet::SpotText& spot : levels) {
    const plane::Vec2 p = placement(spot.at);
    addPoint(out, "LEVELS", {p.x, p.y, spot.level});
  }
  return out + dxfEnd();
}

std::string geoJson(const std::vector<sheet::Line>& lines, const std::vector<sheet::SpotText>& levels,
                    const sheet::Placement& placement, const std::string& system) {
  std::string out = "{\"type\":\"FeatureCollection\"," + systemMember({{}, system}) + "\"features\":[";
  const auto to = std::back_inserter(out);
  const char* comma = "\n";
  for (const sheet::Line& line : lines) {
    fmt::format_to(to,
                   "{}{{\"type\":\"Feature\",\"properties\":{{\"colour\":\"{}\",\"width_mm\":{:.5g},\"dash\":\"{}\","
                   "\"filled\":{}}},\"geometry\":{{\"type\":\"LineString\",\"coordinates\":[",
                   comma, colourText(line.colour), line.width, dashText(line), line.filled);
    comma = ",\n";
    const std::size_t n = line.points.size() + (line.closed ? 1 : 0);
    for (std::size_t i = 0; i < n; ++i) {
      const plane::Vec2 p = placement(line.points[i % line.points.size()]);
      fmt::format_to(to, "{}[{:.6f},{:.6f}]", i ? "," : "", p.x, p.y);
    }
    out += "]}}";
  }
  for (const sheet::SpotText& spot : levels) {
    const plane::Vec2 p = placement(spot.at);
    fmt::format_to(to,
                   "{}{{\"type\":\"Feature\",\"properties\":{{\"level_m\":{},\"text\":{}}},\"geometry\":{{\"type\":"
                   "\"Point\",\"coordinates\":[{:.6f},{:.6f},{}]}}}}",
                   comma, spot.level, nlohmann::json(spot.text).dump(), p.x, p.y, spot.level);
    comma = ",\n";
  }
  return out + "\n]}\n";
}

std::string csv(const std::vector<sheet::SpotText>& levels, const sheet::Placement& placement) {
  std::string out = "number,easting,northing,level,code\n";
  int number = 0;
  for (const sheet::SpotText& spot : levels) {
    const plane::Vec2 p = placement(spot.at);
    fmt::format_to(std::back_inserter(out), "{},{:.6f},{:.6f},{},{}\n", ++number, p.x, p.y, spot.level,
                   csvCell(spot.text));
  }
  return out;
}

}  // namespace

SheetFile readSheetFile(const std::string& path) {
  SheetFile file{path, std::make_shared<const std::string>(readBytes(path)), {}};
  if (const std::string world = worldFileOf(path); !world.empty()) file.world = readBytesAhead(world, 4096);
  return file;
}

std::unique_ptr<sheet::Document> openSheet(const SheetFile& file) {
  return sheet::openDocument(file.bytes, file.path, file.world);
}

std::optional<SheetPlace> placeOf(sheet::Document& document, int page, const std::string& name,
                                  const std::string& target) {
  auto own = document.ownPlace(page);
  if (!own) return std::nullopt;
  SheetPlace place{{}, std::move(own->controls), {}};
  const auto from = coordinateSystem(own->system);
  const auto to = coordinateSystem(target);
  if (from && from->degrees && !to)
    throw Error("the sheet places itself by longitude and latitude", {name},
                "give points in easting and northing, or bring it into a project that has a coordinate system");
  if (from && to && from->definition != to->definition) {
    Imported moved;
    for (const sheet::Control& c : place.controls) moved.points.push_back({c.ground.x, c.ground.y, 0});
    reproject(moved, *from, *to);
    for (std::size_t i = 0; i < place.controls.size(); ++i) place.controls[i].ground = moved.points[i].plan();
    place.system = to->definition;
  } else if (from) {
    place.system = from->definition;
  }
  place.fit = sheet::fitTo(place.controls);
  return place;
}

std::string sheetContent(SheetFormat format, const std::vector<sheet::Line>& lines,
                         const std::vector<sheet::SpotText>& levels, const sheet::Placement& placement,
                         const std::string& system) {
  switch (format) {
    case SheetFormat::dxf:
      return dxf(lines, levels, placement);
    case SheetFormat::geoJson:
      return geoJson(lines, levels, placement, system);
    case SheetFormat::csv:
      break;
  }
  return csv(levels, placement);
}

}  // namespace inselberg::exchange
