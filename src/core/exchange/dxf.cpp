// A DXF file is pairs of lines: a group code, and a value. Entities start at code 0.
#include "exchange/dxf.h"

#include <fmt/format.h>

#include <cmath>
#include <limits>
#include <map>
#include <optional>
#include <string_view>

#include "base/error.h"
#include "base/quantity.h"
#include "exchange/text_file.h"

namespace inselberg::exchange {
namespace {

struct Tag {
  int code = 0;
  std::string_view value;
  long line = 0;  // of the value
};

class Tags {
 public:
  Tags(std::string_view text, const std::string& file) : text_(text), file_(file) {}

  // The next pair; nothing at the end of the file.
  std::optional<Tag> next() {
    if (at_ >= text_.size()) return std::nullopt;
    const std::string_view code = lineText();
    const auto number = parseNumber(code);
    if (!number || *number != std::floor(*number) || std::abs(*number) > 2000) {
      if (at_ >= text_.size() && code.find_first_not_of(" \t") == std::string_view::npos) return std::nullopt;
      throw Error("this is not a DXF group code: \"" + std::string(code.substr(0, 40)) + "\"", {file_, line_},
                  "export the drawing again as text DXF");
    }
    if (at_ >= text_.size())
      throw Error("the drawing breaks off after a group code", {file_, line_}, "copy or export it again");
    const std::string_view value = lineText();
    return Tag{static_cast<int>(*number), value, line_};
  }

 private:
  std::string_view lineText() {
    const std::size_t end = std::min(text_.find('\n', at_), text_.size());
    std::string_view line = text_.substr(at_, end - at_);
    at_ = end + 1;
    ++line_;
    if (line.ends_with('\r')) line.remove_suffix(1);
    return line;
  }

  std::string_view text_;
  const std::string& file_;
  std::size_t at_ = 0;
  long line_ = 0;
};

std::string_view trimmed(std::string_view s) {
  while (!s.empty() && (s.front() == ' ' || s.front() == '\t')) s.remove_prefix(1);
  while (!s.empty() && (s.back() == ' ' || s.back() == '\t')) s.remove_suffix(1);
  return s;
}

class Reader {
 public:
  Reader(const std::string& path, const Progress& progress)
      : text_(readText(path)), tags_(text_, out_.file), progress_(progress) {
    out_.file = path;
    out_.format = "DXF";
  }

  Imported read() {
    std::string_view section;
    bool ended = false, any = false;
    auto tag = tags_.next();
    if (!tag || tag->code != 0 || trimmed(tag->value) != "SECTION") {
      if (!tag || tag->code != 999)
        throw Error("this is not a text DXF drawing", {out_.file, 1}, "export the drawing again as text DXF");
    }
    std::size_t steps = 0;
    while (tag) {
      if ((++steps & 0xfff) == 0) progress_.check();
      if (tag->code == 0 && trimmed(tag->value) == "SECTION") {
        tag = tags_.next();
        section = tag ? trimmed(tag->value) : "";
        any = true;
        tag = tags_.next();
      } else if (tag->code == 0 && trimmed(tag->value) == "ENDSEC") {
        section = "";
        tag = tags_.next();
      } else if (tag->code == 0 && trimmed(tag->value) == "EOF") {
        ended = true;
        break;
      } else if (section == "ENTITIES" && tag->code == 0) {
        tag = entity(*tag);
      } else {
        if (section == "HEADER" && tag->code == 9 && trimmed(tag->value) == "$INSUNITS") {
          tag = tags_.next();
          if (tag) setUnits(static_cast<int>(number(*tag)));
        }
        tag = tags_.next();
      }
    }
    if (!any || !ended)
      throw Error("the drawing breaks off before its end", {out_.file, exchange::lineAt(text_, text_.size())},
                  "copy or export it again");
    finishPolyline();
    for (const auto& [kind, count] : passedOver_) {
      out_.remarks.push_back(fmt::format("{} {} not taken", count, kind));
    }
    return std::move(out_);
  }

 private:
  double number(const Tag& tag) const {
    const auto value = parseNumber(tag.value);
    if (!value || std::abs(*value) > 1e9) {
      throw Error("\"" + std::string(tag.value.substr(0, 40)) + "\" is not a usable number", {out_.file, tag.line},
                  "correct the drawing or export it again");
    }
    return *value;
  }

  void setUnits(int code) {
    switch (code) {
      case 1:
        unit_ = kMetresPerFoot / 12, out_.units = "in";
        break;
      case 2:
        unit_ = kMetresPerFoot, out_.units = "ft";
        break;
      case 4:
        unit_ = 1e-3, out_.units = "mm";
        break;
      case 5:
        unit_ = 1e-2, out_.units = "cm";
        break;
      default:
        break;
    }
  }

