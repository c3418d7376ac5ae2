// Several grounds along a line: their levels, and what lies between them.
#pragma once

#include <cmath>
#include <functional>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "ground/tin.h"

namespace inselberg::section {

struct Named {
  std::string name;
  ground::TinPtr tin;
};

// Levels at the ends of an interval, where a ground covers it; between them it is straight.
struct Span {
  double begin, end;
};

struct Section {
  std::vector<plane::Vec2> line;  // without places that repeat the one before
  std::vector<double> corners;    // the station of each of its places
  // From 0 to the length: corners of the line, and wherever it crosses a side of a triangle of any ground. m.
  std::vector<double> stations;
  std::vector<std::string> names;
  // For each ground one for every interval between stations; nothing where there is no ground. At a wall the end of one
  // differs from the begin of the next.
  std::vector<std::vector<std::optional<Span>>> grounds;

  double length() const { return stations.empty() ? 0 : stations.back(); }
  bool covered() const;  // by any ground, anywhere
  plane::Vec2 at(double station) const;
  std::optional<double> level(std::size_t ground, double station) const;
};

// REQUIRES: a line of two places or more that is not of length 0. Stations closer than 1e-7 m are one.
Section sectionAlong(std::span<const Named> grounds, std::vector<plane::Vec2> line);

// One station with the level of each ground, as a table tells it.
struct Row {
  double station;
  plane::Vec2 at;
  std::vector<std::optional<double>> levels;  // nothing where there is no ground
};
// A row at every station, two where a wall of any ground stands. A ground is told at the very place where it ends; so
// that a gap in it is seen, one that no row falls into gets one in its middle.
std::vector<Row> rowsOf(const Section& section);

// A stretch over which a later ground lies nowhere below, or nowhere above, an earlier one: m along the line, levels.
struct Part {
  double begin, fromBegin, toBegin;
  double end, fromEnd, toEnd;
  bool fill() const { return toBegin + toEnd > fromBegin + fromEnd; }
  bool alike() const { return std::abs(toBegin - fromBegin) < 1e-6 && std::abs(toEnd - fromEnd) < 1e-6; }
};
// The intervals that both grounds cover, in order, parted where they cross.
void eachPart(const Section& section, std::size_t earlier, std::size_t later,
              const std::function<void(const Part&)>& f);

// m2 between an earlier and a later ground, where both are; exact. `missing` is the length where one is without the
// other.
struct CutFill {
  double cut = 0, fill = 0, missing = 0;
};
CutFill between(const Section& section, std::size_t earlier, std::size_t later);

// Lines square to a line at stations 0, spacing, 2 spacing, ... up to its length, `width` long in all and centred on
// it, from left to right as seen along it. At a corner they are square to what follows. REQUIRES: both above 0.
struct CrossLine {
  double station;
  std::vector<plane::Vec2> line;
};
std::vector<CrossLine> crossLines(std::span<const plane::Vec2> line, double spacing, double width);

// What lies between two grounds in each of several cross sections, and up to there along the line by average end areas:
// half the sum of two neighbours' areas, times the way between their stations.
struct AreaAlong {
  double station = 0;
  double cut = 0, fill = 0;            // m2
  double cutSoFar = 0, fillSoFar = 0;  // m3
};
// REQUIRES: as many cross lines as sections, at rising stations; both grounds are in all.
std::vector<AreaAlong> areasAlong(std::span<const Section> sections, std::span<const CrossLine> cross,
                                  std::size_t earlier, std::size_t later);

// Separated by commas: station, easting, northing (6 decimals), a level for each ground (7); with `cross` the station
// of each section before them. REQUIRES: as many cross lines as sections, or none.
std::string asCsv(std::span<const Section> sections, std::span<const CrossLine> cross, const plane::Origin& origin);

}  // namespace inselberg::section
