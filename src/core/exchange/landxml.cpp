// The tree of the XML library is walked once, part by part: survey points first, since others refer to them, then
// surfaces, features, parcels. Point ids, whole numbers as a rule, are looked up in a plain list. What is wrong with
// one point, face or line leaves that one out.
#include "exchange/landxml.h"

#include <fmt/chrono.h>
#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <ctime>
#include <limits>
#include <numbers>
#include <optional>
#include <pugixml.hpp>
#include <string_view>
#include <unordered_map>

#include "base/error.h"
#include "base/quantity.h"
#include "exchange/length_units.h"
#include "exchange/text_file.h"
#include "plane/curves.h"

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

// Point ids to numbers: whole numbers, as nearly all are, in a plain list.
class Ids {
 public:
  explicit Ids(std::size_t mostWhole) : mostWhole_(mostWhole) {}

  // False when the id is known already.
  bool add(std::string_view id, ground::Index number) {
    if (const auto whole = wholeOf(id)) {
      if (*whole >= list_.size())
        list_.resize(std::max(*whole + 1, std::min(2 * list_.size(), mostWhole_)), ground::kNone);
      if (list_[*whole] != ground::kNone) return false;
      list_[*whole] = number;
      return true;
    }
    return named_.try_emplace(std::string(id), number).second;
  }
  ground::Index find(std::string_view id) const {
    if (const auto whole = wholeOf(id)) return *whole < list_.size() ? list_[*whole] : ground::kNone;
    const auto it = named_.find(std::string(id));
    return it == named_.end() ? ground::kNone : it->second;
  }

 private:
  std::optional<std::size_t> wholeOf(std::string_view id) const {
    std::size_t value = 0;
    const auto [end, code] = std::from_chars(id.data(), id.data() + id.size(), value);
    if (code != std::errc{} || end != id.data() + id.size() || value >= mostWhole_) return std::nullopt;
    if (id.size() > 1 && id.front() == '0') return std::nullopt;  // "07" is another id than "7"
    return value;
  }
  std::size_t mostWhole_;  // larger ones are kept by name, so that memory follows the file
  std::vector<ground::Index> list_;
  std::unordered_map<std::string, ground::Index> named_;
};

// Cuts the next word off.
std::string_view takeWord(std::string_view& rest) {
  const auto begin = rest.find_first_not_of(" \t\r\n");
  if (begin == std::string_view::npos) {
    rest = {};
    return {};
  }
  const auto end = std::min(rest.find_first_of(" \t\r\n", begin), rest.size());
  const std::string_view word = rest.substr(begin, end - begin);
  rest.remove_prefix(end);
  return word;
}

class Reader {
 public:
  Reader(const std::string& path, const Progress& progress)
      : text_(readText(path)), lines_(text_), progress_(progress) {
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
    progress_.report("reading the model", 0);
    pugi::xml_document document;
    const auto result = document.load_buffer(text_.data(), text_.size(), pugi::parse_default, pugi::encoding_auto);
    if (!result) {
      throw Error(std::string("this is not whole XML: ") + result.description(),
                  {out_.file, lineAt(text_, static_cast<std::size_t>(std::max<std::ptrdiff_t>(result.offset, 0)))},
                  "copy or export it again");
    }
    progress_.report("reading the model", 0.3);
    const pugi::xml_node root = document.document_element();
    if (localName(root) != "LandXML") fail(root, "the file is XML, and not LandXML", "export it as LandXML");
    units(root);
    coordinates(root);
    bool faces = false;
    eachChild(root, "CgPoints", [&](const pugi::xml_node& n) { surveyPoints(n); });
    eachChild(root, "Surfaces", [&](const pugi::xml_node& list) {
      eachChild(list, "Surface", [&](const pugi::xml_node& n) { faces |= surface(n); });
    });
    eachChild(root, "PlanFeatures", [&](const pugi::xml_node& list) {
      eachChild(list, "PlanFeature", [&](const pugi::xml_node& n) { feature(n, "plan features", false); });
    });
    eachChild(root, "Parcels", [&](const pugi::xml_node& list) { parcels(list, 0); });
    if (out_.empty()) {
      requireClean(out_);
      if (faces) fail(root, "the surface has no visible faces", "export the surface again");
      fail(root, "there is no surface of faces in the file, and no survey",
           "export the surface with its points and faces");
    }
    if (invisible_) out_.remarks.push_back(fmt::format("{} faces marked invisible are left out", invisible_));
    if (spirals_) out_.remarks.push_back(fmt::format("{} spirals are taken as straight", spirals_));
    if (!out_.numbers.empty()) out_.numbers.resize(out_.points.size());
    if (!out_.codes.empty()) out_.codes.resize(out_.points.size());
    return std::move(out_);
  }

