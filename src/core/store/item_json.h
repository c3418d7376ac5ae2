// The items of a project as JSON: the words of the file format.
#pragma once

#include <nlohmann/json.hpp>

#include "project/project.h"

namespace inselberg::store {

nlohmann::json toJson(const works::Works& works);
nlohmann::json toJson(const project::Ground& ground);

// Throw nlohmann exceptions, Error or std::out_of_range for what is not well formed.
works::Works worksFromJson(WorksId id, const nlohmann::json& json, works::Kinds kinds);
// Fills all but the works; returns their ids in order.
std::vector<WorksId> groundFromJson(const nlohmann::json& json, project::Ground& ground);

// A kept result without its picture, which is bulk data of this name.
nlohmann::json toJson(const project::KeptResult& kept, const std::string& picture);
project::KeptResult keptFromJson(std::uint64_t id, const nlohmann::json& j, std::string picture);

nlohmann::json toJson(const project::Layout& layout);
project::Layout layoutFromJson(const nlohmann::json& j);

// A plan sheet without its file's bytes, which are bulk data by its hash. Throws Error for a placement that is none.
nlohmann::json toJson(const project::PlanSheet& sheet);
project::SheetInfo sheetFromJson(const nlohmann::json& j);

}  // namespace inselberg::store
