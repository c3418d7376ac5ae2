// Numbers and places as JSON, as they stand in files: checked when they are read.
#pragma once

#include <nlohmann/json.hpp>
#include <vector>

#include "plane/geometry.h"

namespace inselberg::plane {

// A number of at most 1e9 either way; throws Error for another.
double finite(const nlohmann::json& json);

// [[x, y]...]; reading throws nlohmann exceptions for another form.
nlohmann::json placesToJson(const std::vector<Vec2>& places);
std::vector<Vec2> placesFromJson(const nlohmann::json& json);

}  // namespace inselberg::plane