 private:
  [[noreturn]] void fail(const pugi::xml_node& node, std::string what, std::string hint) const {
    throw Error(std::move(what), {out_.file, lineOf(node)}, std::move(hint));
  }
  long lineOf(const pugi::xml_node& node) const {
    const auto offset = node.offset_debug();
    return offset >= 0 ? lines_.at(static_cast<std::size_t>(offset)) : 0;
  }

  template <class F>
  static void eachChild(const pugi::xml_node& node, std::string_view name, F&& f) {
    for (const pugi::xml_node& c : node.children()) {
      if (localName(c) == name) f(c);
    }
  }

  void coordinates(const pugi::xml_node& root) {
    const pugi::xml_node node = child(root, "CoordinateSystem");
    for (const char* name : {"epsgCode", "ogcWktCode"}) {
      if (out_.system.empty()) out_.system = node.attribute(name).value();
    }
  }

  void units(const pugi::xml_node& root) {
    const pugi::xml_node node = child(root, "Units");
    for (const pugi::xml_node& system : node.children()) {
      if (system.type() != pugi::node_element) continue;
      const std::string unit = system.attribute("linearUnit").value();
      using Word = std::pair<std::string_view, std::string_view>;
      static constexpr Word kKnown[] = {{"", "m"},
                                        {"meter", "m"},
                                        {"metre", "m"},
                                        {"foot", "ft"},
                                        {"USSurveyFoot", "us-ft"},
                                        {"millimeter", "mm"},
                                        {"centimeter", "cm"},
                                        {"kilometer", "km"},
                                        {"inch", "in"},
                                        {"mile", "mile"}};
      const auto* found =
          std::find_if(std::begin(kKnown), std::end(kKnown), [&](const Word& w) { return unit == w.first; });
      if (found == std::end(kKnown)) {
        fail(system, "the linear unit \"" + unit.substr(0, 40) + "\" is not known",
             "declare meter, foot or USSurveyFoot");
      }
      unit_ = metresOf(found->second), out_.units = found->second;
    }
  }

  // A name of its own for every layer of faces.
  LayerIndex freshLayer(std::string name) {
    const std::string wanted = name;
    for (int n = 2; std::find(out_.layers.begin(), out_.layers.end(), name) != out_.layers.end(); ++n)
      name = fmt::format("{} ({})", wanted, n);
    return out_.layerNamed(name);
  }

  // True when the surface lists faces, visible or not.
  bool surface(const pugi::xml_node& node) {
    ++surfaces_;
    std::string name = node.attribute("name").value();
    if (name.empty()) name = fmt::format("surface {}", surfaces_);
    const pugi::xml_node definition = child(node, "Definition");
    const bool faces = child(definition, "Faces");
    if (child(definition, "Pnts") && faces) {
      ImportedModel model;
      Ids ids(text_.size() / 4 + 16);
      std::vector<Error> wrong;
      points(child(definition, "Pnts"), model, ids, wrong);
      eachChild(definition, "Faces", [&](const pugi::xml_node& list) { readFaces(list, model, ids, wrong); });
      if (!model.triangles.empty() || !wrong.empty()) model.layer = freshLayer(name);
      for (const Error& e : wrong) out_.leaveOut(e, model.layer);
      if (!model.triangles.empty()) out_.models.push_back(std::move(model));
    }
    eachChild(node, "SourceData", [&](const pugi::xml_node& data) { sourceData(data, name); });
    return faces;
  }

