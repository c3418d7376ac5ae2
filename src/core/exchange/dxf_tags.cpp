#include "exchange/dxf_tags.h"

#include <iconv.h>

#include <cmath>
#include <cstring>
#include <limits>

#include "base/error.h"
#include "base/quantity.h"
#include "base/text.h"
#include "exchange/text_file.h"

namespace inselberg::exchange {
namespace {

// What a binary drawing starts with, after the eight letters of the format's maker.
constexpr std::string_view kBinaryMark{"Binary DXF\r\n\x1a\0", 14};
constexpr std::size_t kBinaryMarkAt = 8;

enum class ValueKind { text, real, int16, int32, int64, byte, chunk };

ValueKind kindOf(int code) {
  const auto in = [code](int low, int high) { return code >= low && code <= high; };
  if (in(10, 59) || in(110, 149) || in(210, 239) || in(460, 469) || in(1010, 1059)) return ValueKind::real;
  if (in(60, 79) || in(170, 179) || in(270, 289) || in(370, 389) || in(400, 409) || in(1060, 1070))
    return ValueKind::int16;
  if (in(90, 99) || in(420, 429) || in(440, 459) || code == 1071) return ValueKind::int32;
  if (in(160, 169)) return ValueKind::int64;
  if (in(290, 299)) return ValueKind::byte;
  if (in(310, 319) || code == 1004) return ValueKind::chunk;
  return ValueKind::text;
}

bool smallInteger(std::string_view text, int& value) {
  if (text.empty() || text.size() > 5) return false;
  const bool minus = text.front() == '-';
  if (minus) text.remove_prefix(1);
  if (text.empty()) return false;
  value = 0;
  for (const char c : text) {
    if (c < '0' || c > '9') return false;
    value = 10 * value + (c - '0');
  }
  if (minus) value = -value;
  return value <= 2000;
}

std::string converted(std::string_view text, const std::string& codePage) {
  std::string from = "CP1252";
  if (const auto digits = codePage.find_first_of("0123456789"); digits != std::string::npos)
    from = "CP" + codePage.substr(digits);
  iconv_t door = ::iconv_open("UTF-8", from.c_str());
  if (door == iconv_t(-1)) door = ::iconv_open("UTF-8", "CP1252");
  if (door == iconv_t(-1)) return "?";
  std::string in(text), out(4 * text.size() + 16, '\0');
  char *source = in.data(), *target = out.data();
  std::size_t left = in.size(), room = out.size();
  while (left > 0 && ::iconv(door, &source, &left, &target, &room) == std::size_t(-1)) {
    if (room < 4) break;
    ++source, --left;  // a byte the code page does not know
    *target++ = '?', --room;
  }
  ::iconv_close(door);
  out.resize(out.size() - room);
  return out;
}

}  // namespace

DxfTags::DxfTags(std::string_view bytes, const std::string& file) : bytes_(bytes), file_(file) {
  if (bytes_.size() > kBinaryMarkAt + kBinaryMark.size() &&
      bytes_.substr(kBinaryMarkAt, kBinaryMark.size()) == kBinaryMark) {
    binary_ = true;
    at_ = kBinaryMarkAt + kBinaryMark.size();
    // The first tag is 0 SECTION: its code is one byte in the oldest files, two in the others.
    wideCodes_ = at_ + 1 < bytes_.size() && bytes_[at_ + 1] == '\0';
    return;
  }
  if (bytes_.starts_with("\xff\xfe") || bytes_.starts_with("\xfe\xff"))
    throw Error("the drawing is UTF-16 text", {file_, 1}, "save it as UTF-8");
  if (bytes_.starts_with("\xef\xbb\xbf")) at_ = 3;
  if (const auto zero = bytes_.find('\0'); zero != std::string_view::npos) {
    // Some writers end the file with zero or end-of-file bytes; anything after them would be lost.
    if (bytes_.find_first_not_of(std::string_view("\0\x1a\r\n ", 5), zero) != std::string_view::npos)
      throw Error("the file is binary, and no binary DXF", {file_, lineAt(bytes_, zero)},
                  "export the drawing again as DXF");
    bytes_ = bytes_.substr(0, zero);
  }
}

void DxfTags::fail(const std::string& what, long line, const std::string& hint) const {
  throw Error(what, {file_, line}, hint);
}

std::string_view DxfTags::lineText() {
  const char* begin = bytes_.data() + at_;
  const void* found = std::memchr(begin, '\n', bytes_.size() - at_);
  const std::size_t length =
      found ? static_cast<std::size_t>(static_cast<const char*>(found) - begin) : bytes_.size() - at_;
  at_ += length + (found ? 1 : 0);
  ++line_;
  return trimmed({begin, length});
}

bool DxfTags::nextText(DxfTag& tag) {
  if (at_ >= bytes_.size()) return false;
  const std::string_view code = lineText();
  if (!smallInteger(code, tag.code)) {
    if (code.empty() || code == "\x1a") {
      // Empty lines at the very end are no tag.
      if (bytes_.find_first_not_of(" \t\r\n\x1a", std::min(at_, bytes_.size())) == std::string_view::npos) {
        at_ = bytes_.size();
        return false;
      }
    }
    fail("this is not a DXF group code: \"" + std::string(code.substr(0, 40)) + "\"", line_,
         "export the drawing again as DXF");
  }
  if (at_ >= bytes_.size()) fail("the drawing breaks off after a group code", line_, "copy or export it again");
  tag.text = lineText();
  tag.binaryNumber = false;
  tag.line = line_;
  return true;
}

template <class T>
T DxfTags::take() {
  if (bytes_.size() - at_ < sizeof(T)) fail("the drawing breaks off within a value", 0, "copy or export it again");
  T value;
  std::memcpy(&value, bytes_.data() + at_, sizeof value);
  at_ += sizeof value;
  return value;
}

bool DxfTags::nextBinary(DxfTag& tag) {
  if (at_ >= bytes_.size()) return false;
  if (wideCodes_) {
    tag.code = take<std::int16_t>();
  } else {
    tag.code = take<std::uint8_t>();
    if (tag.code == 255) tag.code = take<std::int16_t>();
  }
  tag.line = 0;
  tag.text = {};
  tag.binaryNumber = true;
  switch (kindOf(tag.code)) {
    case ValueKind::real:
      tag.real = take<double>();
      return true;
    case ValueKind::int16:
      tag.real = take<std::int16_t>();
      return true;
    case ValueKind::int32:
      tag.real = take<std::int32_t>();
      return true;
    case ValueKind::int64:
      tag.real = static_cast<double>(take<std::int64_t>());
      return true;
    case ValueKind::byte:
      tag.real = take<std::uint8_t>();
      return true;
    case ValueKind::chunk: {
      const std::size_t size = take<std::uint8_t>();
      if (bytes_.size() - at_ < size) fail("the drawing breaks off within a value", 0, "copy or export it again");
      at_ += size;
      tag.binaryNumber = false;
      return true;
    }
    case ValueKind::text:
      break;
  }
  const auto end = bytes_.find('\0', at_);
  if (end == std::string_view::npos) fail("the drawing breaks off within a text", 0, "copy or export it again");
  tag.text = trimmed(bytes_.substr(at_, end - at_));
  tag.binaryNumber = false;
  at_ = end + 1;
  return true;
}

double DxfTags::number(const DxfTag& tag) const {
  double value = tag.real;
  if (!tag.binaryNumber) {
    const auto parsed = parseNumber(tag.text);
    value = parsed ? *parsed : std::numeric_limits<double>::quiet_NaN();
  }
  if (!(std::abs(value) <= 1e12)) {
    fail(tag.binaryNumber ? "a number is not usable"
                          : "\"" + std::string(tag.text.substr(0, 40)) + "\" is not a usable number",
         tag.line, "correct the drawing or export it again");
  }
  return value;
}

int DxfTags::integer(const DxfTag& tag) const {
  const double value = number(tag);
  return std::abs(value) <= 2147483647.0 ? static_cast<int>(value) : 0;
}

std::string dxfText(std::string_view text, const std::string& codePage) {
  std::string out = isUtf8(text) ? std::string(text) : converted(text, codePage);
  for (auto at = out.find("\\U+"); at != std::string::npos; at = out.find("\\U+", at + 1)) {
    unsigned code = 0;
    std::size_t digits = 0;
    for (; digits < 4 && at + 3 + digits < out.size(); ++digits) {
      const char c = out[at + 3 + digits];
      const int d = c >= '0' && c <= '9'   ? c - '0'
                    : c >= 'A' && c <= 'F' ? c - 'A' + 10
                    : c >= 'a' && c <= 'f' ? c - 'a' + 10
                                           : -1;
      if (d < 0) break;
      code = 16 * code + static_cast<unsigned>(d);
    }
    if (digits < 4) continue;
    std::string character;
    appendUtf8(character, code);
    out.replace(at, 7, character);
  }
  return validUtf8(std::move(out));  // an escape may name half a character
}

}  // namespace inselberg::exchange
