// A line that sections are taken along again and again.
#pragma once

#include <string>
#include <vector>

#include "plane/geometry.h"

namespace inselberg::project {

// Positions relative to the project's origin.
struct SectionLine {
  std::string name;               // one of its own in the project
  std::vector<plane::Vec2> line;  // two places or more
  bool operator==(const SectionLine&) const = default;
};

// The name of the first that runs through these very places; empty when none does.
std::string nameOfLine(const std::vector<SectionLine>& lines, const std::vector<plane::Vec2>& line);
// A name for the next one: the first letter that is not taken.
std::string nextLineName(const std::vector<SectionLine>& lines);

}  // namespace inselberg::project
