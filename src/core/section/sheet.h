// Sections on paper.
#pragma once

#include <span>
#include <string>
#include <vector>

#include "drawing/paper.h"
#include "section/section.h"

namespace inselberg::section {

struct SheetRules {
  std::string title;
  std::vector<std::string> headings;  // of each section; none: nothing stands over it
  // Of each ground; those left out get one of their own.
  std::vector<drawing::Pen> pens = {};
  // The two grounds between which cut and fill are filled in.
  std::size_t earlier = 0, later = 1;
  double exaggeration = 0;  // levels against lengths; 0: a round one that fills the space
  bool onePage = false;     // as tall as it takes, for formats without pages
};

// A3 across. All sections are at one scale, 1 to a round number. Fills only where there are two grounds.
std::vector<drawing::Page> sheetsOf(std::span<const Section> sections, const SheetRules& rules);

// The least of 1, 2, 2.5, 5 times a power of ten that is not below `least`. REQUIRES: least above 0.
double roundUp(double least);

}  // namespace inselberg::section