  void sourceData(const pugi::xml_node& data, const std::string& name) {
    eachChild(data, "DataPoints", [&](const pugi::xml_node& list) {
      eachChild(list, "PntList3D", [&](const pugi::xml_node& n) {
        const LayerIndex layer = out_.layerNamed(name + " points", Declared::points);
        for (const auto& [p, line] : eachPosition(n, layer)) addPoint(p, layer, line);
      });
    });
    eachChild(data, "Breaklines", [&](const pugi::xml_node& list) {
      eachChild(list, "Breakline", [&](const pugi::xml_node& n) {
        const LayerIndex layer = out_.layerNamed(name + " breaklines", Declared::breaklines);
        leavingOut(layer, [&] { addLine(listed(n), false, layer, n); });
      });
    });
    eachChild(data, "Contours", [&](const pugi::xml_node& list) {
      eachChild(list, "Contour", [&](const pugi::xml_node& n) {
        const LayerIndex layer = out_.layerNamed(name + " contours", Declared::contours);
        leavingOut(layer, [&] {
          auto way = listed(n);
          if (const auto level = parseNumber(n.attribute("elev").value())) {
            for (auto& p : way) p.z = *level * unit_;
          }
          addLine(std::move(way), false, layer, n);
        });
      });
    });
    eachChild(data, "Boundaries", [&](const pugi::xml_node& list) {
      eachChild(list, "Boundary", [&](const pugi::xml_node& n) {
        const std::string_view kind = n.attribute("bndType").value();
        const LayerIndex layer = kind == "void"     ? out_.layerNamed(name + " voids", Declared::voids)
                                 : kind == "island" ? out_.layerNamed(name + " islands")
                                                    : out_.layerNamed(name + " boundary", Declared::boundary);
        leavingOut(layer, [&] { addArea(listed(n), layer, n); });
      });
    });
  }

  // The positions of the PntList2D or PntList3D in a node.
  std::vector<plane::Vec3> listed(const pugi::xml_node& node) const {
    std::vector<plane::Vec3> all;
    eachChild(node, "PntList3D", [&](const pugi::xml_node& n) {
      const auto more = positions(n, 3);
      all.insert(all.end(), more.begin(), more.end());
    });
    if (!all.empty()) return all;
    eachChild(node, "PntList2D", [&](const pugi::xml_node& n) {
      const auto more = positions(n, 2);
      all.insert(all.end(), more.begin(), more.end());
    });
    return all;
  }

  std::vector<plane::Vec3> positions(const pugi::xml_node& node, std::size_t each) const {
    std::vector<double> numbers;
    std::string_view rest = node.text().get();
    for (std::string_view word = takeWord(rest); !word.empty(); word = takeWord(rest))
      numbers.push_back(number(word, node));
    if (numbers.size() % each != 0)
      fail(node, fmt::format("{} numbers do not part into positions of {}", numbers.size(), each), "export it again");
    std::vector<plane::Vec3> all;
    all.reserve(numbers.size() / each);
    for (std::size_t i = 0; i < numbers.size(); i += each) {
      all.push_back({numbers[i + 1] * unit_, numbers[i] * unit_,
                     each == 3 ? numbers[i + 2] * unit_ : std::numeric_limits<double>::quiet_NaN()});
    }
    return all;
  }

