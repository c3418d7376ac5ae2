#include "store/stages_json.h"

#include <algorithm>
#include <nlohmann/json.hpp>

#include "plane/places_json.h"

namespace inselberg::store {
namespace {

using nlohmann::json;

// Reading and writing go over the same list of members: `take(name, member)` for each.
class Writer {
 public:
  explicit Writer(json& j) : j_(j) {}
  template <class T>
  void take(const char* name, const T& value) {
    j_[name] = value;
  }
  void take(const char* name, const WorksId& id) { j_[name] = id.value; }
  void take(const char* name, const std::vector<WorksId>& ids) {
    j_[name] = json::array();
    for (const WorksId id : ids) j_[name].push_back(id.value);
  }
  void take(const char* name, const std::vector<plane::Vec2>& places) { j_[name] = plane::placesToJson(places); }
  void take(const char* name, const std::vector<plane::Ring>& rings) {
    j_[name] = json::array();
    for (const plane::Ring& ring : rings) j_[name].push_back(plane::placesToJson(ring));
  }
  void take(const char* name, const std::vector<plane::Vec3>& points) {
    j_[name] = json::array();
    for (const plane::Vec3& p : points) j_[name].push_back({p.x, p.y, p.z});
  }
  void takeLater(const char* name, const std::string& text) { take(name, text); }
  void takeLeftOut(bool flag) { take("left_out", flag); }
  void take(const char* name, works::UndercutBelow below) { j_[name] = static_cast<int>(below); }
  void take(const char* name, works::BuildUpPart part) { j_[name] = static_cast<int>(part); }

 private:
  json& j_;
};

class Reader {
 public:
  explicit Reader(const json& j) : j_(j) {}
  // Since version 10.
  void takeLater(const char* name, std::string& text) { text = j_.value(name, std::string()); }
  // By another name before version 13.
  void takeLeftOut(bool& flag) { take(j_.contains("left_out") ? "left_out" : "hidden", flag); }
  void take(const char* name, std::string& text) { text = j_.at(name).get<std::string>(); }
  void take(const char* name, bool& flag) { flag = j_.at(name).get<bool>(); }
  void take(const char* name, double& number) { number = plane::finite(j_.at(name)); }
  void take(const char* name, WorksId& id) { id.value = j_.at(name).get<std::uint64_t>(); }
  void take(const char* name, std::vector<WorksId>& ids) {
    for (const json& id : j_.at(name)) ids.push_back(WorksId{id.get<std::uint64_t>()});
  }
  void take(const char* name, std::vector<plane::Vec2>& places) { places = plane::placesFromJson(j_.at(name)); }
  void take(const char* name, std::vector<plane::Ring>& rings) {
    for (const json& ring : j_.at(name)) rings.push_back(plane::placesFromJson(ring));
  }
  void take(const char* name, std::vector<plane::Vec3>& points) {
    for (const json& p : j_.at(name))
      points.push_back({plane::finite(p.at(0)), plane::finite(p.at(1)), plane::finite(p.at(2))});
  }
  void take(const char* name, works::Stations& stations) {
    for (const json& s : j_.at(name)) stations.push_back({plane::finite(s.at(0)), plane::finite(s.at(1))});
  }
  void take(const char* name, works::UndercutBelow& below) {
    below = j_.at(name).get<int>() == 0 ? works::UndercutBelow::formation : works::UndercutBelow::stripped;
  }
  void take(const char* name, works::BuildUpPart& part) {
    part = static_cast<works::BuildUpPart>(std::clamp(j_.at(name).get<int>(), 0, 2));
  }

