// Sections on paper.
#pragma once

#include <span>
#include <string>
#include <vector>

#include "base/measures.h"
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
  Measures measures = {};   // that levels, stations and areas are told in
};

// A3 across. All sections are at one scale, 1 to a round number. Fills only where there are two grounds.
std::vector<drawing::Page> sheetsOf(std::span<const Section> sections, const SheetRules& rules);

// One section, and which line is which ground, inside a box of a page, at a round scale.
void addSection(drawing::Page& page, const plane::Box& within, const Section& section, const SheetRules& rules);

// "along the line: cut 12.30 m², fill 4.00 m²": what stands over a section; `cross` when it is one of several.
std::string headingOf(const Section& section, const SheetRules& rules, const CrossLine* cross);

// What a file of sections holds, by the ending of its name: .csv a table, .svg, .pdf or .png sheets, with headings as
// above. `cross`: as for asCsv. REQUIRES: one of these endings.
std::string contentOf(const std::string& name, std::span<const Section> sections, std::span<const CrossLine> cross,
                      SheetRules rules, const plane::Origin& origin);
inline constexpr const char* kEndings[] = {".csv", ".svg", ".pdf", ".png"};

// The least of 1, 2, 2.5, 5 times a power of ten that is not below `least`. REQUIRES: least above 0.
double roundUp(double least);

}  // namespace inselberg::section
