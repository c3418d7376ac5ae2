#include "exchange/design_stages.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

namespace inselberg::exchange {
namespace {

using project::Stages;

// Names are given where they are missing, and differ.
class Names {
 public:
  explicit Names(std::string kind) : kind_(std::move(kind)) {}
  std::string of(const JsonCursor& item) {
    const auto given = item.find("name");
    std::string name = given ? given->text() : kind_ + " " + std::to_string(++unnamed_);
    while (!given && taken_.count(name)) name = kind_ + " " + std::to_string(++unnamed_);
    if (!taken_.insert(name).second)
      given->fail("another one of this list has this name", "give each a name of its own");
    return name;
  }

 private:
  std::string kind_;
  int unnamed_ = 0;
  std::set<std::string> taken_;
};

// Calls f(item, name) for the items of a list, told by their names.
template <class F>
void each(const JsonCursor& root, const char* member, const char* kind, F&& f) {
  const auto list = root.find(member);
  if (!list) return;
  Names names(kind);
  for (const JsonCursor& item : list->items()) {
    const std::string name = names.of(item);
    f(item.named(name), name);
  }
}

std::vector<WorksId> worksFrom(const JsonCursor& at, const std::map<std::string, WorksId>& works) {
  std::vector<WorksId> ids;
  for (const JsonCursor& item : at.items()) {
    const auto found = works.find(item.text());
    if (found == works.end()) item.fail("there are no works \"" + item.text() + "\"", "write the name of one");
    ids.push_back(found->second);
  }
  if (ids.empty()) at.fail("no works are named", "name one at least");
  return ids;
}

// One of two members, and not both.
bool isFirst(const JsonCursor& at, const char* first, const char* second) {
  const auto one = at.find(first), other = at.find(second);
  if (one && other) other->fail(std::string("it stands beside \"") + first + "\"", "keep one of them");
  if (!one && !other) at.fail(std::string("it has neither ") + first + " nor " + second, "add one of them");
  return one.has_value();
}

std::string materialFrom(const JsonCursor& at) {
  const auto material = at.find("material");
  return material ? material->text() : std::string();
}

std::string phaseFrom(const JsonCursor& at) {
  const auto phase = at.find("phase");
  return phase ? phase->text() : std::string();
}

std::vector<plane::Ring> ringsFrom(const std::optional<JsonCursor>& at, const Origin& origin) {
  std::vector<plane::Ring> rings;
  if (at) {
    for (const JsonCursor& item : at->items()) rings.push_back(outlineFrom(item, origin).ring);
  }
  return rings;
}

works::Strip stripFrom(const JsonCursor& at, const std::string& name, const std::map<std::string, WorksId>& works,
                       const Origin& origin) {
  at.only({"name", "outline", "under", "margin", "except", "depth", "pits", "material", "phase"});
  works::Strip strip;
  strip.name = name;
  if (isFirst(at, "outline", "under")) {
    strip.outline = outlineFrom(at.member("outline"), origin).ring;
    if (const auto margin = at.find("margin")) margin->fail("an outline has no margin", "draw it wider");
  } else {
    strip.under = worksFrom(at.member("under"), works);
    strip.margin = lengthOr(at.find("margin"), 0);
  }
  strip.except = ringsFrom(at.find("except"), origin);
  if (isFirst(at, "depth", "pits")) {
    strip.depth = lengthOr(at.find("depth"), 0);
  } else {
    const JsonCursor pits = at.member("pits");
    for (const JsonCursor& item : pits.items()) {
      strip.pits.push_back(threeFrom(item, origin));
      if (strip.pits.back().z < 0) item.fail("a depth cannot be negative", "write 0 or more");
    }
    if (strip.pits.empty()) pits.fail("there are no pits", "give one at least, or a depth");
  }
  strip.material = materialFrom(at), strip.phase = phaseFrom(at);
  return strip;
}

std::vector<works::Layer> layersFrom(const JsonCursor& list) {
  std::vector<works::Layer> layers;
  Names names("layer");
  for (const JsonCursor& item : list.items()) {
    item.only({"name", "thickness", "from_site"});
    works::Layer layer{names.of(item), lengthOr(item.member("thickness"), 0)};
    if (const auto site = item.find("from_site")) layer.fromSite = site->flag();
    layers.push_back(std::move(layer));
  }
  return layers;
}

works::Undercut undercutFrom(const JsonCursor& at, const std::string& name, const std::map<std::string, WorksId>& works,
                             const Origin& origin) {
  at.only({"name", "under", "line", "width", "levels", "depth", "wider", "back_slope", "below", "layers", "material",
           "phase"});
  works::Undercut u;
  u.name = name;
  if (isFirst(at, "under", "line")) {
    u.under = worksFrom(at.member("under"), works);
    for (const char* member : {"width", "levels"}) {
      if (const auto other = at.find(member)) other->fail("it goes with a line only", "take it out");
    }
    u.depth = lengthOr(at.member("depth"), 0);
  } else {
    u.line = lineFrom(at.member("line"), origin);
    const JsonCursor width = at.member("width");
    u.width = width.number();
    if (u.width <= 0) width.fail("a width is more than 0", "mend it");
    u.byLevels = isFirst(at, "levels", "depth");
    if (u.byLevels) {
      u.levels = works::stationsFrom(at.member("levels"));
      const works::Grades grades(u.levels, {});
      if (const auto why = grades.wrong(works::lengthOf(u.line, false))) at.fail("its line " + *why, "mend the levels");
    } else {
      u.depth = lengthOr(at.find("depth"), 0);
    }
  }
  u.wider = lengthOr(at.find("wider"), 0);
  u.backSlope = slopeOr(at.find("back_slope"), 1);
  if (const auto below = at.find("below")) {
    if (below->text() != "formation" && below->text() != "stripped")
      below->fail("nothing is dug below that", "write formation or stripped");
    u.below = below->text() == "stripped" ? works::UndercutBelow::stripped : works::UndercutBelow::formation;
  }
  if (const auto layers = at.find("layers")) u.layers = layersFrom(*layers);
  u.material = materialFrom(at), u.phase = phaseFrom(at);
  return u;
}

works::BuildUp buildUpFrom(const JsonCursor& at, const std::string& name, const std::map<std::string, WorksId>& works,
                           const Origin& origin) {
  at.only({"name", "over", "outline", "part", "layers", "slope_true", "phase"});
  works::BuildUp b;
  b.name = name;
  if (isFirst(at, "over", "outline")) {
    b.over = worksFrom(at.member("over"), works);
  } else {
    b.outline = outlineFrom(at.member("outline"), origin).ring;
  }
  if (const auto part = at.find("part")) {
    const std::string word = part->text();
    if (word != "top" && word != "batters" && word != "all")
      part->fail("works have no such part", "write top, batters or all");
    if (b.over.empty() && word != "all") part->fail("an outline has no parts", "take it out");
    b.part = word == "top"       ? works::BuildUpPart::top
             : word == "batters" ? works::BuildUpPart::batters
                                 : works::BuildUpPart::all;
  }
  b.layers = layersFrom(at.member("layers"));
  if (const auto slope = at.find("slope_true")) b.slopeTrue = slope->flag();
  b.phase = phaseFrom(at);
  return b;
}

project::Region regionFrom(const JsonCursor& at, const std::string& name, const Origin& origin) {
  at.only({"name", "outline", "holes"});
  project::Region region{name, {outlineFrom(at.member("outline"), origin).ring, ringsFrom(at.find("holes"), origin)}};
  for (plane::Ring& hole : region.area.holes) std::reverse(hole.begin() + 1, hole.end());
  try {
    region.area = plane::sound(region.area, origin);
  } catch (const Error& e) {
    at.fail(e.happened(), e.hint());
  }
  return region;
}

project::Material materialOf(const JsonCursor& at, const std::string& name) {
  at.only({"name", "bulking", "shrinkage", "usable", "rates"});
  project::Material m{name};
  m.bulking = lengthOr(at.find("bulking"), 0);
  m.shrinkage = numberOr(at.find("shrinkage"), 0);
  if (m.shrinkage >= 1) at.member("shrinkage").fail("all of it would be gone", "write a share below 1, like 0.1");
  m.usable = lengthOr(at.find("usable"), 1);
  if (m.usable > 1) at.member("usable").fail("this is more than all of it", "write a share from 0 to 1");
  if (const auto rates = at.find("rates")) {
    rates->only({"cut", "haul"});
    m.cutRate = numberOr(rates->find("cut"), 0), m.haulRate = numberOr(rates->find("haul"), 0);
  }
  return m;
}

}  // namespace

project::ProjectPtr withStagesOf(const JsonCursor& root, const project::Project& project,
                                 const std::map<std::string, WorksId>& works) {
  const Origin& origin = project.origin;
  Stages stages;
  each(root, "strips", "Strip", [&](const JsonCursor& at, const std::string& name) {
    stages.strips.push_back(stripFrom(at, name, works, origin));
  });
  each(root, "undercuts", "Undercut", [&](const JsonCursor& at, const std::string& name) {
    stages.undercuts.push_back(undercutFrom(at, name, works, origin));
  });
  each(root, "buildups", "Build-up", [&](const JsonCursor& at, const std::string& name) {
    stages.buildUps.push_back(buildUpFrom(at, name, works, origin));
  });
  each(root, "regions", "Region",
       [&](const JsonCursor& at, const std::string& name) { stages.regions.push_back(regionFrom(at, name, origin)); });
  each(root, "materials", "Material",
       [&](const JsonCursor& at, const std::string& name) { stages.materials.push_back(materialOf(at, name)); });
  if (const auto list = root.find("accuracy")) {
    std::set<std::string> known;
    for (const JsonCursor& item : list->items()) {
      item.only({"source", "random", "systematic"});
      project::Accuracy a{item.member("source").text(), lengthOr(item.find("random"), 0),
                          lengthOr(item.find("systematic"), 0)};
      if (!known.insert(a.source).second) item.member("source").fail("this source is there twice", "keep one");
      stages.accuracy.push_back(std::move(a));
    }
  }
  return project::withStages(project, std::move(stages));
}

namespace {

OrderedJson namesJson(const std::vector<WorksId>& ids, const std::map<WorksId, std::string>& works) {
  OrderedJson list = OrderedJson::array();
  for (const WorksId id : ids) {
    if (const auto found = works.find(id); found != works.end()) list.push_back(found->second);
  }
  return list;
}

OrderedJson ringsJson(const std::vector<plane::Ring>& rings, const Origin& origin) {
  OrderedJson list = OrderedJson::array();
  for (const plane::Ring& ring : rings) list.push_back(pointsJson(ring, origin));
  return list;
}

OrderedJson stripJson(const works::Strip& s, const std::map<WorksId, std::string>& works, const Origin& origin) {
  OrderedJson j{{"name", s.name}};
  if (s.under.empty()) {
    j["outline"] = pointsJson(s.outline, origin);
  } else {
    j["under"] = namesJson(s.under, works);
    if (s.margin > 0) j["margin"] = s.margin;
  }
  if (!s.except.empty()) j["except"] = ringsJson(s.except, origin);
  if (s.pits.empty()) {
    j["depth"] = s.depth;
  } else {
    j["pits"] = OrderedJson::array();
    for (const plane::Vec3& p : s.pits) j["pits"].push_back({p.x + origin.easting, p.y + origin.northing, p.z});
  }
  if (!s.material.empty()) j["material"] = s.material;
  if (!s.phase.empty()) j["phase"] = s.phase;
  return j;
}

OrderedJson layersJson(const std::vector<works::Layer>& layers) {
  OrderedJson list = OrderedJson::array();
  for (const works::Layer& layer : layers) {
    list.push_back({{"name", layer.name}, {"thickness", layer.thickness}});
    if (layer.fromSite) list.back()["from_site"] = true;
  }
  return list;
}

OrderedJson undercutJson(const works::Undercut& u, const std::map<WorksId, std::string>& works, const Origin& origin) {
  OrderedJson j{{"name", u.name}};
  if (u.under.empty()) {
    j["line"] = pointsJson(u.line, origin);
    j["width"] = u.width;
    if (u.byLevels) j["levels"] = u.levels;
  } else {
    j["under"] = namesJson(u.under, works);
  }
  if (!u.byLevels) j["depth"] = u.depth;
  if (u.wider > 0) j["wider"] = u.wider;
  j["back_slope"] = slopeJson(Slope::horizontalPerVertical(u.backSlope));
  j["below"] = u.below == works::UndercutBelow::formation ? "formation" : "stripped";
  if (!u.layers.empty()) j["layers"] = layersJson(u.layers);
  if (!u.material.empty()) j["material"] = u.material;
  if (!u.phase.empty()) j["phase"] = u.phase;
  return j;
}

OrderedJson buildUpJson(const works::BuildUp& b, const std::map<WorksId, std::string>& works, const Origin& origin) {
  OrderedJson j{{"name", b.name}};
  if (b.over.empty()) {
    j["outline"] = pointsJson(b.outline, origin);
  } else {
    j["over"] = namesJson(b.over, works);
    j["part"] = b.part == works::BuildUpPart::top ? "top" : b.part == works::BuildUpPart::batters ? "batters" : "all";
  }
  j["layers"] = layersJson(b.layers);
  if (b.slopeTrue) j["slope_true"] = true;
  if (!b.phase.empty()) j["phase"] = b.phase;
  return j;
}

}  // namespace

void addStages(OrderedJson& root, const Stages& stages, const std::map<WorksId, std::string>& works,
               const Origin& origin) {
  const auto add = [&](const char* member, const auto& items, const auto& make) {
    for (const auto& item : items) {
      OrderedJson j = make(item);
      if (!j.is_null()) root[member].push_back(std::move(j));
    }
  };
  // What belongs to works of which none is left does nothing.
  const auto lost = [&](const std::vector<WorksId>& ids) { return !ids.empty() && namesJson(ids, works).empty(); };
  add("strips", stages.strips,
      [&](const works::Strip& s) { return s.leftOut || lost(s.under) ? OrderedJson() : stripJson(s, works, origin); });
  add("undercuts", stages.undercuts, [&](const works::Undercut& u) {
    return u.leftOut || lost(u.under) ? OrderedJson() : undercutJson(u, works, origin);
  });
  add("buildups", stages.buildUps, [&](const works::BuildUp& b) {
    return b.leftOut || lost(b.over) ? OrderedJson() : buildUpJson(b, works, origin);
  });
  add("regions", stages.regions, [&](const project::Region& r) {
    OrderedJson j{{"name", r.name}, {"outline", pointsJson(r.area.outer, origin)}};
    if (!r.area.holes.empty()) j["holes"] = ringsJson(r.area.holes, origin);
    return j;
  });
  add("materials", stages.materials, [&](const project::Material& m) {
    return OrderedJson{{"name", m.name},
                       {"bulking", m.bulking},
                       {"shrinkage", m.shrinkage},
                       {"usable", m.usable},
                       {"rates", {{"cut", m.cutRate}, {"haul", m.haulRate}}}};
  });
  add("accuracy", stages.accuracy, [&](const project::Accuracy& a) {
    return OrderedJson{{"source", a.source}, {"random", a.random}, {"systematic", a.systematic}};
  });
}

}  // namespace inselberg::exchange
