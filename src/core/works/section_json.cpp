#include "works/section_json.h"

#include <fmt/format.h>

namespace inselberg::works {

using nlohmann::json;

namespace {

json slopeText(double run) {
  return fmt::format("{:.17g}:1", run);
}

json toJson(const Leg& leg) {
  switch (leg.kind) {
    case Leg::Kind::out:
      return {{"out", leg.width}, {"fall_percent", leg.fall}};
    case Leg::Kind::by:
      return {{"by", leg.height}, {"slope", slopeText(leg.slope)}};
    case Leg::Kind::toLevel:
      return {{"to_level", leg.level}, {"slope", slopeText(leg.slope)}};
    case Leg::Kind::toGround:
      break;
  }
  json batter{{"cut", slopeText(leg.cut)}, {"fill", slopeText(leg.fill)}};
  if (leg.bench)
    batter["bench"] = {{"every", leg.bench->every}, {"width", leg.bench->width}, {"fall_percent", leg.bench->fall}};
  return {{"to_ground", std::move(batter)}};
}

Leg legFrom(const JsonCursor& at) {
  Leg leg;
  const auto slope = [&] {
    if (const auto s = at.find("slope")) leg.slope = slopeFrom(*s);
  };
  if (const auto out = at.find("out")) {
    at.only({"out", "fall_percent"});
    leg.kind = Leg::Kind::out;
    leg.width = out->number();
    if (const auto fall = at.find("fall_percent")) leg.fall = fall->number();
  } else if (const auto by = at.find("by")) {
    at.only({"by", "slope"});
    leg.kind = Leg::Kind::by;
    leg.height = by->number();
    slope();
  } else if (const auto level = at.find("to_level")) {
    at.only({"to_level", "slope"});
    leg.kind = Leg::Kind::toLevel;
    leg.level = level->number();
    slope();
  } else if (const auto ground = at.find("to_ground")) {
    at.only({"to_ground"});
    ground->only({"cut", "fill", "bench"});
    if (const auto cut = ground->find("cut")) leg.cut = slopeFrom(*cut);
    if (const auto fill = ground->find("fill")) leg.fill = slopeFrom(*fill);
    if (const auto bench = ground->find("bench")) {
      bench->only({"every", "width", "fall_percent"});
      leg.bench.emplace();
      leg.bench->every = bench->member("every").number();
      leg.bench->width = bench->member("width").number();
      if (const auto fall = bench->find("fall_percent")) leg.bench->fall = fall->number();
    }
  } else {
    at.only({"out", "by", "to_level", "to_ground"});
    at.fail("a leg is wanted here", "write one of out, by, to_level and to_ground");
  }
  return leg;
}

}  // namespace

json toJson(const Section& section) {
  json list = json::array();
  for (const Leg& leg : section) list.push_back(toJson(leg));
  return list;
}

json toJson(const NamedOrLegs& section) {
  return section.name.empty() ? toJson(section.legs) : json(section.name);
}

json toJson(const SectionsAlong& sections) {
  if (sections.size() == 1 && sections.front().station == 0) return toJson(sections.front().section);
  json list = json::array();
  for (const SectionAt& at : sections) list.push_back({{"at", at.station}, {"section", toJson(at.section)}});
  return list;
}

double slopeFrom(const JsonCursor& at) {
  const auto slope = at.isText() ? parseSlope(at.text()) : std::optional(Slope::horizontalPerVertical(at.number()));
  if (!slope || !(slope->run() >= kSteepest && slope->run() <= kFlattest))
    at.fail("this is not a usable slope", "write it like \"2:1\", \"33 %\", \"26.6 deg\" or the run as a number");
  return slope->run();
}

Section sectionFrom(const JsonCursor& at) {
  Section section;
  for (const JsonCursor& item : at.items()) section.push_back(legFrom(item));
  if (const auto why = wrong(section)) at.fail("the section " + *why, "mend that leg");
  return section;
}

NamedOrLegs namedOrLegsFrom(const JsonCursor& at) {
  if (at.isText()) return {at.text(), {}};
  if (!at.isList()) at.fail("a section is wanted here", "write a list of legs, or the name of one in sections");
  return {{}, sectionFrom(at)};
}

SectionsAlong sectionsFrom(const JsonCursor& at) {
  const bool along = at.isList() && !at.value().empty() && at.value().front().is_object() &&
                     (at.value().front().contains("at") || at.value().front().contains("section"));
  if (!along) return {{0, namedOrLegsFrom(at)}};
  SectionsAlong sections;
  for (const JsonCursor& item : at.items()) {
    item.only({"at", "section"});
    sections.push_back({item.member("at").number(), namedOrLegsFrom(item.member("section"))});
  }
  if (const auto why = wrong(sections)) at.fail("this " + *why, "mend that");
  return sections;
}

json toJson(const EdgeSection& edge) {
  json j{{"edge", edge.edge}};
  if (edge.section.name.empty() && edge.section.legs.empty())
    j["wall"] = true;
  else
    j["section"] = toJson(edge.section);
  return j;
}

EdgeSection edgeFrom(const JsonCursor& at) {
  at.only({"edge", "wall", "section"});
  EdgeSection edge;
  const double number = at.member("edge").number();
  if (number < 0 || number != static_cast<double>(static_cast<std::size_t>(number)))
    at.member("edge").fail("this is no edge", "count the edges from 0");
  edge.edge = static_cast<std::size_t>(number);
  const auto wall = at.find("wall");
  const auto section = at.find("section");
  const bool isWall = wall && wall->flag();
  if (isWall == section.has_value()) at.fail("an edge is either a wall or has a section", "give one of the two");
  if (section) edge.section = namedOrLegsFrom(*section);
  return edge;
}

Stations stationsFrom(const JsonCursor& at) {
  Stations stations;
  for (const JsonCursor& item : at.items()) {
    const auto pair = item.items();
    if (pair.size() != 2) item.fail("a station and a number are wanted here", "write them as [station, number]");
    stations.push_back({pair[0].number(), pair[1].number()});
    if (stations.size() > 1 && !(stations.back()[0] > stations[stations.size() - 2][0]))
      item.fail("the stations do not rise", "put them in order");
  }
  return stations;
}

Numbers numbersFrom(const JsonCursor& at) {
  Numbers numbers;
  for (const JsonCursor& item : at.items()) numbers.push_back(item.number());
  return numbers;
}

json toJson(const Adjustments& adjustments) {
  json list = json::array();
  for (const Adjustment& a : adjustments) list.push_back({{"by", a.by}, {"reason", a.reason}});
  return list;
}

Adjustments adjustmentsFrom(const JsonCursor& at) {
  Adjustments all;
  for (const JsonCursor& item : at.items()) {
    item.only({"by", "reason"});
    all.push_back({item.member("by").number(), {}});
    if (const auto reason = item.find("reason")) all.back().reason = reason->text();
  }
  return all;
}

nlohmann::ordered_json toJson(const std::vector<NamedSection>& sections) {
  auto j = nlohmann::ordered_json::object();
  for (const NamedSection& s : sections) j[s.name] = toJson(s.legs);
  return j;
}

std::vector<NamedSection> namedSectionsFrom(const JsonCursor& at) {
  if (!at.isObject()) at.fail("an object is wanted here", "write {\"NAME\": [legs]}");
  std::vector<NamedSection> sections;
  for (const auto& [name, legs] : at.value().items()) sections.push_back({name, sectionFrom(*at.find(name))});
  return sections;
}

}  // namespace inselberg::works
