#include "exchange/landxml.h"

#include <fmt/format.h>

#include <charconv>
#include <cmath>
#include <pugixml.hpp>
#include <string_view>
#include <unordered_map>

#include "base/error.h"
#include "base/quantity.h"
#include "exchange/text_file.h"

namespace inselberg::exchange {
namespace {

// Names are compared without their namespace prefix.
std::string_view localName(const pugi::xml_node& node) {
  std::string_view name = node.name();
  if (const auto colon = name.find(':'); colon != std::string_view::npos) name.remove_prefix(colon + 1);
  return name;
}

pugi::xml_node child(const pugi::xml_node& node, std::string_view name) {
  for (const pugi::xml_node& c : node.children()) {
    if (localName(c) == name) return c;
  }
  return {};
}

class Reader {
 public:
  Reader(const std::string& path, const Progress& progress) : text_(readText(path)), progress_(progress) {
    out_.file = path;
    out_.format = "LandXML";
  }

  Imported read() {
    for (const char* word : {"<!DOCTYPE", "<!ENTITY"}) {
      if (const auto at = text_.find(word); at != std::string::npos) {
        throw Error("the file declares a document type or entities, which a ground model has no use for",
                    {out_.file, lineAt(text_, at)}, "remove the declaration or export the file again");
      }
    }
    pugi::xml_document document;
    const auto result = document.load_buffer(text_.data(), text_.size(), pugi::parse_default, pugi::encoding_utf8);
    if (!result) {
      throw Error(std::string("this is not whole XML: ") + result.description(),
                  {out_.file, lineAt(text_, static_cast<std::size_t>(std::max<std::ptrdiff_t>(result.offset, 0)))},
                  "copy or export it again");
    }
    const pugi::xml_node root = document.document_element();
    if (localName(root) != "LandXML") fail(root, "the file is XML, and not LandXML", "export it as LandXML");
    units(root);
    const pugi::xml_node surfaces = child(root, "Surfaces");
    std::size_t more = 0;
    pugi::xml_node definition;
    for (const pugi::xml_node& s : surfaces.children()) {
      if (localName(s) != "Surface") continue;
      const pugi::xml_node d = child(s, "Definition");
      if (!child(d, "Pnts") || !child(d, "Faces")) continue;
      if (definition) {
        ++more;
      } else {
        definition = d;
      }
    }
    if (!definition)
      fail(root, "there is no surface of faces in the file", "export the surface with its points and faces");
    if (more) out_.remarks.push_back(fmt::format("{} more surfaces in the file are not taken", more));
    points(child(definition, "Pnts"));
    for (const pugi::xml_node& faces : definition.children()) {
      if (localName(faces) == "Faces") readFaces(faces);
    }
    if (out_.modelTriangles.empty()) fail(definition, "the surface has no visible faces", "export the surface again");
    return std::move(out_);
  }

 private:
  [[noreturn]] void fail(const pugi::xml_node& node, std::string what, std::string hint) const {
    const auto offset = node.offset_debug();
    throw Error(std::move(what), {out_.file, offset >= 0 ? lineAt(text_, static_cast<std::size_t>(offset)) : 0},
                std::move(hint));
  }

  void units(const pugi::xml_node& root) {
    const pugi::xml_node node = child(root, "Units");
    for (const pugi::xml_node& system : node.children()) {
      if (system.type() != pugi::node_element) continue;
      const std::string unit = system.attribute("linearUnit").value();
      if (unit == "meter" || unit == "metre" || unit.empty()) {
        unit_ = 1;
      } else if (unit == "foot") {
        unit_ = kMetresPerFoot, out_.units = "ft";
      } else if (unit == "USSurveyFoot") {
        unit_ = kMetresPerSurveyFoot, out_.units = "us-ft";
      } else if (unit == "millimeter") {
        unit_ = 1e-3, out_.units = "mm";
      } else if (unit == "centimeter") {
        unit_ = 1e-2, out_.units = "cm";
      } else if (unit == "kilometer") {
        unit_ = 1e3, out_.units = "km";
      } else if (unit == "inch") {
        unit_ = kMetresPerFoot / 12, out_.units = "in";
      } else if (unit == "mile") {
        unit_ = 5280 * kMetresPerFoot, out_.units = "mile";
      } else {
        fail(system, "the linear unit \"" + unit.substr(0, 40) + "\" is not known",
             "declare meter, foot or USSurveyFoot");
      }
    }
  }

  void points(const pugi::xml_node& list) {
    for (const pugi::xml_node& p : list.children()) {
      if (localName(p) != "P") continue;
      if ((out_.modelPoints.size() & 0xfff) == 0) progress_.check();
      double v[3];
      std::string_view rest = p.text().get();
      for (double& number : v) number = takeNumber(rest, p);
      if (rest.find_first_not_of(" \t\r\n") != std::string_view::npos)
        fail(p, "a point has more than three numbers", "write it as northing easting level");
      const std::string id = p.attribute("id").value();
      if (id.empty()) fail(p, "a point has no id", "export the surface again");
      if (!ids_.try_emplace(id, static_cast<ground::Index>(out_.modelPoints.size())).second) {
        fail(p, "the point id " + id.substr(0, 40) + " occurs twice", "export the surface again");
      }
      out_.modelPoints.push_back({v[1] * unit_, v[0] * unit_, v[2] * unit_});
    }
    if (out_.modelPoints.size() < 3) fail(list, "the surface has fewer than three points", "export the surface again");
  }

