#include "output.h"

#include <cmath>
#include <cstdio>
#include <nlohmann/json.hpp>

#include "base/error.h"
#include "base/quantity.h"
#include "base/text.h"
#include "report/ledger.h"
#include "store/project_file.h"

namespace inselberg::cli {

void print(std::string text) {
  for (std::size_t from = 0; from < text.size();) {
    const std::size_t end = std::min(text.find('\n', from), text.size());
    text.replace(from, end - from, oneLine(text.substr(from, end - from)));  // of the same length
    from = end + 1;
  }
  std::fwrite(text.data(), 1, text.size(), stdout);
}

void sayJson(const nlohmann::ordered_json& j) {
  print(report::dumped(j) + "\n");
}

double numberOf(const std::string& option, const std::string& text) {
  const auto value = parseNumber(text);
  if (!value || std::abs(*value) > 1e8)
    throw Error("\"" + text + "\" is not a usable number", {"", 0, option}, "give a plain number in metres");
  return *value;
}

double positiveOf(const std::string& option, const std::string& text) {
  const double value = numberOf(option, text);
  if (!(value > 0)) throw Error(text + " is not more than zero", {"", 0, option}, "give a number above zero");
  return value;
}

project::EvaluationPtr evaluated(const std::string& path) {
  project::Cache cache;
  return project::evaluate(store::open(path).project, cache, kQuiet);
}

const project::EvaluatedGround& groundNamed(const project::Evaluation& evaluation, const std::string& path,
                                            const std::string& name) {
  std::string names;
  for (const auto& ground : evaluation.grounds) {
    const std::string& has = evaluation.project->ground(ground.id)->name;
    if (has == name) {
      if (!ground.tin) throw Error(ground.problem, {path, 0, name}, "complete the project first");
      return ground;
    }
    names += (names.empty() ? "" : ", ") + has;
  }
  throw Error("there is no ground of the name \"" + name + "\"", {path}, "the project has: " + names);
}

}  // namespace inselberg::cli
