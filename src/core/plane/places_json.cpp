#include "plane/places_json.h"

#include <cmath>

#include "base/error.h"

namespace inselberg::plane {

using nlohmann::json;

double finite(const json& j) {
  const double v = j.get<double>();
  if (!(std::abs(v) <= 1e9)) throw Error("a number is out of range", "the file is damaged");
  return v;
}

json placesToJson(const std::vector<Vec2>& places) {
  json list = json::array();
  for (const Vec2 p : places) list.push_back({p.x, p.y});
  return list;
}

std::vector<Vec2> placesFromJson(const json& list) {
  std::vector<Vec2> places;
  for (const json& p : list) places.push_back({finite(p.at(0)), finite(p.at(1))});
  return places;
}

}  // namespace inselberg::plane
