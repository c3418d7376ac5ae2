// A line that sections are taken along again and again.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "plane/geometry.h"

namespace inselberg::project {

// Positions relative to the project's origin.
struct SectionLine {
  std::string name;               // one of its own in the project
  std::vector<plane::Vec2> line;  // two places or more
  bool operator==(const SectionLine&) const = default;
};

// Null when none has the name.
const SectionLine* lineNamed(const std::vector<SectionLine>& lines, std::string_view name);
// With another one, in place of the one that has its name.
std::vector<SectionLine> withLine(std::vector<SectionLine> lines, SectionLine line);
// The name of the first that runs through these very places; empty when none does.
std::string nameOfLine(const std::vector<SectionLine>& lines, const std::vector<plane::Vec2>& line);
// A name for the next one: the first letter that is not taken.
std::string nextLineName(const std::vector<SectionLine>& lines);

}  // namespace inselberg::project
