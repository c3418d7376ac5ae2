// nlohmann's event parser over an iterator that counts lines as it goes; it reads at most one character ahead.
#include "exchange/json_tree.h"

#include <nlohmann/json.hpp>

#include "base/error.h"

namespace inselberg::exchange {
namespace {

constexpr std::size_t kDeepest = 64;

class LineIterator {
 public:
  using iterator_category = std::input_iterator_tag;
  using value_type = char;
  using difference_type = std::ptrdiff_t;
  using pointer = const char*;
  using reference = const char&;

  LineIterator(const char* at, long* line) : at_(at), line_(line) {}
  reference operator*() const { return *at_; }
  LineIterator& operator++() {
    if (*at_ == '\n') ++*line_;
    ++at_;
    return *this;
  }
  LineIterator operator++(int) {
    LineIterator old = *this;
    ++*this;
    return old;
  }
  bool operator==(const LineIterator& other) const { return at_ == other.at_; }
  bool operator!=(const LineIterator& other) const { return at_ != other.at_; }

 private:
  const char* at_;
  long* line_;
};

struct TreeBuilder : nlohmann::json_sax<nlohmann::json> {
  TreeBuilder(const long& lineNow, const std::string& fileName) : line(lineNow), file(fileName) {}

  const long& line;
  const std::string& file;
  JsonValue root;
  std::vector<JsonValue*> open;
  std::string name;

  JsonValue* put(JsonValue::Kind kind) {
    JsonValue value;
    value.kind = kind;
    value.line = line;
    if (open.empty()) {
      root = std::move(value);
      return &root;
    }
    JsonValue& parent = *open.back();
    if (parent.kind == JsonValue::Kind::list) {
      parent.items.push_back(std::move(value));
      return &parent.items.back();
    }
    parent.members.push_back({std::move(name), std::move(value)});
    return &parent.members.back().value;
  }
  bool enter(JsonValue::Kind kind) {
    if (open.size() >= kDeepest)
      throw Error("the file is nested too deeply", {file, line}, "export it again as plain GeoJSON");
    open.push_back(put(kind));
    return true;
  }

  bool null() override { return put(JsonValue::Kind::null); }
  bool boolean(bool b) override {
    put(JsonValue::Kind::boolean)->boolean = b;
    return true;
  }
  bool number(double d) {
    put(JsonValue::Kind::number)->number = d;
    return true;
  }
  bool number_integer(number_integer_t i) override { return number(static_cast<double>(i)); }
  bool number_unsigned(number_unsigned_t u) override { return number(static_cast<double>(u)); }
  bool number_float(number_float_t d, const string_t&) override { return number(d); }
  bool string(string_t& s) override {
    put(JsonValue::Kind::text)->text = std::move(s);
    return true;
  }
  bool binary(binary_t&) override { return false; }
  bool start_object(std::size_t) override { return enter(JsonValue::Kind::object); }
  bool key(string_t& s) override {
    name = std::move(s);
    return true;
  }
  bool end_object() override {
    open.pop_back();
    return true;
  }
  bool start_array(std::size_t) override { return enter(JsonValue::Kind::list); }
  bool end_array() override {
    open.pop_back();
    return true;
  }
  bool parse_error(std::size_t, const std::string& token, const nlohmann::detail::exception& e) override {
    if (e.id == 406)
      throw Error("the number " + token.substr(0, 40) + " is too large", {file, line}, "correct the number");
    const bool cut = std::string_view(e.what()).find("unexpected end of input") != std::string_view::npos;
    throw Error(cut ? "the file ends in the middle" : "this is not JSON, near \"" + token.substr(0, 40) + "\"",
                {file, line}, cut ? "copy or export it again" : "correct the text there, or export the file again");
  }
};

}  // namespace

const JsonValue* JsonValue::find(std::string_view name) const {
  for (const auto& [key, value] : members) {
    if (key == name) return &value;
  }
  return nullptr;
}

JsonValue parseJson(std::string_view text, const std::string& file) {
  long line = 1;
  TreeBuilder builder(line, file);
  nlohmann::json::sax_parse(LineIterator(text.data(), &line), LineIterator(text.data() + text.size(), &line), &builder);
  return std::move(builder.root);
}

}  // namespace inselberg::exchange