 private:
  const json& j_;
};

template <class Way, class Item>
void members(Way& way, Item& item) {
  using T = std::remove_cvref_t<Item>;
  way.take("name", item.name);
  if constexpr (std::is_same_v<T, works::Strip>) {
    way.take("id", item.id), way.takeLeftOut(item.leftOut), way.take("outline", item.outline);
    way.take("under", item.under), way.take("margin", item.margin), way.take("except", item.except);
    way.take("depth", item.depth), way.take("pits", item.pits), way.take("material", item.material);
    way.takeLater("phase", item.phase);
  } else if constexpr (std::is_same_v<T, works::Undercut>) {
    way.take("id", item.id), way.takeLeftOut(item.leftOut), way.take("under", item.under);
    way.take("line", item.line), way.take("width", item.width), way.take("by_levels", item.byLevels);
    way.take("levels", item.levels), way.take("depth", item.depth), way.take("below", item.below);
    way.take("wider", item.wider), way.take("back_slope", item.backSlope), way.take("material", item.material);
    way.takeLater("phase", item.phase);
  } else if constexpr (std::is_same_v<T, works::BuildUp>) {
    way.take("id", item.id), way.takeLeftOut(item.leftOut), way.take("over", item.over);
    way.take("outline", item.outline), way.take("part", item.part), way.take("slope_true", item.slopeTrue);
    way.takeLater("phase", item.phase);
  } else if constexpr (std::is_same_v<T, works::Layer>) {
    way.take("thickness", item.thickness), way.take("from_site", item.fromSite);
  } else if constexpr (std::is_same_v<T, project::Region>) {
    way.take("outline", item.area.outer), way.take("holes", item.area.holes);
  } else {
    static_assert(std::is_same_v<T, project::Material>);
    way.take("bulking", item.bulking), way.take("shrinkage", item.shrinkage), way.take("usable", item.usable);
    way.take("cut_rate", item.cutRate), way.take("haul_rate", item.haulRate);
  }
}

template <class Item>
json listOf(const std::vector<Item>& items) {
  json list = json::array();
  for (const Item& item : items) {
    json j;
    Writer writer(j);
    members(writer, item);
    if constexpr (std::is_same_v<Item, works::BuildUp> || std::is_same_v<Item, works::Undercut>)
      j["layers"] = listOf(item.layers);
    list.push_back(std::move(j));
  }
  return list;
}

template <class Item>
std::vector<Item> listFrom(const json& list) {
  std::vector<Item> items;
  for (const json& j : list) {
    Item item;
    Reader reader(j);
    members(reader, item);
    if constexpr (std::is_same_v<Item, works::BuildUp>) item.layers = listFrom<works::Layer>(j.at("layers"));
    if constexpr (std::is_same_v<Item, works::Undercut>)  // since version 10
      item.layers = listFrom<works::Layer>(j.value("layers", json::array()));
    items.push_back(std::move(item));
  }
  return items;
}

}  // namespace

json toJson(const project::Stages& stages) {
  json accuracy = json::array();
  for (const project::Accuracy& a : stages.accuracy)
    accuracy.push_back({{"source", a.source}, {"random", a.random}, {"systematic", a.systematic}});
  return {{"strips", listOf(stages.strips)},       {"undercuts", listOf(stages.undercuts)},
          {"build_ups", listOf(stages.buildUps)},  {"regions", listOf(stages.regions)},
          {"materials", listOf(stages.materials)}, {"accuracy", accuracy}};
}

project::Stages stagesFromJson(const json& j) {
  project::Stages stages;
  stages.strips = listFrom<works::Strip>(j.at("strips"));
  stages.undercuts = listFrom<works::Undercut>(j.at("undercuts"));
  stages.buildUps = listFrom<works::BuildUp>(j.at("build_ups"));
  stages.regions = listFrom<project::Region>(j.at("regions"));
  stages.materials = listFrom<project::Material>(j.at("materials"));
  for (const json& a : j.at("accuracy"))
    stages.accuracy.push_back(
        {a.at("source").get<std::string>(), plane::finite(a.at("random")), plane::finite(a.at("systematic"))});
  return stages;
}

}  // namespace inselberg::store
