// JSON read into a tree that knows the line of every value.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace inselberg::exchange {

struct JsonMember;

struct JsonValue {
  enum class Kind { null, boolean, number, text, list, object };
  Kind kind = Kind::null;
  long line = 0;
  bool boolean = false;
  double number = 0;
  std::string text;
  std::vector<JsonValue> items;
  std::vector<JsonMember> members;

  const JsonValue* find(std::string_view name) const;  // null when this is no object or has no such member
};

struct JsonMember {
  std::string name;
  JsonValue value;
};

// Throws Error with file and line for text that is no JSON, numbers too large for a double, and nesting beyond 64.
JsonValue parseJson(std::string_view text, const std::string& file);

}  // namespace inselberg::exchange
