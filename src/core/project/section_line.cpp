#include "project/section_line.h"

#include <algorithm>

#include "base/free_name.h"

namespace inselberg::project {

std::string nameOfLine(const std::vector<SectionLine>& lines, const std::vector<plane::Vec2>& line) {
  const auto found = std::find_if(lines.begin(), lines.end(), [&](const SectionLine& l) { return l.line == line; });
  return found == lines.end() ? std::string() : found->name;
}

std::string nextLineName(const std::vector<SectionLine>& lines) {
  const auto taken = [&](const std::string& name) {
    return std::any_of(lines.begin(), lines.end(), [&](const SectionLine& l) { return l.name == name; });
  };
  for (char letter = 'A'; letter <= 'Z'; ++letter) {
    if (!taken({letter})) return {letter};
  }
  return freeName("A", taken);
}

}  // namespace inselberg::project