  double takeNumber(std::string_view& rest, const pugi::xml_node& node) const {
    const auto begin = rest.find_first_not_of(" \t\r\n");
    if (begin == std::string_view::npos)
      fail(node, "a point has fewer than three numbers", "write it as northing easting level");
    const auto end = std::min(rest.find_first_of(" \t\r\n", begin), rest.size());
    const std::string_view word = rest.substr(begin, end - begin);
    rest.remove_prefix(end);
    const auto value = parseNumber(word);
    if (!value || std::abs(*value) > 1e9)
      fail(node, "\"" + std::string(word.substr(0, 40)) + "\" is not a usable number", "correct the point");
    return *value;
  }

  void readFaces(const pugi::xml_node& faces) {
    std::size_t invisible = 0;
    for (const pugi::xml_node& f : faces.children()) {
      if (localName(f) != "F") continue;
      if ((out_.modelTriangles.size() & 0xfff) == 0) progress_.check();
      if (std::string_view(f.attribute("i").value()) == "1") {
        ++invisible;
        continue;
      }
      std::vector<ground::Index> corners;
      std::string_view rest = f.text().get();
      for (auto begin = rest.find_first_not_of(" \t\r\n"); begin != std::string_view::npos;
           begin = rest.find_first_not_of(" \t\r\n")) {
        const auto end = std::min(rest.find_first_of(" \t\r\n", begin), rest.size());
        const std::string id(rest.substr(begin, end - begin));
        rest.remove_prefix(end);
        const auto it = ids_.find(id);
        if (it == ids_.end())
          fail(f, "a face names the point " + id.substr(0, 40) + ", which is not there", "export the surface again");
        corners.push_back(it->second);
      }
      if (corners.size() < 3) fail(f, "a face has fewer than three points", "export the surface again");
      for (std::size_t i = 2; i < corners.size(); ++i)
        out_.modelTriangles.push_back({corners[0], corners[i - 1], corners[i]});
    }
    if (invisible) out_.remarks.push_back(fmt::format("{} faces marked invisible are left out", invisible));
  }

  Imported out_;
  std::string text_;
  const Progress& progress_;
  double unit_ = 1;
  std::unordered_map<std::string, ground::Index> ids_;
};

std::string escaped(const std::string& text) {
  std::string out;
  for (const char c : text) {
    switch (c) {
      case '&':
        out += "&amp;";
        break;
      case '<':
        out += "&lt;";
        break;
      case '"':
        out += "&quot;";
        break;
      default:
        out += static_cast<unsigned char>(c) < 0x20 ? ' ' : c;
    }
  }
  return out;
}

}  // namespace

Imported readLandXml(const std::string& path, const Progress& progress) {
  return Reader(path, progress).read();
}

std::string groundToLandXml(const ground::Tin& tin, const plane::Origin& origin, const std::string& name) {
  const ground::TinStatistics s = ground::statistics(tin);
  std::string out =
      "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n"
      "<LandXML xmlns=\"http://www.landxml.org/schema/LandXML-1.2\" version=\"1.2\" date=\"2026-01-01\" "
      "time=\"00:00:00\">\n"
      "<Units><Metric linearUnit=\"meter\" areaUnit=\"squareMeter\" volumeUnit=\"cubicMeter\" "
      "temperatureUnit=\"celsius\" pressureUnit=\"HPA\"/></Units>\n"
      "<Application name=\"Inselberg\"/>\n<Surfaces>\n";
  const auto to = std::back_inserter(out);
  fmt::format_to(to,
                 "<Surface name=\"{}\">\n<Definition surfType=\"TIN\" area2DSurf=\"{:.4f}\" area3DSurf=\"{:.4f}\" "
                 "elevMin=\"{:.4f}\" elevMax=\"{:.4f}\">\n<Pnts>\n",
                 escaped(name), s.planArea, s.surfaceArea, s.minLevel, s.maxLevel);
  std::size_t id = 0;
  for (const plane::Vec3& p : tin.points()) {
    fmt::format_to(to, "<P id=\"{}\">{} {} {}</P>\n", ++id, p.y + origin.northing, p.x + origin.easting, p.z);
  }
  out += "</Pnts>\n<Faces>\n";
  for (const ground::Triangle& t : tin.triangles())
    fmt::format_to(to, "<F>{} {} {}</F>\n", t[0] + 1, t[1] + 1, t[2] + 1);
  out += "</Faces>\n</Definition>\n</Surface>\n</Surfaces>\n</LandXML>\n";
  return out;
}

}  // namespace inselberg::exchange
