#include "plane/place_text.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <string>
#include <vector>

#include "base/quantity.h"
#include "plane/bearing.h"

namespace inselberg::plane {
namespace {

std::optional<double> numberOf(std::string word) {
  std::replace(word.begin(), word.end(), ',', '.');
  return parseNumber(word);
}

}  // namespace

std::optional<Vec2> parsePlace(std::string_view text, const Origin& origin, std::optional<Vec2> from, double unit) {
  std::vector<std::string> words(1);
  for (const char c : text) {
    if (c == ' ' || c == '\t' || c == ';') {
      if (!words.back().empty()) words.emplace_back();
    } else {
      words.back() += c;
    }
  }
  if (words.back().empty()) words.pop_back();
  for (std::string& word : words) {
    if (word.size() > 1 && word.back() == ',') word.pop_back();
  }
  if (words.size() == 3 && words[1] == "at") {
    const auto length = numberOf(words[0]), bearing = numberOf(words[2]);
    if (!length || !bearing || !from) return std::nullopt;
    return *from + *length * unit * towards(*bearing);
  }
  if (words.size() != 2) return std::nullopt;
  const auto first = numberOf(words[0]), second = numberOf(words[1]);
  if (!first || !second) return std::nullopt;
  const auto isSigned = [](const std::string& w) { return w[0] == '+' || w[0] == '-'; };
  if (isSigned(words[0]) && isSigned(words[1])) {
    if (!from) return std::nullopt;
    return *from + unit * Vec2{*first, *second};
  }
  return Vec2{*first - origin.easting, *second - origin.northing};
}

std::string placeText(Vec2 p, const Origin& origin) {
  return fmt::format("E {:.2f} N {:.2f}", p.x + origin.easting, p.y + origin.northing);
}

}  // namespace inselberg::plane
