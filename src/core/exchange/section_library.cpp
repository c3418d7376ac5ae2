#include "exchange/section_library.h"

#include "base/error.h"
#include "base/json_cursor.h"
#include "works/section_json.h"

namespace inselberg::exchange {

std::string libraryText(const std::vector<works::NamedSection>& sections) {
  const nlohmann::ordered_json root{{"sections", works::toJson(sections)}};
  return root.dump(1) + "\n";
}

std::vector<works::NamedSection> libraryFrom(std::string_view text, const std::string& file) {
  const auto parsed = nlohmann::json::parse(text, nullptr, false);
  if (parsed.is_discarded()) throw Error("this is no JSON", {file}, "mend the file, or take it away");
  const JsonCursor root(parsed, file);
  root.only({"sections"});
  return works::namedSectionsFrom(root.member("sections"));
}

}  // namespace inselberg::exchange
