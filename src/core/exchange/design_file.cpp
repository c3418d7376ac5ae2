#include "exchange/design_file.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "base/error.h"
#include "base/json_cursor.h"
#include "exchange/design_places.h"
#include "exchange/design_stages.h"
#include "exchange/text_file.h"
#include "project/ties.h"
#include "works/section_json.h"

namespace inselberg::exchange {
namespace {

using nlohmann::json;

// Text to JSON: one value, no member twice in one object.
json parsedStrictly(std::string_view text, const std::string& file) {
  std::vector<std::set<std::string>> names;
  std::string twice;
  const auto watch = [&](int, json::parse_event_t event, json& value) {
    if (event == json::parse_event_t::object_start) names.emplace_back();
    if (event == json::parse_event_t::object_end) names.pop_back();
    if (event == json::parse_event_t::key && !names.back().insert(value.get<std::string>()).second && twice.empty())
      twice = value.get<std::string>();
    return true;
  };
  try {
    json parsed = json::parse(text, watch);
    if (!twice.empty()) throw Error("the member \"" + twice + "\" is there twice in one object", {file}, "keep one");
    return parsed;
  } catch (const json::parse_error& e) {
    const std::size_t at = std::min(text.size(), e.byte > 0 ? e.byte - 1 : 0);
    const std::size_t start = at == 0 ? std::string_view::npos : text.rfind('\n', at - 1);
    const std::size_t column = start == std::string_view::npos ? at + 1 : at - start;
    throw Error(fmt::format("this is no JSON, at column {}", column), {file, lineAt(text, at)}, "mend it there");
  }
}

// What is numbered by corners, or runs along the outline from its first corner, the other way round.
works::SectionsAlong turnedRound(const works::SectionsAlong& sections, double length) {
  works::SectionsAlong turned;
  for (auto it = sections.rbegin(); it != sections.rend(); ++it) turned.push_back({length - it->station, it->section});
  if (turned.size() == 1) turned.front().station = 0;
  return turned;
}

works::CornerStyle cornersFrom(const JsonCursor& at) {
  const auto corners = at.find("corners");
  if (!corners || corners->text() == "round") return works::CornerStyle::round;
  if (corners->text() != "square") corners->fail("this is no way to make corners", "write round or square");
  return works::CornerStyle::square;
}

works::SectionsAlong sectionOr(const std::optional<JsonCursor>& at) {
  return at ? works::sectionsFrom(*at) : works::SectionsAlong();
}

// The one of these members that is there.
std::string oneOf(const JsonCursor& at, std::initializer_list<const char*> names) {
  std::string found, all;
  for (const char* name : names) {
    all += (all.empty() ? "" : ", ") + std::string(name);
    if (!at.find(name)) continue;
    if (!found.empty()) at.find(name)->fail("it stands beside \"" + found + "\"", "keep one of them");
    found = name;
  }
  if (found.empty()) at.fail("one of these is missing: " + all, "add one of them");
  return found;
}

works::Shape padFrom(const JsonCursor& at, const Origin& origin) {
  at.only({"kind", "name", "material", "phase", "outline", "level", "fall_percent", "bearing_deg", "fit",
           "corner_levels", "on_ground", "ridge", "space", "corners", "section", "edges", "level_from", "building"});
  works::Pad pad;
  const Outline outline = outlineFrom(at.member("outline"), origin);
  pad.outline = outline.ring;
  pad.writtenClockwise = outline.clockwise;
  const std::string top = oneOf(at, {"level", "fit", "corner_levels", "on_ground", "ridge"});
  const JsonCursor said = at.member(top);
  if (top != "level") {
    for (const char* name : {"fall_percent", "bearing_deg"}) {
      if (const auto other = at.find(name)) other->fail("it does not go with \"" + top + "\"", "take it out");
    }
  }
  if (top == "level") {
    pad.level = said.number();
    const auto fall = at.find("fall_percent"), bearing = at.find("bearing_deg");
    if (fall && fall->number() != 0) {
      if (!bearing) fall->fail("it is not said where it falls to", "add bearing_deg");
      pad.top = works::PadTop::tilted;
      pad.fall = fall->number();
      pad.bearing = std::fmod(std::fmod(bearing->number(), 360) + 360, 360);
    }
  } else if (top == "fit") {
    said.only({"max_fall_percent", "offset"});
    pad.top = works::PadTop::fitted;
    pad.greatestFall = numberOr(said.find("max_fall_percent"), 1e4);
    pad.offset = numberOr(said.find("offset"), 0);
  } else if (top == "corner_levels") {
    pad.top = works::PadTop::corners;
    pad.cornerLevels = works::numbersFrom(said);
    if (pad.cornerLevels.size() != pad.outline.size()) {
      said.fail(fmt::format("there are {} levels for {} corners", pad.cornerLevels.size(), pad.outline.size()),
                "give each corner a level");
    }
    if (outline.clockwise) std::reverse(pad.cornerLevels.begin() + 1, pad.cornerLevels.end());
  } else if (top == "on_ground") {
    pad.top = works::PadTop::onGround;
    pad.offset = said.number();
  } else {
    said.only({"line", "level", "fall_percent"});
    pad.top = works::PadTop::ridge;
    pad.ridge = lineFrom(said.member("line"), origin);
    pad.level = said.member("level").number();
    pad.fall = said.member("fall_percent").number();
  }
  pad.space = numberOr(at.find("space"), 0);
  if (const auto building = at.find("building")) pad.building = building->flag();
  pad.batters.corners = cornersFrom(at);
  pad.section = sectionOr(at.find("section"));
  if (outline.clockwise) pad.section = turnedRound(pad.section, works::lengthOf(pad.outline, true));
  if (const auto edges = at.find("edges")) {
    std::set<std::size_t> known;
    for (const JsonCursor& item : edges->items()) {
      works::EdgeSection edge = works::edgeFrom(item);
      if (edge.edge >= pad.outline.size())
        item.fail(fmt::format("the outline has the edges 0 to {}", pad.outline.size() - 1), "give one of them");
      if (!known.insert(edge.edge).second) item.fail("this edge is there twice", "keep one");
      if (outline.clockwise) edge.edge = pad.outline.size() - 1 - edge.edge;
      pad.edges.push_back(std::move(edge));
    }
  }
  return pad;
}

// [easting, northing, level]
Vec2 endFrom(const JsonCursor& at, const Origin& origin, double& level) {
  const auto three = at.items();
  if (three.size() != 3) at.fail("a place with a level is wanted here", "write it as [easting, northing, level]");
  level = three[2].number();
  return {three[0].number() - origin.easting, three[1].number() - origin.northing};
}

works::Shape rampFrom(const JsonCursor& at, const Origin& origin) {
  at.only({"kind", "name", "material", "phase", "from", "to", "via", "width", "left", "right", "corners", "joins",
           "max_grade_percent"});
  works::Ramp ramp;
  if (const auto joins = at.find("joins")) {
    const std::string which = joins->text();
    if (which != "from" && which != "to" && which != "both")
      joins->fail("this is no end of a ramp", "write from, to or both");
    ramp.fromJoins = which != "to", ramp.toJoins = which != "from";
  }
  if (const auto greatest = at.find("max_grade_percent")) {
    ramp.greatest = greatest->number();
    if (ramp.greatest < 0 || ramp.greatest > 100) greatest->fail("a grade lies between 0 and 100 %", "mend it");
  }
  ramp.axis = {endFrom(at.member("from"), origin, ramp.from)};
  if (const auto via = at.find("via")) {
    for (const Vec2 p : pointsFrom(*via, origin)) ramp.axis.push_back(p);
  }
  ramp.axis.push_back(endFrom(at.member("to"), origin, ramp.to));
  for (std::size_t i = 1; i < ramp.axis.size(); ++i) {
    if (ramp.axis[i] == ramp.axis[i - 1]) at.fail("its axis has the same point twice in a row", "take one out");
  }
  ramp.width = at.member("width").number();
  ramp.left = sectionOr(at.find("left")), ramp.right = sectionOr(at.find("right"));
  ramp.corners = cornersFrom(at);
  return ramp;
}

works::Shape runFrom(const JsonCursor& at, const Origin& origin) {
  at.only({"kind", "name", "material", "phase", "line", "levels", "curves", "left", "right", "closed", "ends",
           "from_station", "to_station", "corners"});
  works::Run run;
  run.line = lineFrom(at.member("line"), origin);
  run.levels = works::stationsFrom(at.member("levels"));
  if (const auto curves = at.find("curves")) run.curves = works::stationsFrom(*curves);
  run.left = sectionOr(at.find("left")), run.right = sectionOr(at.find("right"));
  if (const auto closed = at.find("closed")) run.closed = closed->flag();
  if (const auto ends = at.find("ends")) {
    if (ends->text() != "open" && ends->text() != "wrapped")
      ends->fail("this is no kind of ends", "write open or wrapped");
    run.ends = ends->text() == "wrapped" ? works::RunEnds::wrapped : works::RunEnds::open;
  }
  const auto from = at.find("from_station"), to = at.find("to_station");
  run.part = from || to;
  const double length = works::lengthOf(run.line, run.closed);
  if (run.part) run.fromStation = numberOr(from, 0), run.toStation = numberOr(to, length);
  run.corners = cornersFrom(at);
  const works::Grades grades(run.levels, run.curves);
  if (const auto why = grades.wrong(length)) at.fail("its line " + *why, "mend the levels or curves");
  return run;
}

works::Shape pondFrom(const JsonCursor& at, const Origin& origin) {
  at.only({"kind", "name", "material", "phase", "drawn", "outline", "bottom", "top", "water", "inside", "bench",
           "crest", "section", "corners", "wanted_m3"});
  works::Pond pond;
  const Outline outline = outlineFrom(at.member("outline"), origin);
  pond.outline = outline.ring;
  if (const auto drawn = at.find("drawn")) {
    const std::string word = drawn->text();
    if (word != "bottom" && word != "water" && word != "top")
      drawn->fail("a pond cannot be drawn there", "write bottom, water or top");
    pond.drawn = word == "bottom" ? works::PondDrawn::bottom
                 : word == "top"  ? works::PondDrawn::top
                                  : works::PondDrawn::water;
  }
  pond.bottom = at.member("bottom").number(), pond.top = at.member("top").number();
  if (const auto water = at.find("water")) pond.wet = true, pond.water = water->number();
  if (pond.drawn == works::PondDrawn::water) pond.water = at.member("water").number();
  pond.inside = Slope::horizontalPerVertical(slopeOr(at.find("inside"), 2));
  if (const auto bench = at.find("bench")) {
    bench->only({"height", "width"});
    pond.benchHeight = bench->member("height").number();
    pond.benchWidth = bench->member("width").number();
  }
  pond.crest = numberOr(at.find("crest"), 0);
  pond.wanted = numberOr(at.find("wanted_m3"), 0);
  pond.section = sectionOr(at.find("section"));
  if (outline.clockwise) pond.section = turnedRound(pond.section, works::lengthOf(pond.outline, true));
  pond.corners = cornersFrom(at);
  return pond;
}

works::Shape bermFrom(const JsonCursor& at, const Origin& origin) {
  at.only({"kind", "name", "material", "phase", "line", "width", "level", "levels", "height", "slope", "corners"});
  works::Berm berm;
  berm.line = lineFrom(at.member("line"), origin);
  berm.width = at.member("width").number();
  const std::string by = oneOf(at, {"level", "levels", "height"});
  if (by == "level") berm.by = works::BermBy::level, berm.level = at.member(by).number();
  if (by == "levels") berm.by = works::BermBy::levels, berm.levels = works::stationsFrom(at.member(by));
  if (by == "height") berm.by = works::BermBy::height, berm.height = at.member(by).number();
  berm.slope = Slope::horizontalPerVertical(slopeOr(at.find("slope"), 2));
  berm.corners = cornersFrom(at);
  return berm;
}

works::Shape swaleFrom(const JsonCursor& at, const Origin& origin) {
  at.only({"kind", "name", "material", "phase", "line", "width", "levels", "depth", "slope", "corners"});
  works::Swale swale;
  swale.line = lineFrom(at.member("line"), origin);
  swale.width = at.member("width").number();
  const std::string by = oneOf(at, {"levels", "depth"});
  if (by == "levels") swale.by = works::SwaleBy::levels, swale.levels = works::stationsFrom(at.member(by));
  if (by == "depth") swale.by = works::SwaleBy::depth, swale.depth = at.member(by).number();
  swale.slope = Slope::horizontalPerVertical(slopeOr(at.find("slope"), 2));
  swale.corners = cornersFrom(at);
  return swale;
}

works::Shape levelAreaFrom(const JsonCursor& at, const Origin& origin) {
  at.only({"kind", "name", "material", "phase", "outline", "level", "adjust", "space", "level_from"});
  works::LevelArea area{outlineFrom(at.member("outline"), origin).ring, at.member("level").number(), {}};
  if (const auto adjust = at.find("adjust")) area.adjust = works::adjustmentsFrom(*adjust);
  area.space = numberOr(at.find("space"), 0);
  return area;
}

works::Shape inlayFrom(const JsonCursor& at, const Origin& origin) {
  at.only({"kind", "name", "material", "phase", "ground", "how", "outline", "section", "corners"});
  works::Inlay inlay;
  inlay.ground.name = at.member("ground").text();
  const auto how = at.find("how");
  const std::string word = how ? how->text() : "over";
  if (word != "over" && word != "lower" && word != "higher")
    how->fail("this is no way to set it in", "write over, lower or higher");
  inlay.how = word == "over"    ? works::InlayHow::over
              : word == "lower" ? works::InlayHow::lower
                                : works::InlayHow::higher;
  if (const auto outline = at.find("outline")) inlay.outline = outlineFrom(*outline, origin).ring;
  if (const auto section = at.find("section")) {
    if (inlay.how != works::InlayHow::over) section->fail("only what is laid over has a section", "take it out");
    inlay.section = works::sectionsFrom(*section);
  }
  inlay.corners = cornersFrom(at);
  return inlay;
}

works::Shape sculptFrom(const JsonCursor& at, const Origin& origin) {
  at.only({"kind", "name", "material", "phase", "outline", "contours"});
  works::Sculpt sculpt{outlineFrom(at.member("outline"), origin).ring, {}};
  for (const JsonCursor& item : at.member("contours").items()) {
    item.only({"level", "line"});
    sculpt.contours.push_back({item.member("level").number(), lineFrom(item.member("line"), origin)});
  }
  return sculpt;
}

using Reader = works::Shape (*)(const JsonCursor&, const Origin&);
const std::map<std::string, Reader>& readers() {
  static const std::map<std::string, Reader> all{
      {"pad", padFrom},      {"ramp", rampFrom},   {"run", runFrom},     {"pond", pondFrom},
      {"berm", bermFrom},    {"swale", swaleFrom}, {"inlay", inlayFrom}, {"level_area", levelAreaFrom},
      {"sculpt", sculptFrom}};
  return all;
}

// A kind's limits are checked by its fields; what is wrong is told at the works.
works::Shape shapeFrom(const JsonCursor& at, const Origin& origin) {
  const std::string kind = at.member("kind").text();
  const auto reader = readers().find(kind);
  if (reader == readers().end()) {
    std::string all;
    for (const auto& [name, read] : readers()) all += (all.empty() ? "" : ", ") + name;
    at.member("kind").fail("works of the kind \"" + kind + "\" are not known", "write one of " + all);
  }
  works::Shape shape = reader->second(at, origin);
  if (const auto why = works::wrong(shape)) at.fail(*why, "mend it");
  return shape;
}

// Named sections that works use must be there, and fit where they are used.
void requireSections(const JsonCursor& at, const project::Project& project, const works::Shape& shape) {
  try {
    project::withSectionsOf(project, shape);
  } catch (const Error& e) {
    at.fail(e.happened(), e.hint());
  }
}

// A works and what its level is to follow.
struct LevelFrom {
  WorksId id;
  JsonCursor said;
};
project::ProjectPtr tied(project::ProjectPtr project, const LevelFrom& tie, const std::map<std::string, WorksId>& ids) {
  const JsonCursor& at = tie.said;
  at.only({"works", "plus"});
  const auto to = ids.find(at.member("works").text());
  if (to == ids.end())
    at.member("works").fail("there are no works \"" + at.member("works").text() + "\"", "write the name of one");
  try {
    project = project::withTie(*project, tie.id, to->second);
  } catch (const Error& e) {
    at.fail(e.happened(), e.hint());
  }
  works::Works works = *project->works(tie.id).works;
  const auto level = works::levelOf(project->works(to->second).works->shape);
  works.shape = works::atLevel(works.shape, *level + numberOr(at.find("plus"), 0));
  return project::withWorks(*project, works);
}

project::ProjectPtr withSectionsOf(const JsonCursor& root, project::ProjectPtr project) {
  const auto sections = root.find("sections");
  if (!sections) return project;
  for (const works::NamedSection& s : works::namedSectionsFrom(*sections))
    project = project::withSection(*project, s.name, s.legs);
  return project;
}

// The works in their order; `ids` gets them by their names.
project::ProjectPtr withWorksOf(const JsonCursor& list, project::ProjectPtr project, const BringInGround& bringInGround,
                                std::map<std::string, WorksId>& ids) {
  std::set<std::string> names;
  std::map<std::string, int> unnamed;
  std::vector<LevelFrom> ties;
  for (const JsonCursor& item : list.items()) {
    const auto given = item.find("name");
    const JsonCursor at = given ? item.named(given->text()) : item;
    const works::Shape shape = shapeFrom(at, project->origin);
    requireSections(at, *project, shape);
    std::string name = given ? given->text() : std::string();
    while (!given && (name.empty() || names.count(name)))
      name = shape.kind().label + " " + std::to_string(++unnamed[shape.kind().name]);
    if (!names.insert(name).second) given->fail("another works has this name", "give each a name of its own");
    if (const auto ground = works::groundNamed(shape)) {
      const bool known = std::any_of(project->column.begin(), project->column.end(),
                                     [&](const auto& g) { return g->name == *ground; });
      if (!known) project = bringInGround(*project, *ground);
    }
    const WorksId id{project->nextId};
    project = project::withNewWorks(*project, project->finished(), name, shape);
    ids[name] = id;
    if (const auto from = at.find("level_from")) ties.push_back({id, *from});
    works::Works works = *project->works(id).works;
    for (const auto& [member, said] : {std::pair{"material", &works.material}, {"phase", &works.phase}}) {
      if (const auto text = item.find(member)) *said = text->text();
    }
    if (works != *project->works(id).works) project = project::withWorks(*project, works);
  }
  for (const LevelFrom& tie : ties) project = tied(std::move(project), tie, ids);
  return project;
}

}  // namespace

project::ProjectPtr withDesign(const project::Project& before, std::string_view text, const std::string& file,
                               const BringInGround& bringInGround) {
  const json parsed = parsedStrictly(text, file);
  const JsonCursor root(parsed, file);
  root.only({"name", "sections", "works", "strips", "undercuts", "buildups", "regions", "materials", "accuracy"});
  project::ProjectPtr project = std::make_shared<project::Project>(before);
  if (const auto name = root.find("name")) project = project::withName(*project, name->text());
  project = withSectionsOf(root, std::move(project));
  std::map<std::string, WorksId> ids;
  if (const auto list = root.find("works")) project = withWorksOf(*list, std::move(project), bringInGround, ids);
  return withStagesOf(root, *project, ids);
}

namespace {

void addCorners(OrderedJson& j, works::CornerStyle corners) {
  if (corners == works::CornerStyle::square) j["corners"] = "square";
}

void addSection(OrderedJson& j, const char* name, const works::SectionsAlong& sections) {
  if (!sections.empty()) j[name] = works::toJson(sections);
}

void write(OrderedJson& j, const works::Pad& pad, const Origin& origin) {
  const bool turn = pad.writtenClockwise;
  plane::Ring outline = pad.outline;
  works::Numbers levels = pad.cornerLevels;
  if (turn) {
    std::reverse(outline.begin() + 1, outline.end());
    if (levels.size() > 1) std::reverse(levels.begin() + 1, levels.end());
  }
  j["outline"] = pointsJson(outline, origin);
  switch (pad.top) {
    case works::PadTop::tilted:
      j["level"] = pad.level, j["fall_percent"] = pad.fall, j["bearing_deg"] = pad.bearing;
      break;
    case works::PadTop::fitted:
      j["fit"] = {{"max_fall_percent", pad.greatestFall}, {"offset", pad.offset}};
      break;
    case works::PadTop::corners:
      j["corner_levels"] = levels;
      break;
    case works::PadTop::onGround:
      j["on_ground"] = pad.offset;
      break;
    case works::PadTop::ridge:
      j["ridge"] = {{"line", pointsJson(pad.ridge, origin)}, {"level", pad.level}, {"fall_percent", pad.fall}};
      break;
    default:
      j["level"] = pad.level;
  }
  addCorners(j, pad.batters.corners);
  if (pad.space > 0) j["space"] = pad.space;
  if (pad.building) j["building"] = true;
  works::SectionsAlong section = works::orBatter(pad.section, pad.batters);
  if (turn) section = turnedRound(section, works::lengthOf(pad.outline, true));
  addSection(j, "section", section);
  if (pad.edges.empty()) return;
  OrderedJson edges = OrderedJson::array();
  for (works::EdgeSection edge : pad.edges) {
    if (turn) edge.edge = pad.outline.size() - 1 - edge.edge;
    edges.push_back(OrderedJson(works::toJson(edge)));
  }
  j["edges"] = std::move(edges);
}

void write(OrderedJson& j, const works::Ramp& ramp, const Origin& origin) {
  const auto end = [&](Vec2 p, double level) {
    return OrderedJson{p.x + origin.easting, p.y + origin.northing, level};
  };
  j["from"] = end(ramp.axis.front(), ramp.from);
  j["to"] = end(ramp.axis.back(), ramp.to);
  if (ramp.axis.size() > 2) j["via"] = pointsJson({ramp.axis.begin() + 1, ramp.axis.end() - 1}, origin);
  j["width"] = ramp.width;
  if (ramp.fromJoins || ramp.toJoins) j["joins"] = !ramp.toJoins ? "from" : !ramp.fromJoins ? "to" : "both";
  if (ramp.greatest > 0) j["max_grade_percent"] = ramp.greatest;
  addSection(j, "left", ramp.left), addSection(j, "right", ramp.right);
  addCorners(j, ramp.corners);
}

void write(OrderedJson& j, const works::Run& run, const Origin& origin) {
  j["line"] = pointsJson(run.line, origin);
  j["levels"] = run.levels;
  if (!run.curves.empty()) j["curves"] = run.curves;
  addSection(j, "left", run.left), addSection(j, "right", run.right);
  if (run.closed) j["closed"] = true;
  j["ends"] = run.ends == works::RunEnds::wrapped ? "wrapped" : "open";
  if (run.part) j["from_station"] = run.fromStation, j["to_station"] = run.toStation;
  addCorners(j, run.corners);
}

void write(OrderedJson& j, const works::Pond& pond, const Origin& origin) {
  j["drawn"] = pond.drawn == works::PondDrawn::bottom ? "bottom"
               : pond.drawn == works::PondDrawn::top  ? "top"
                                                      : "water";
  j["outline"] = pointsJson(pond.outline, origin);
  j["bottom"] = pond.bottom, j["top"] = pond.top;
  if (pond.hasWater()) j["water"] = pond.water;
  j["inside"] = slopeJson(pond.inside);
  if (pond.benchWidth > 0) j["bench"] = {{"height", pond.benchHeight}, {"width", pond.benchWidth}};
  if (pond.crest > 0) j["crest"] = pond.crest;
  if (pond.wanted > 0) j["wanted_m3"] = pond.wanted;
  addSection(j, "section", pond.section);
  addCorners(j, pond.corners);
}

void write(OrderedJson& j, const works::Berm& berm, const Origin& origin) {
  j["line"] = pointsJson(berm.line, origin);
  j["width"] = berm.width;
  if (berm.by == works::BermBy::height) j["height"] = berm.height;
  if (berm.by == works::BermBy::level) j["level"] = berm.level;
  if (berm.by == works::BermBy::levels) j["levels"] = berm.levels;
  j["slope"] = slopeJson(berm.slope);
  addCorners(j, berm.corners);
}

void write(OrderedJson& j, const works::Swale& swale, const Origin& origin) {
  j["line"] = pointsJson(swale.line, origin);
  j["width"] = swale.width;
  if (swale.by == works::SwaleBy::depth) j["depth"] = swale.depth;
  if (swale.by == works::SwaleBy::levels) j["levels"] = swale.levels;
  j["slope"] = slopeJson(swale.slope);
  addCorners(j, swale.corners);
}

void write(OrderedJson& j, const works::LevelArea& area, const Origin& origin) {
  j["outline"] = pointsJson(area.outline, origin);
  j["level"] = area.level;
  if (!area.adjust.empty()) j["adjust"] = works::toJson(area.adjust);
  if (area.space > 0) j["space"] = area.space;
}

void write(OrderedJson& j, const works::Inlay& inlay, const Origin& origin) {
  j["ground"] = inlay.ground.name;
  j["how"] = inlay.how == works::InlayHow::over ? "over" : inlay.how == works::InlayHow::lower ? "lower" : "higher";
  if (!inlay.outline.empty()) j["outline"] = pointsJson(inlay.outline, origin);
  if (inlay.how == works::InlayHow::over) addSection(j, "section", inlay.section);
  addCorners(j, inlay.corners);
}

void write(OrderedJson& j, const works::Sculpt& sculpt, const Origin& origin) {
  j["outline"] = pointsJson(sculpt.outline, origin);
  OrderedJson contours = OrderedJson::array();
  for (const works::Contour& c : sculpt.contours)
    contours.push_back({{"level", c.level}, {"line", pointsJson(c.line, origin)}});
  j["contours"] = std::move(contours);
}

template <class T>
bool writeAs(OrderedJson& j, const works::Shape& shape, const Origin& origin) {
  const T* is = shape.as<T>();
  if (is) write(j, *is, origin);
  return is;
}

// One member a line down to the members of works; what is deeper on one line.
void layOut(std::string& out, const OrderedJson& j, int depth, int deepest) {
  const std::string indent(static_cast<std::size_t>(2 * depth), ' ');
  if (depth >= deepest || !j.is_structured() || j.empty()) {
    out += j.dump(-1, ' ', false, OrderedJson::error_handler_t::replace);
    return;
  }
  out += j.is_array() ? "[\n" : "{\n";
  bool first = true;
  for (const auto& [name, value] : j.items()) {
    if (!std::exchange(first, false)) out += ",\n";
    out += indent + "  ";
    if (j.is_object()) out += OrderedJson(name).dump() + ": ";
    layOut(out, value, depth + 1, deepest);
  }
  out += "\n" + indent + (j.is_array() ? "]" : "}");
}

}  // namespace

std::string designOf(const project::Project& project) {
  OrderedJson root;
  root["name"] = project.name;
  if (!project.sections.empty()) root["sections"] = works::toJson(project.sections);
  root["works"] = OrderedJson::array();
  std::set<std::string> names;
  std::map<WorksId, std::string> nameOf;
  for (const auto& w : project.ground(project.finished())->works) {
    if (w->leftOut) continue;
    std::string name = w->name;
    for (int k = 2; !names.insert(name).second; ++k) name = w->name + " " + std::to_string(k);
    nameOf[w->id] = name;
  }
  for (const auto& w : project.ground(project.finished())->works) {
    if (w->leftOut) continue;
    OrderedJson j{{"kind", w->shape.kind().name}, {"name", nameOf.at(w->id)}};
    const works::Shape& shape = w->shape;
    const Origin& origin = project.origin;
    [[maybe_unused]] const bool written =
        writeAs<works::Pad>(j, shape, origin) || writeAs<works::Ramp>(j, shape, origin) ||
        writeAs<works::Run>(j, shape, origin) || writeAs<works::Pond>(j, shape, origin) ||
        writeAs<works::Berm>(j, shape, origin) || writeAs<works::Swale>(j, shape, origin) ||
        writeAs<works::LevelArea>(j, shape, origin) || writeAs<works::Inlay>(j, shape, origin) ||
        writeAs<works::Sculpt>(j, shape, origin);
    if (!w->material.empty()) j["material"] = w->material;
    if (!w->phase.empty()) j["phase"] = w->phase;
    const auto to = w->tie ? nameOf.find(w->tie->to) : nameOf.end();
    if (to != nameOf.end() && (shape.as<works::Pad>() || shape.as<works::LevelArea>()))
      j["level_from"] = {{"works", to->second}, {"plus", w->tie->plus}};
    root["works"].push_back(std::move(j));
  }
  addStages(root, project.stages, nameOf, project.origin);
  std::string out;
  layOut(out, root, 0, 3);
  return out + "\n";
}

}  // namespace inselberg::exchange
