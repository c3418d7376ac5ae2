// A works' parameters as JSON, by the fields of its kind: in the project file and wherever else they are text.
#pragma once

#include <nlohmann/json.hpp>

#include "works/works.h"

namespace inselberg::works {

// {"kind": ..., a member for every field}. Slopes are runs, choices words.
nlohmann::json toJson(const Shape& shape);

// Throws Error for a kind that is not among `kinds` and for a value that may not stand (it names the member), nlohmann
// exceptions for members that are missing or of another form. Members that are no field are not looked at. An outline
// is turned the right way.
Shape shapeFromJson(const nlohmann::json& json, Kinds kinds);

}  // namespace inselberg::works
