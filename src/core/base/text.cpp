#include "base/text.h"

namespace inselberg {
namespace {

constexpr const char* kReplacement = "\xef\xbf\xbd";

// The length of the character that starts here; 0 when none does. Surrogates and overlong forms are none.
std::size_t characterAt(std::string_view text, std::size_t at) {
  const auto byte = [&](std::size_t k) { return at + k < text.size() ? static_cast<unsigned char>(text[at + k]) : 0u; };
  const unsigned c = byte(0);
  if (c < 0x80) return 1;
  const std::size_t length = c >= 0xc2 && c < 0xe0 ? 2 : c >= 0xe0 && c < 0xf0 ? 3 : c >= 0xf0 && c < 0xf5 ? 4 : 0;
  for (std::size_t k = 1; k < length; ++k) {
    if ((byte(k) & 0xc0) != 0x80) return 0;
  }
  if ((c == 0xe0 && byte(1) < 0xa0) || (c == 0xed && byte(1) >= 0xa0) || (c == 0xf0 && byte(1) < 0x90) ||
      (c == 0xf4 && byte(1) >= 0x90))
    return 0;
  return length;
}

}  // namespace

bool isUtf8(std::string_view text) {
  for (std::size_t at = 0; at < text.size();) {
    const std::size_t length = characterAt(text, at);
    if (length == 0) return false;
    at += length;
  }
  return true;
}

std::string validUtf8(std::string text) {
  if (isUtf8(text)) return text;
  std::string out;
  for (std::size_t at = 0; at < text.size();) {
    const auto c = static_cast<unsigned char>(text[at]);
    if (const std::size_t length = characterAt(text, at); length > 0) {
      out.append(text, at, length);
      at += length;
    } else if (c == 0xed && at + 2 < text.size()) {  // a lone surrogate
      out += kReplacement;
      at += 3;
    } else {
      if (c >= 0xa0) {
        appendUtf8(out, c);
      } else {
        out += kReplacement;
      }
      ++at;
    }
  }
  // Bytes taken three at a time may have cut into something else.
  return isUtf8(out) ? out : validUtf8(std::move(out));
}

void appendUtf8(std::string& text, unsigned code) {
  const auto tail = [&](unsigned shift) { text += static_cast<char>(0x80 | (code >> shift & 0x3f)); };
  if (code < 0x80) {
    text += static_cast<char>(code);
  } else if (code < 0x800) {
    text += static_cast<char>(0xc0 | code >> 6);
    tail(0);
  } else if ((code >= 0xd800 && code < 0xe000) || code > 0x10ffff) {
    text += kReplacement;
  } else if (code < 0x10000) {
    text += static_cast<char>(0xe0 | code >> 12);
    tail(6), tail(0);
  } else {
    text += static_cast<char>(0xf0 | code >> 18);
    tail(12), tail(6), tail(0);
  }
}

std::string oneLine(std::string text) {
  for (std::size_t i = 0; i < text.size(); ++i) {
    const auto c = static_cast<unsigned char>(text[i]);
    if (c < 0x20 || c == 0x7f) text[i] = ' ';
    // The second set of control characters, two bytes each.
    if (c == 0xc2 && i + 1 < text.size() && static_cast<unsigned char>(text[i + 1]) < 0xa0 &&
        static_cast<unsigned char>(text[i + 1]) >= 0x80)
      text[i] = text[i + 1] = ' ';
  }
  return text;
}

std::string csvCell(const std::string& text) {
  if (text.find_first_of(",\"\n\r") == std::string::npos) return text;
  std::string out = "\"";
  for (const char c : text) out += c == '"' ? "\"\"" : std::string(1, c);
  return out + "\"";
}

}  // namespace inselberg
