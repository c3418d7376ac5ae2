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

TEST_CASE("A line kept under a name that is taken stands in its place, others come last") {
  std::vector<project::SectionLine> lines{{"A", {{0, 0}, {1, 0}}}, {"B", {{0, 0}, {2, 0}}}};
  CHECK(project::lineNamed(lines, "C") == nullptr);
  CHECK(project::lineNamed(lines, "B")->line.back().x == 2);
  lines = project::withLine(std::move(lines), {"A", {{0, 0}, {5, 5}}});
  REQUIRE(lines.size() == 2);
  CHECK(lines[0].name == "A");
  CHECK(lines[0].line.back().x == 5);
  CHECK(lines[1].line.back().x == 2);
  lines = project::withLine(std::move(lines), {"C", {{0, 0}, {7, 0}}});
  CHECK(lines.size() == 3);
  CHECK(project::lineNamed(lines, "C") == &lines.back());
}
