// The stages' items in the project file: positions relative to the origin, works by id.
#pragma once

#include <nlohmann/json_fwd.hpp>

#include "project/stages.h"

namespace inselberg::store {

nlohmann::json toJson(const project::Stages& stages);
// Throws for what is no such thing.
project::Stages stagesFromJson(const nlohmann::json& j);

}  // namespace inselberg::store
