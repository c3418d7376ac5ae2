// A value in a JSON text that knows the way to it, so that what is wrong is said with its place.
#pragma once

#include <initializer_list>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <vector>

#include "base/error.h"

namespace inselberg {

class JsonCursor {
 public:
  // `way` as it is to be told: "works[2] \"A\"".
  JsonCursor(const nlohmann::json& value, std::string file, std::string way = {})
      : value_(&value), file_(std::move(file)), way_(std::move(way)) {}

  // Throws Error with the file and the way.
  [[noreturn]] void fail(const std::string& happened, const std::string& hint) const;

  // All of these throw Error for another form.
  double number() const;  // at most 1e9 either way
  std::string text() const;
  bool flag() const;
  std::vector<JsonCursor> items() const;
  JsonCursor member(const std::string& name) const;
  std::optional<JsonCursor> find(const std::string& name) const;  // nothing when there is no such member
  // Refuses members of other names.
  void only(std::initializer_list<const char*> names) const;

  bool isText() const { return value_->is_string(); }
  bool isNumber() const { return value_->is_number(); }
  bool isList() const { return value_->is_array(); }
  bool isObject() const { return value_->is_object(); }
  const nlohmann::json& value() const { return *value_; }
  const std::string& way() const { return way_; }
  // The same with a word added to the way.
  JsonCursor named(const std::string& name) const { return {*value_, file_, way_ + " \"" + name + "\""}; }

 private:
  const nlohmann::json* value_;
  std::string file_, way_;
};

}  // namespace inselberg
