#include "store/item_json.h"

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "base/visitor.h"
#include "drawing/paper.h"
#include "plane/places_json.h"
#include "works/works_json.h"

namespace inselberg::store {
namespace {

using nlohmann::json;
using plane::finite;
using plane::placesFromJson;
using plane::placesToJson;

template <class Enum>
using Words = std::pair<Enum, const char*>;

template <class Table, class Enum>
const char* wordOf(const Table& table, Enum value) {
  for (const auto& [known, word] : table) {
    if (known == value) return word;
  }
  return "";
}

template <class Table>
auto valueOf(const Table& table, const std::string& word) {
  for (const auto& [value, known] : table) {
    if (word == known) return value;
  }
  throw Error("the word \"" + word + "\" is not known", "the file may come from a newer version");
}

}  // namespace

json toJson(const works::Works& works) {
  json j = works::toJson(works.shape);
  j["name"] = works.name;
  j["left_out"] = works.leftOut;
  if (works.hidden) j["hidden"] = true;
  if (!works.material.empty()) j["material"] = works.material;
  if (!works.phase.empty()) j["phase"] = works.phase;
  if (works.held) j["held"] = true;
  if (works.tie) j["tie"] = {{"to", works.tie->to.value}, {"plus", works.tie->plus}};
  return j;
}

works::Works worksFromJson(WorksId id, const json& j, works::Kinds kinds) {
  const bool hides = j.contains("left_out");  // before version 13 what was hidden took no part
  works::Works works{id,
                     j.at("name").get<std::string>(),
                     j.at(hides ? "left_out" : "hidden").get<bool>(),
                     works::shapeFromJson(j, kinds),
                     j.value("material", std::string()),
                     j.value("phase", std::string())};
  works.held = j.value("held", false);
  works.hidden = hides && j.value("hidden", false);
  if (const auto tie = j.find("tie"); tie != j.end())
    works.tie = works::Tie{WorksId{tie->at("to").get<std::uint64_t>()}, plane::finite(tie->at("plus"))};
  return works;
}

namespace {

json toJson(const ground::Mend& mend) {
  const auto pair = [](plane::Vec2 p) { return json{p.x, p.y}; };
  return std::visit(Visitor{[&](const ground::SwapEdge& m) {
                              return json{{"swap", {pair(m.from), pair(m.to)}}};
                            },
                            [&](const ground::DeleteTriangle& m) {
                              return json{{"delete_triangle", pair(m.middle)}};
                            },
                            [&](const ground::DeletePoint& m) {
                              return json{{"delete_point", pair(m.at)}};
                            },
                            [&](const ground::FillHole& m) {
                              return json{{"fill_hole", pair(m.at)}};
                            },
                            [&](const ground::AddPoint& m) {
                              return json{{"add_point", {m.at.x, m.at.y, m.at.z}}};
                            }},
                    mend);
}

constexpr Words<quantity::Combine> kCombine[] = {
    {quantity::Combine::over, "over"}, {quantity::Combine::lower, "lower"}, {quantity::Combine::higher, "higher"}};

json derivedToJson(const project::Derived& base) {
  json j{{"of", json::array()}};
  for (const GroundId id : base.of) j["of"].push_back(id.value);
  std::visit(Visitor{[&](const project::Shift& op) { j["shift"] = op.height; },
                     [&](const project::Keep& op) {
                       json rings{placesToJson(op.polygon.outer)};
                       for (const auto& hole : op.polygon.holes) rings.push_back(placesToJson(hole));
                       j[op.inside ? "keep_inside" : "keep_outside"] = rings;
                     },
                     [&](const project::CombineAs& op) { j["combine"] = wordOf(kCombine, op.rule); },
                     [&](const project::Simplify& op) { j["simplify"] = op.tolerance; }},
             base.how);
  return j;
}

project::Derived derivedFromJson(const json& j) {
  project::Derived base;
  for (const json& id : j.at("of")) base.of.push_back(GroundId{id.get<std::uint64_t>()});
  if (j.contains("shift")) {
    base.how = project::Shift{finite(j["shift"])};
  } else if (j.contains("combine")) {
    base.how = project::CombineAs{valueOf(kCombine, j["combine"].get<std::string>())};
  } else if (j.contains("simplify")) {
    const double tolerance = finite(j["simplify"]);
    if (!(tolerance > 0)) throw Error("a tolerance is not above zero", "the file is damaged");
    base.how = project::Simplify{tolerance};
  } else {
    const bool inside = j.contains("keep_inside");
    const json& rings = j.at(inside ? "keep_inside" : "keep_outside");
    plane::Polygon polygon{placesFromJson(rings.at(0)), {}};
    for (std::size_t i = 1; i < rings.size(); ++i) polygon.holes.push_back(placesFromJson(rings.at(i)));
    base.how = project::Keep{plane::sound(std::move(polygon), {}), inside};
  }
  return base;
}

ground::Mend mendFromJson(const json& j) {
  const auto pair = [](const json& p) { return plane::Vec2{finite(p.at(0)), finite(p.at(1))}; };
  if (j.contains("swap")) return ground::SwapEdge{pair(j["swap"].at(0)), pair(j["swap"].at(1))};
  if (j.contains("delete_triangle")) return ground::DeleteTriangle{pair(j["delete_triangle"])};
  if (j.contains("delete_point")) return ground::DeletePoint{pair(j["delete_point"])};
  if (j.contains("fill_hole")) return ground::FillHole{pair(j["fill_hole"])};
  const json& p = j.at("add_point");
  return ground::AddPoint{{finite(p.at(0)), finite(p.at(1)), finite(p.at(2))}};
}

}  // namespace

json toJson(const project::Ground& ground) {
  json j{{"name", ground.name}, {"role", wordOf(project::kRoleWords, ground.role)}, {"works", json::array()}};
  for (const auto& w : ground.works) j["works"].push_back(w->id.value);
  std::visit(Visitor{[&](const project::FromSources& base) {
                       json sources = json::array();
                       for (const SourceId id : base.sources) sources.push_back(id.value);
                       j["base"] = {{"sources", sources},
                                    {"duplicates", wordOf(ground::kDuplicateWords, base.rules.duplicates)},
                                    {"max_edge", base.rules.maxEdge},
                                    {"cure_flats", base.rules.cureFlats},
                                    {"mends", json::array()}};
                       for (const ground::Mend& mend : base.mends) j["base"]["mends"].push_back(toJson(mend));
                     },
                     [&](const project::OnGround& base) {
                       j["base"] = {{"ground", base.ground.value}};
                     },
                     [&](const project::Derived& base) { j["base"] = derivedToJson(base); },
                     [&](const project::FromStages&) {
                       j["base"] = {{"stages", true}};
                     }},
             ground.base);
  return j;
}

std::vector<WorksId> groundFromJson(const json& j, project::Ground& ground) {
  ground.name = j.at("name").get<std::string>();
  if (j.contains("role")) ground.role = valueOf(project::kRoleWords, j["role"].get<std::string>());  // since version 3
  const json& base = j.at("base");
  if (base.contains("stages")) {  // since version 7
    ground.base = project::FromStages{};
  } else if (base.contains("of")) {
    ground.base = derivedFromJson(base);
  } else if (base.contains("ground")) {
    ground.base = project::OnGround{GroundId{base.at("ground").get<std::uint64_t>()}};
  } else {
    project::FromSources from;
    for (const json& id : base.at("sources")) from.sources.push_back(SourceId{id.get<std::uint64_t>()});
    from.rules.duplicates = valueOf(ground::kDuplicateWords, base.at("duplicates").get<std::string>());
    from.rules.maxEdge = finite(base.at("max_edge"));
    from.rules.cureFlats = base.value("cure_flats", false);  // since version 2, as the mends
    for (const json& mend : base.value("mends", json::array())) from.mends.push_back(mendFromJson(mend));
    ground.base = std::move(from);
  }
  std::vector<WorksId> works;
  for (const json& id : j.at("works")) works.push_back(WorksId{id.get<std::uint64_t>()});
  return works;
}

json toJson(const project::KeptResult& kept, const std::string& picture) {
  json figures = json::array();
  for (const project::KeptFigure& f : kept.figures)
    figures.push_back({{"name", f.name}, {"works", f.works}, {"cut", f.cut}, {"fill", f.fill}});
  return {{"name", kept.name}, {"when", kept.when}, {"figures", figures},
          {"cut", kept.cut},   {"fill", kept.fill}, {"data", picture}};
}

project::KeptResult keptFromJson(std::uint64_t id, const json& j, std::string picture) {
  project::KeptResult kept{id,
                           j.at("name").get<std::string>(),
                           j.at("when").get<std::string>(),
                           {},
                           plane::finite(j.at("cut")),
                           plane::finite(j.at("fill")),
                           std::move(picture)};
  for (const json& f : j.at("figures"))
    kept.figures.push_back({f.at("name").get<std::string>(), f.at("works").get<std::uint64_t>(),
                            plane::finite(f.at("cut")), plane::finite(f.at("fill"))});
  return kept;
}

json toJson(const project::Layout& layout) {
  json fields = json::array();
  for (const project::LayoutField& f : layout.fields) fields.push_back({{"name", f.name}, {"text", f.text}});
  json j{{"name", layout.name},
         {"paper", drawing::kPapers[layout.paper].name},
         {"upright", layout.upright},
         {"ground", layout.ground.value},
         {"scale", layout.scale},
         {"interval", layout.interval},
         {"shade", layout.shade},
         {"sheets", layout.sheets},
         {"depths", layout.depths},
         {"grid", layout.grid},
         {"legend", layout.legend},
         {"figures", layout.figures},
         {"section", plane::placesToJson(layout.section)},
         {"fields", fields}};
  if (layout.centre) j["centre"] = {layout.centre->x, layout.centre->y};
  return j;
}
project::Layout layoutFromJson(const json& j) {
  project::Layout layout;
  layout.name = j.at("name").get<std::string>();
  const std::string paper = j.at("paper").get<std::string>();
  const auto size = std::find_if(std::begin(drawing::kPapers), std::end(drawing::kPapers),
                                 [&](const drawing::Paper& p) { return paper == p.name; });
  if (size == std::end(drawing::kPapers)) throw Error("a layout has no such paper", {paper}, "the file is damaged");
  layout.paper = static_cast<std::size_t>(size - std::begin(drawing::kPapers));
  layout.upright = j.at("upright").get<bool>();
  layout.ground = GroundId{j.at("ground").get<std::uint64_t>()};
  layout.scale = std::max(0.0, finite(j.at("scale")));
  if (const auto centre = j.find("centre"); centre != j.end())
    layout.centre = plane::Vec2{finite(centre->at(0)), finite(centre->at(1))};
  layout.interval = std::max(0.0, finite(j.at("interval")));
  layout.shade = j.at("shade").get<bool>();
  layout.sheets = j.value("sheets", false);  // since version 10
  layout.depths = std::max(0.0, finite(j.at("depths")));
  layout.grid = j.at("grid").get<bool>();
  layout.legend = j.at("legend").get<bool>();
  layout.figures = j.at("figures").get<bool>();
  layout.section = plane::placesFromJson(j.at("section"));
  for (const json& f : j.at("fields"))
    layout.fields.push_back({f.at("name").get<std::string>(), f.at("text").get<std::string>()});
  if (layout.fields.size() > project::kMostLayoutFields) layout.fields.resize(project::kMostLayoutFields);
  return layout;
}

json toJson(const project::PlanSheet& sheet) {
  const sheet::Placement& p = sheet.placement;
  json controls = json::array();
  for (const sheet::Control& c : sheet.controls) controls.push_back({c.page.x, c.page.y, c.ground.x, c.ground.y});
  json j{{"name", sheet.name},
         {"file", sheet.file},
         {"page", sheet.page},
         {"size", {sheet.size.x, sheet.size.y}},
         {"picture", sheet.picture},
         {"placement", {p.a, p.b, p.c, p.d, p.e, p.f}},
         {"placed_by", wordOf(project::kPlacedByWords, sheet.placedBy)},
         {"controls", controls},
         {"opacity", sheet.opacity},
         {"grey", sheet.grey},
         {"hidden", sheet.hidden},
         {"locked", sheet.locked},
         {"world", sheet.world},
         {"data", sheet.hash.hex()}};
  if (sheet.crop) j["crop"] = {sheet.crop->minX, sheet.crop->minY, sheet.crop->maxX, sheet.crop->maxY};
  return j;
}

project::SheetInfo sheetFromJson(const json& j) {
  project::SheetInfo info;
  info.name = j.at("name").get<std::string>();
  info.file = j.at("file").get<std::string>();
  info.page = j.at("page").get<int>();
  info.size = {finite(j.at("size").at(0)), finite(j.at("size").at(1))};
  info.picture = j.at("picture").get<bool>();
  const json& p = j.at("placement");
  info.placement = {finite(p.at(0)), finite(p.at(1)), finite(p.at(2)),
                    finite(p.at(3)), finite(p.at(4)), finite(p.at(5))};
  if (!(std::abs(info.placement.determinant()) > 0)) throw Error("a sheet has no place", "the file is damaged");
  info.placedBy = valueOf(project::kPlacedByWords, j.at("placed_by").get<std::string>());
  for (const json& c : j.at("controls"))
    info.controls.push_back({{finite(c.at(0)), finite(c.at(1))}, {finite(c.at(2)), finite(c.at(3))}});
  if (const auto crop = j.find("crop"); crop != j.end())
    info.crop = plane::Box{finite(crop->at(0)), finite(crop->at(1)), finite(crop->at(2)), finite(crop->at(3))};
  info.opacity = std::clamp(finite(j.at("opacity")), 0.0, 1.0);
  info.grey = j.at("grey").get<bool>();
  info.hidden = j.at("hidden").get<bool>();
  info.locked = j.at("locked").get<bool>();
  return info;
}

}  // namespace inselberg::store
