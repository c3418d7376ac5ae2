#include "base/json_cursor.h"

#include <algorithm>
#include <cmath>
#include <cstring>

namespace inselberg {

void JsonCursor::fail(const std::string& happened, const std::string& hint) const {
  throw Error(happened, {file_, 0, way_}, hint);
}

double JsonCursor::number() const {
  if (!value_->is_number()) fail("a number is wanted here", "write a plain number");
  const double v = value_->get<double>();
  if (!(std::abs(v) <= 1e9)) fail("the number is out of reach", "write one between -1e9 and 1e9");
  return v;
}

std::string JsonCursor::text() const {
  if (!value_->is_string()) fail("a text is wanted here", "write it in quotation marks");
  return value_->get<std::string>();
}

bool JsonCursor::flag() const {
  if (!value_->is_boolean()) fail("true or false is wanted here", "write one of the two");
  return value_->get<bool>();
}

std::vector<JsonCursor> JsonCursor::items() const {
  if (!value_->is_array()) fail("a list is wanted here", "write it in square brackets");
  std::vector<JsonCursor> list;
  for (std::size_t i = 0; i < value_->size(); ++i)
    list.emplace_back((*value_)[i], file_, way_ + "[" + std::to_string(i) + "]");
  return list;
}

JsonCursor JsonCursor::member(const std::string& name) const {
  if (const auto found = find(name)) return *found;
  fail("\"" + name + "\" is missing", "add it");
}

std::optional<JsonCursor> JsonCursor::find(const std::string& name) const {
  if (!value_->is_object()) fail("an object is wanted here", "write it in curly brackets");
  const auto it = value_->find(name);
  if (it == value_->end()) return std::nullopt;
  // After a name or a bracket a comma or point leads on.
  const char* between = way_.empty() ? "" : way_.back() == '"' ? ", " : ".";
  return JsonCursor(*it, file_, way_ + between + name);
}

void JsonCursor::only(std::initializer_list<const char*> names) const {
  if (!value_->is_object()) fail("an object is wanted here", "write it in curly brackets");
  for (const auto& [name, item] : value_->items()) {
    const bool known = std::any_of(names.begin(), names.end(), [&](const char* n) { return name == n; });
    if (known) continue;
    std::string all;
    for (const char* n : names) all += (all.empty() ? "" : ", ") + std::string(n);
    find(name)->fail("this member is not known", "take it out; there may be: " + all);
  }
}

}  // namespace inselberg
