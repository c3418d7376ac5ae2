// Errors the caller cannot go on from: what happened, where, and what to do about it.
#pragma once

#include <exception>
#include <string>

namespace inselberg {

// A place in the outside world that a message points at. Empty parts are left out of the text.
struct Where {
  std::string file = {};
  long line = 0;          // 1-based; 0: not known
  std::string item = {};  // the name of a ground, a works, a column of a table
};

// Bad data, a failed write, an impossible request. Programming mistakes are assertions, not Errors.
class Error : public std::exception {
 public:
  Error(std::string what, Where where, std::string hint);
  Error(std::string what, std::string hint) : Error(std::move(what), Where{}, std::move(hint)) {}

  const std::string& happened() const { return happened_; }
  const Where& where() const { return where_; }
  const std::string& hint() const { return hint_; }

  // One line: "FILE:LINE: ITEM: what happened; what to do".
  const char* what() const noexcept override { return text_.c_str(); }

 private:
  std::string happened_;
  Where where_;
  std::string hint_;
  std::string text_;
};

}  // namespace inselberg