  // Reads one entity to the tag that starts the next.
  std::optional<Tag> entity(const Tag& start) {
    const std::string kind(trimmed(start.value));
    std::map<int, double> values;
    std::vector<plane::Vec2> flat;
    std::string layer;
    bool paper = false, hasLevel = false;
    std::optional<Tag> tag;
    while ((tag = tags_.next()) && tag->code != 0) {
      const int code = tag->code;
      if (code == 8) layer = trimmed(tag->value);
      if (code == 67) paper = number(*tag) == 1;
      if (code == 100 || code == 8) continue;
      if (kind == "LWPOLYLINE" && code == 10) {
        flat.push_back({number(*tag), 0});
      } else if (kind == "LWPOLYLINE" && code == 20 && !flat.empty()) {
        flat.back().y = number(*tag);
      } else if ((code >= 10 && code <= 39) || code == 70) {
        values[code] = number(*tag);
        hasLevel |= code == 30;
      }
    }
    const auto at = [&](int x, int y, int z) {
      return plane::Vec3{values[x] * unit_, values[y] * unit_, values[z] * unit_};
    };
    if (kind == "VERTEX") {
      if (inPolyline_) {
        const int flags = static_cast<int>(values[70]);
        plane::Vec3 p = at(10, 20, 30);
        if (!is3d_) p.z = elevation_;
        if (!(flags & 16)) current_.vertices.push_back(p);  // 16: control point of a spline frame
      }
      return tag;
    }
    if (kind == "SEQEND") {
      finishPolyline();
      return tag;
    }
    finishPolyline();
    if (paper) {
      ++passedOver_["entities of the paper space"];
    } else if (kind == "POINT") {
      out_.points.push_back(at(10, 20, 30));
      out_.codes.push_back(layer);
      out_.numbers.emplace_back();
      out_.pointLines.push_back(start.line);
    } else if (kind == "LINE") {
      out_.lines.push_back({{at(10, 20, 30), at(11, 21, 31)}, false, layer, start.line});
    } else if (kind == "LWPOLYLINE") {
      ImportedLine line{{}, (static_cast<int>(values[70]) & 1) != 0, layer, start.line};
      for (const plane::Vec2 p : flat) line.vertices.push_back({p.x * unit_, p.y * unit_, values[38] * unit_});
      if (line.vertices.size() >= 2) out_.lines.push_back(std::move(line));
    } else if (kind == "POLYLINE") {
      const int flags = static_cast<int>(values[70]);
      if (flags & (16 | 64)) {
        ++passedOver_["polygon meshes"];
        return tag;
      }
      inPolyline_ = true;
      is3d_ = (flags & 8) != 0;
      elevation_ = values[30] * unit_;
      current_ = {{}, (flags & 1) != 0, layer, start.line};
    } else {
      ++passedOver_[kind + " entities"];
    }
    return tag;
  }

  void finishPolyline() {
    if (inPolyline_ && current_.vertices.size() >= 2) out_.lines.push_back(std::move(current_));
    inPolyline_ = false;
    current_ = {};
  }

  Imported out_;
  std::string text_;
  Tags tags_;
  const Progress& progress_;
  double unit_ = 1;
  bool inPolyline_ = false, is3d_ = false;
  double elevation_ = 0;
  ImportedLine current_;
  std::map<std::string, std::size_t> passedOver_;
};

}  // namespace

Imported readDxf(const std::string& path, const Progress& progress) {
  return Reader(path, progress).read();
}

std::string contoursToDxf(std::span<const ground::Contour> contours, const plane::Origin& origin) {
  std::string out = "0\nSECTION\n2\nHEADER\n9\n$ACADVER\n1\nAC1009\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n";
  const auto to = std::back_inserter(out);
  for (const ground::Contour& c : contours) {
    fmt::format_to(to, "0\nPOLYLINE\n8\nCONTOURS\n66\n1\n10\n0.0\n20\n0.0\n30\n0.0\n70\n{}\n", c.closed ? 9 : 8);
    for (const plane::Vec2 p : c.points) {
      fmt::format_to(to, "0\nVERTEX\n8\nCONTOURS\n10\n{:.6f}\n20\n{:.6f}\n30\n{:.6f}\n70\n32\n", p.x + origin.easting,
                     p.y + origin.northing, c.level);
    }
    out += "0\nSEQEND\n8\nCONTOURS\n";
  }
  out += "0\nENDSEC\n0\nEOF\n";
  return out;
}

}  // namespace inselberg::exchange
