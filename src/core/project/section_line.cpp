#include "project/section_line.h"

#include <algorithm>

#include "base/free_name.h"

namespace inselberg::project {

const SectionLine* lineNamed(const std::vector<SectionLine>& lines, std::string_view name) {
  const auto found = std::find_if(lines.begin(), lines.end(), [&](const SectionLine& l) { return l.name == name; });
  return found == lines.end() ? nullptr : &*found;
}

std::vector<SectionLine> withLine(std::vector<SectionLine> lines, SectionLine line) {
  if (const SectionLine* same = lineNamed(lines, line.name)) {
    lines[static_cast<std::size_t>(same - lines.data())] = std::move(line);
  } else {
    lines.push_back(std::move(line));
  }
  return lines;
}

std::string nameOfLine(const std::vector<SectionLine>& lines, const std::vector<plane::Vec2>& line) {
  const auto found = std::find_if(lines.begin(), lines.end(), [&](const SectionLine& l) { return l.line == line; });
  return found == lines.end() ? std::string() : found->name;
}

std::string nextLineName(const std::vector<SectionLine>& lines) {
  const auto taken = [&](const std::string& name) { return lineNamed(lines, name) != nullptr; };
  for (char letter = 'A'; letter <= 'Z'; ++letter) {
    if (!taken({letter})) return {letter};
  }
  return freeName("A", taken);
}

}  // namespace inselberg::project
