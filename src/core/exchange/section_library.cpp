#include "exchange/section_library.h"

#include "base/error.h"
#include "base/json_cursor.h"
#include "works/section_json.h"

namespace inselberg::exchange {

std::string libraryText(const std::vector<works::NamedSection>& sections) {
  nlohmann::ordered_json root{{"sections", nlohmann::ordered_json::object()}};
  for (const works::NamedSection& s : sections) root["sections"][s.name] = works::toJson(s.legs);
  return root.dump(1) + "\n";
}

std::vector<works::NamedSection> libraryFrom(std::string_view text, const std::string& file) {
  const auto parsed = nlohmann::json::parse(text, nullptr, false);
  if (parsed.is_discarded()) throw Error("this is no JSON", {file}, "mend the file, or take it away");
  const JsonCursor root(parsed, file);
  root.only({"sections"});
  std::vector<works::NamedSection> sections;
  const JsonCursor list = root.member("sections");
  if (!list.isObject()) list.fail("an object is wanted here", "write {\"NAME\": [legs]}");
  for (const auto& [name, legs] : list.value().items())
    sections.push_back({name, works::sectionFrom(*list.find(name))});
  return sections;
}

}  // namespace inselberg::exchange
