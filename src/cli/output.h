// What every call prints and reads alike.
#pragma once

#include <fmt/format.h>

#include <nlohmann/json_fwd.hpp>
#include <string>

#include "base/progress.h"
#include "project/evaluate.h"

namespace inselberg::cli {

inline const Progress kQuiet;

// All that goes to standard output. Names and texts of files are printed without what a terminal would obey.
void print(std::string text);
template <class... Args>
void say(fmt::format_string<Args...> format, Args&&... args) {
  print(fmt::format(format, std::forward<Args>(args)...));
}
void sayJson(const nlohmann::ordered_json& j);

// A number given as an option. Not a usage mistake when it is none: the value is bad input. Throws Error.
double numberOf(const std::string& option, const std::string& text);
double positiveOf(const std::string& option, const std::string& text);

project::EvaluationPtr evaluated(const std::string& path);
// The ground of a name in the column; throws Error when there is none, or when it cannot be made. `path` is the
// project's.
const project::EvaluatedGround& groundNamed(const project::Evaluation& evaluation, const std::string& path,
                                            const std::string& name);

}  // namespace inselberg::cli
