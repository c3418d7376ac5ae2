// Texts from outside made fit to keep and to print, and what is taken off them.
#pragma once

#include <string>
#include <string_view>

namespace inselberg {

bool isUtf8(std::string_view text);

// The text as UTF-8. What is UTF-8 already stays; of other text each byte that is none is read as Western European
// (ISO 8859-1), and as a replacement character where it is none there either.
std::string validUtf8(std::string text);

// Adds a character by its code point; what is none is added as a replacement character.
void appendUtf8(std::string& text, unsigned code);

// One line without control characters: what a terminal would take as a command becomes a blank.
std::string oneLine(std::string text);

// Without the blanks around it.
inline std::string_view trimmed(std::string_view text) {
  const auto blank = [](char c) { return c == ' ' || c == '\t' || c == '\r'; };
  while (!text.empty() && blank(text.front())) text.remove_prefix(1);
  while (!text.empty() && blank(text.back())) text.remove_suffix(1);
  return text;
}

// Takes a unit off a trimmed text, and the blanks before it; false when it does not end in it.
inline bool takeSuffix(std::string_view& text, std::string_view suffix) {
  if (!text.ends_with(suffix)) return false;
  text.remove_suffix(suffix.size());
  text = trimmed(text);
  return true;
}

// As one cell of a table separated by commas: in quotes where it needs them.
std::string csvCell(const std::string& text);

}  // namespace inselberg
