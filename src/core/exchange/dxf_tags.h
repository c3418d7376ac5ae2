// DXF is a sequence of tags: a group code, which says what the value means, and the value. Written as text (two lines a
// tag) or binary.
#pragma once

#include <cstddef>
#include <string>
#include <string_view>

namespace inselberg::exchange {

struct DxfTag {
  int code = 0;
  std::string_view text;  // the value as text, blanks taken off; of a binary number: empty
  double real = 0;        // of a binary number
  bool binaryNumber = false;
  long line = 0;  // of the value; 0 in a binary file
};

class DxfTags {
 public:
  // `bytes` must outlive the tags. Throws Error when it is neither kind of DXF.
  DxfTags(std::string_view bytes, const std::string& file);

  // The next tag; false at the end. Throws Error for a group code that is none, and a value that breaks off.
  bool next(DxfTag& tag) { return binary_ ? nextBinary(tag) : nextText(tag); }

  bool binary() const { return binary_; }

  // A place to come back to: the position before the next tag.
  struct Place {
    std::size_t at = 0;
    long line = 0;
  };
  Place place() const { return {at_, line_}; }
  void goTo(Place place) { at_ = place.at, line_ = place.line; }
  std::size_t size() const { return bytes_.size(); }

  // The value as a number; throws Error when it is none, or beyond 1e12.
  double number(const DxfTag& tag) const;
  // As a whole number within the range of int (others come out as 0).
  int integer(const DxfTag& tag) const;

  [[noreturn]] void fail(const std::string& what, long line, const std::string& hint) const;

 private:
  bool nextText(DxfTag& tag);
  bool nextBinary(DxfTag& tag);
  std::string_view lineText();
  template <class T>
  T take();

  std::string_view bytes_;
  const std::string& file_;
  bool binary_ = false, wideCodes_ = true;
  std::size_t at_ = 0;
  long line_ = 0;
};

// A name or text of a drawing as UTF-8. Text that is UTF-8 already stays; other text is read in the code page the
// drawing declares ("ANSI_1252", ...; Western European when that is not known). \U+XXXX is replaced.
std::string dxfText(std::string_view text, const std::string& codePage);

}  // namespace inselberg::exchange