  // The positions of a list of points with their lines; one that is no position is left out.
  std::vector<std::pair<plane::Vec3, long>> eachPosition(const pugi::xml_node& node, LayerIndex layer) {
    std::vector<std::pair<plane::Vec3, long>> all;
    const std::string_view text = node.text().get();
    const long first = lineOf(node.first_child());
    std::string_view rest = text;
    long line = first;
    std::size_t counted = 0;
    double v[3];
    for (std::size_t k = 0;;) {
      bool usable = true;
      for (k = 0; k < 3; ++k) {
        const std::string_view word = takeWord(rest);
        if (word.empty()) break;
        const auto at = static_cast<std::size_t>(word.data() - text.data());
        line += std::count(text.begin() + static_cast<std::ptrdiff_t>(counted),
                           text.begin() + static_cast<std::ptrdiff_t>(at), '\n');
        counted = at;
        const auto value = usableNumber(word);
        if (!value && usable) {
          usable = false;
          out_.leaveOut(Error("\"" + std::string(word.substr(0, 40)) + "\" is not a usable number", {out_.file, line},
                              "correct the point"),
                        layer);
        }
        v[k] = value.value_or(0) * unit_;
      }
      if (k == 0) return all;
      if (k < 3) {
        out_.leaveOut(Error("the last point of the list has fewer than three numbers", {out_.file, line},
                            "write it as northing easting level"),
                      layer);
        return all;
      }
      if (usable) all.push_back({{v[1], v[0], v[2]}, line});
    }
  }

  static std::optional<double> usableNumber(std::string_view word) {
    const auto value = parseNumber(word);
    return value && std::abs(*value) <= 1e9 ? value : std::nullopt;
  }

  double number(std::string_view word, const pugi::xml_node& node) const {
    const auto value = usableNumber(word);
    if (!value) fail(node, "\"" + std::string(word.substr(0, 40)) + "\" is not a usable number", "correct the point");
    return *value;
  }

  void addPoint(plane::Vec3 p, LayerIndex layer, long line, std::string name = {}, std::string code = {}) {
    out_.points.push_back(p);
    out_.pointLayers.push_back(layer);
    out_.pointLines.push_back(line);
    out_.numbers.push_back(std::move(name));
    out_.codes.push_back(std::move(code));
  }

  // What is wrong with one thing leaves that one out.
  template <class F>
  void leavingOut(LayerIndex layer, F&& f) {
    try {
      f();
    } catch (const Error& e) {
      out_.leaveOut(e, layer);
    }
  }

  void addLine(std::vector<plane::Vec3> way, bool closed, LayerIndex layer, const pugi::xml_node& node) {
    if (way.size() < 2) return;
    if (way.size() > 3 && way.front() == way.back()) way.pop_back(), closed = true;
    out_.lines.push_back({std::move(way), closed, layer, lineOf(node)});
  }

  void addArea(const std::vector<plane::Vec3>& way, LayerIndex layer, const pugi::xml_node& node) {
    if (way.size() < 3) return;
    ImportedArea area;
    for (const auto& p : way) area.polygon.outer.push_back(p.plan());
    if (area.polygon.outer.front() == area.polygon.outer.back()) area.polygon.outer.pop_back();
    area.layer = layer;
    area.line = lineOf(node);
    out_.areas.push_back(std::move(area));
  }

  void surveyPoints(const pugi::xml_node& list) {
    const LayerIndex layer = out_.layerNamed("survey points");
    for (const pugi::xml_node& p : list.children()) {
      if (localName(p) != "CgPoint") continue;
      if ((out_.points.size() & 0xfff) == 0) progress_.check();
      std::string_view rest = p.text().get();
      if (takeWordIsNone(rest)) continue;  // only refers to another point
      leavingOut(layer, [&] {
        const plane::Vec3 at = position(p);
        std::string name = p.attribute("name").value();
        named_.try_emplace(name, at);
        std::string code = p.attribute("code").value();
        if (code.empty()) code = p.attribute("desc").value();
        addPoint(at, layer, lineOf(p), std::move(name), std::move(code));
      });
    }
  }
  static bool takeWordIsNone(std::string_view rest) { return takeWord(rest).empty(); }

