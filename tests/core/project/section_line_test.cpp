// Lines that sections are taken along, by their names.
#include "project/section_line.h"

#include <catch2/catch.hpp>

using namespace inselberg;

TEST_CASE("Kept lines get the first letter that is free") {
  std::vector<project::SectionLine> lines;
  CHECK(project::nextLineName(lines) == "A");
  for (char c = 'A'; c <= 'Z'; ++c) lines.push_back({{c}, {{0, 0}, {1, 0}}});
  CHECK(project::nextLineName(lines) == "A 2");
  lines.erase(lines.begin() + 2);
  CHECK(project::nextLineName(lines) == "C");
  CHECK(project::nameOfLine(lines, {{0, 0}, {1, 0}}) == "A");
  CHECK(project::nameOfLine(lines, {{0, 0}, {1, 1}}).empty());
}
