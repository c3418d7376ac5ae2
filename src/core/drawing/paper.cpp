#include "drawing/paper.h"

namespace inselberg::drawing {

double widthOf(const std::string& text, double height) {
  constexpr double kLetter = 0.62;  // of its height
  double letters = 0;
  for (const char c : text) letters += (c & 0xc0) != 0x80 ? 1 : 0;
  return kLetter * height * letters;
}

std::string fitted(const std::string& text, double height, double width) {
  if (widthOf(text, height) <= width) return text;
  std::string kept = text;
  while (!kept.empty() && widthOf(kept, height) + widthOf("…", height) > width) {
    while (!kept.empty() && (kept.back() & 0xc0) == 0x80) kept.pop_back();
    if (!kept.empty()) kept.pop_back();
  }
  return kept + "…";
}

}  // namespace inselberg::drawing
