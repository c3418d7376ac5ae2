// The items of a project as JSON: the words of the file format.
#pragma once

#include <nlohmann/json.hpp>

#include "project/project.h"

namespace inselberg::store {

nlohmann::json placesToJson(const std::vector<plane::Vec2>& places);
nlohmann::json toJson(const works::Works& works);
nlohmann::json toJson(const project::Ground& ground);

// A number of at most 1e9 either way; throws Error for another.
double finite(const nlohmann::json& json);

// Throw nlohmann exceptions, Error or std::out_of_range for what is not well formed.
std::vector<plane::Vec2> placesFromJson(const nlohmann::json& json);
works::Works worksFromJson(WorksId id, const nlohmann::json& json);
// Fills all but the works; returns their ids in order.
std::vector<WorksId> groundFromJson(const nlohmann::json& json, project::Ground& ground);

}  // namespace inselberg::store