  // "northing easting [level]" as the node's text, or a reference to a survey point.
  plane::Vec3 position(const pugi::xml_node& node) const {
    std::string_view rest = node.text().get();
    double v[3] = {0, 0, std::numeric_limits<double>::quiet_NaN()};
    int n = 0;
    for (std::string_view word = takeWord(rest); !word.empty(); word = takeWord(rest)) {
      if (n == 3) fail(node, "a position has more than three numbers", "write it as northing easting level");
      v[n++] = number(word, node);
    }
    if (n == 0) {
      const auto known = named_.find(node.attribute("pntRef").value());
      if (known == named_.end()) fail(node, "a position is empty", "write it as northing easting level");
      return known->second;
    }
    if (n == 1) fail(node, "a position has one number", "write it as northing easting level");
    return {v[1] * unit_, v[0] * unit_, v[2] * unit_};
  }

  void parcels(const pugi::xml_node& list, int depth) {
    eachChild(list, "Parcel", [&](const pugi::xml_node& n) {
      feature(n, "parcels", true);
      if (depth < 4) eachChild(n, "Parcels", [&](const pugi::xml_node& inner) { parcels(inner, depth + 1); });
    });
  }

  // The CoordGeoms of a plan feature or parcel.
  void feature(const pugi::xml_node& node, const char* layerName, bool isArea) {
    eachChild(node, "CoordGeom", [&](const pugi::xml_node& geometry) {
      const LayerIndex layer = out_.layerNamed(layerName);
      leavingOut(layer, [&] { geometryOf(geometry, layer, isArea); });
    });
  }

  void geometryOf(const pugi::xml_node& geometry, LayerIndex layer, bool isArea) {
    std::vector<plane::Vec3> way;
    const auto add = [&](const plane::Vec3& p) {
      if (way.empty() || !(way.back().plan() == p.plan())) way.push_back(p);
    };
    for (const pugi::xml_node& part : geometry.children()) {
      const std::string_view kind = localName(part);
      const pugi::xml_node start = child(part, "Start"), end = child(part, "End");
      if (!start || !end) continue;
      const plane::Vec3 from = position(start), to = position(end);
      add(from);
      if (kind == "Curve" && child(part, "Center")) {
        curve(from, to, position(child(part, "Center")).plan(), std::string_view(part.attribute("rot").value()) == "cw",
              way);
      } else if (kind == "IrregularLine") {
        for (const auto& p : listed(part)) add(p);
      } else if (kind == "Spiral") {
        ++spirals_;
      }
      add(to);
    }
    if (isArea) {
      addArea(way, layer, geometry);
    } else {
      addLine(std::move(way), false, layer, geometry);
    }
  }

  static void curve(const plane::Vec3& from, const plane::Vec3& to, plane::Vec2 centre, bool clockwise,
                    std::vector<plane::Vec3>& way) {
    const plane::Vec2 a = from.plan() - centre, b = to.plan() - centre;
    double angle = std::atan2(plane::cross(a, b), plane::dot(a, b));
    if (clockwise && angle >= 0) angle -= 2 * std::numbers::pi;
    if (!clockwise && angle <= 0) angle += 2 * std::numbers::pi;
    constexpr double kChordError = 0.01;  // m
    const auto chords = plane::ellipseChords(centre, a, {-a.y, a.x}, 0, angle, kChordError);
    for (std::size_t i = 1; i + 1 < chords.size(); ++i) {
      const double along = static_cast<double>(i) / static_cast<double>(chords.size() - 1);
      way.push_back({chords[i].x, chords[i].y, from.z + along * (to.z - from.z)});
    }
  }

  // What is wrong with one thing of a surface leaves that one out, and goes to `wrong`.
  template <class F>
  static void noting(std::vector<Error>& wrong, F&& f) {
    try {
      f();
    } catch (const Error& e) {
      if (wrong.size() <= Imported::kMostProblems) wrong.push_back(e);
    }
  }

