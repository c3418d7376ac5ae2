#include "works/works_json.h"

#include <fmt/format.h>

#include "base/error.h"
#include "base/visitor.h"
#include "plane/places_json.h"
#include "works/section_json.h"

namespace inselberg::works {

using nlohmann::json;

namespace {

json valueToJson(const Field& field, const Value& value) {
  if (isNumber(field.measure)) return std::get<double>(value);
  if (field.measure == Measure::choice) return field.words.at(std::get<std::size_t>(value));
  return std::visit(
      Visitor{[](const Places& places) { return plane::placesToJson(places); },
              [](const SectionsAlong& sections) { return sections.empty() ? json() : toJson(sections); },
              [](const Edges& edges) {
                json list = json::array();
                for (const EdgeSection& e : edges) list.push_back(toJson(e));
                return list;
              },
              [](const Adjustments& adjustments) { return toJson(adjustments); },
              [](const Contours& contours) {
                json list = json::array();
                for (const Contour& c : contours)
                  list.push_back({{"level", c.level}, {"line", plane::placesToJson(c.line)}});
                return list;
              },
              [](const GroundRef& ground) { return json(ground.name); }, [](const auto& plain) { return json(plain); }},
      value);
}

Value valueFromJson(const Field& field, const json& j) {
  if (isNumber(field.measure)) return plane::finite(j);
  if (field.measure == Measure::choice) {
    const std::string word = j.get<std::string>();
    std::size_t i = 0;
    while (i < field.words.size() && field.words[i] != word) ++i;
    return i;
  }
  if (field.measure == Measure::flag) return j.get<bool>();
  const JsonCursor at(j, {}, field.name);
  switch (field.measure) {
    case Measure::sections:
      return j.is_null() ? SectionsAlong() : sectionsFrom(at);
    case Measure::edges: {
      Edges edges;
      for (const JsonCursor& item : at.items()) edges.push_back(edgeFrom(item));
      return edges;
    }
    case Measure::stations:
    case Measure::levels:
      return stationsFrom(at);
    case Measure::cornerLevels:
      return numbersFrom(at);
    case Measure::adjustments:
      return adjustmentsFrom(at);
    case Measure::contours: {
      Contours contours;
      for (const auto& item : j)
        contours.push_back({plane::finite(item.at("level")), plane::placesFromJson(item.at("line"))});
      return contours;
    }
    case Measure::ground:
      return GroundRef{at.text(), nullptr};
    default:
      break;
  }
  return tidied(field, plane::placesFromJson(j), {});
}

}  // namespace

json toJson(const Shape& shape) {
  json j{{"kind", shape.kind().name}};
  const auto& fields = shape.kind().fields();
  for (std::size_t i = 0; i < fields.size(); ++i) j[fields[i].name] = valueToJson(fields[i], shape.get(i));
  return j;
}

Shape shapeFromJson(const json& j, Kinds kinds) {
  const std::string name = j.at("kind").get<std::string>();
  const Kind* kind = kindNamed(name, kinds);
  if (!kind) throw Error("works of the kind \"" + name + "\" are not known", "open the project with a newer version");
  Shape shape = kind->fresh();
  const auto& fields = kind->fields();
  for (std::size_t i = 0; i < fields.size(); ++i) {
    if (fields[i].later && !j.contains(fields[i].name)) continue;
    shape = shape.with(i, valueFromJson(fields[i], j.at(fields[i].name)));
  }
  for (std::size_t i = 0; i < fields.size(); ++i) {
    if (const auto why = shape.applies(i) ? wrong(fields[i], shape.get(i)) : std::nullopt)
      throw Error(fmt::format("\"{}\" {}", fields[i].name, *why), "the file is damaged");
  }
  return shape;
}

}  // namespace inselberg::works