  void points(const pugi::xml_node& list, ImportedModel& model, Ids& ids, std::vector<Error>& wrong) {
    for (const pugi::xml_node& p : list.children()) {
      if (localName(p) != "P") continue;
      if ((model.points.size() & 0xfff) == 0) progress_.check();
      noting(wrong, [&] { point(p, model, ids); });
    }
    noting(wrong, [&] {
      if (model.points.size() < 3) fail(list, "the surface has fewer than three points", "export the surface again");
    });
  }

  void point(const pugi::xml_node& p, ImportedModel& model, Ids& ids) {
    double v[3];
    std::string_view rest = p.text().get();
    for (double& value : v) {
      const std::string_view word = takeWord(rest);
      if (word.empty()) fail(p, "a point has fewer than three numbers", "write it as northing easting level");
      value = number(word, p);
    }
    if (!takeWordIsNone(rest)) fail(p, "a point has more than three numbers", "write it as northing easting level");
    const std::string_view id = p.attribute("id").value();
    if (id.empty()) fail(p, "a point has no id", "export the surface again");
    if (!ids.add(id, static_cast<ground::Index>(model.points.size())))
      fail(p, "the point id " + std::string(id.substr(0, 40)) + " occurs twice", "export the surface again");
    model.points.push_back({v[1] * unit_, v[0] * unit_, v[2] * unit_});
  }

  void readFaces(const pugi::xml_node& faces, ImportedModel& model, const Ids& ids, std::vector<Error>& wrong) {
    std::vector<ground::Index> corners;
    for (const pugi::xml_node& f : faces.children()) {
      if (localName(f) != "F") continue;
      if ((model.triangles.size() & 0xfff) == 0) progress_.check();
      if (std::string_view(f.attribute("i").value()) == "1") {
        ++invisible_;
        continue;
      }
      corners.clear();
      noting(wrong, [&] { cornersOf(f, ids, corners); });
      for (std::size_t i = 2; i < corners.size(); ++i)
        model.triangles.push_back({corners[0], corners[i - 1], corners[i]});
    }
  }

  // None where something is wrong with the face; throws Error then.
  void cornersOf(const pugi::xml_node& f, const Ids& ids, std::vector<ground::Index>& corners) const {
    std::vector<ground::Index> found;
    std::string_view rest = f.text().get();
    for (std::string_view id = takeWord(rest); !id.empty(); id = takeWord(rest)) {
      found.push_back(ids.find(id));
      if (found.back() == ground::kNone) {
        fail(f, "a face names the point " + std::string(id.substr(0, 40)) + ", which is not there",
             "export the surface again");
      }
    }
    if (found.size() < 3) fail(f, "a face has fewer than three points", "export the surface again");
    corners = std::move(found);
  }

  Imported out_;
  std::string text_;
  LineCounter lines_;
  const Progress& progress_;
  double unit_ = 1;
  std::size_t surfaces_ = 0, invisible_ = 0, spirals_ = 0;
  std::unordered_map<std::string, plane::Vec3> named_;  // survey points
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

std::string groundToLandXml(const ground::Tin& tin, const Georeference& place, const std::string& name) {
  const plane::Origin& origin = place.origin;
  const ground::TinStatistics s = ground::statistics(tin);
  std::string out =
      "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n"
      "<LandXML xmlns=\"http://www.landxml.org/schema/LandXML-1.2\" version=\"1.2\" " +
      fmt::format("{:date=\"%Y-%m-%d\" time=\"%H:%M:%S\"}", fmt::localtime(std::time(nullptr))) +
      ">\n"
      "<Units><Metric linearUnit=\"meter\" areaUnit=\"squareMeter\" volumeUnit=\"cubicMeter\" "
      "temperatureUnit=\"celsius\" pressureUnit=\"HPA\"/></Units>\n";
  if (const auto system = writtenSystem(place))
    out += fmt::format("<CoordinateSystem name=\"{}\" epsgCode=\"{}\"/>\n", escaped(system->name),
                       system->definition.substr(5));
  out += "<Application name=\"Inselberg\"/>\n<Surfaces>\n";
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
