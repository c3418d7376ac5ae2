// Building a ground from points and breaklines.
#pragma once

#include <optional>
#include <span>
#include <utility>
#include <vector>

#include "base/progress.h"
#include "ground/doubt.h"
#include "ground/tin.h"
#include "plane/polygon.h"

namespace inselberg::ground {

// A line the triangles' sides must follow. A level that is not a number is to be interpolated along the line between
// the nearest levelled vertices (held level beyond the first and last); a line without any level takes no part, and is
// counted in BuildResult.
struct Breakline {
  std::vector<Vec3> vertices;
  bool closed = false;
  bool contour = false;  // a level line: its flats may be cured, its level is checked against its neighbours
};

enum class DuplicateRule { first, last, mean, highest, lowest };
// Their words, in files and on the command line.
inline constexpr std::pair<DuplicateRule, const char*> kDuplicateWords[] = {{DuplicateRule::first, "first"},
                                                                            {DuplicateRule::last, "last"},
                                                                            {DuplicateRule::mean, "mean"},
                                                                            {DuplicateRule::highest, "highest"},
                                                                            {DuplicateRule::lowest, "lowest"}};

struct BuildRules {
  DuplicateRule duplicates = DuplicateRule::first;
  double maxEdge = 0;      // triangles at the border with a longer side are trimmed; 0: none are
  bool cureFlats = false;  // points are added where triangles join three vertices of one contour
  bool operator==(const BuildRules&) const = default;
};

struct BuildInput {
  std::vector<Vec3> points;
  std::vector<Breakline> breaklines;       // in order of precedence: the later rules where two cross
  std::vector<plane::Polygon> boundaries;  // sound; the ground is kept inside any of them; none: the whole hull
  std::vector<plane::Polygon> voids;       // sound; the ground is left out inside any of them
};

struct BuildResult {
  TinPtr tin;
  Doubts doubts;
  std::size_t duplicates = 0;  // points merged into another
  std::size_t crossings = 0;   // vertices added where breaklines cross
  std::size_t linesWithoutLevel = 0;
  std::size_t trimmed = 0;     // border triangles trimmed by maxEdge
  std::size_t flatPoints = 0;  // points added to cure flats
};

// The constrained Delaunay triangulation of the input:
//  1. points within 1 mm in plan are one; where levels differ by more than 5 mm a doubt says so, and the rule decides;
//  2. every breakline is a chain of triangle sides through all that lies within 1 mm of it in plan, straight in level
//     between its vertices but where (3) bends it. It rules over points that lie on it between its vertices, with a
//     doubt where a point's level differs by more than 5 mm;
//  3. breaklines that cross, touch or run along each other share vertices there, and the later line rules; where levels
//     differ by more than 5 mm a doubt says so;
//  4. with boundaries, the ground is cut exactly along them (levels unchanged), and voids (the input's, and holes of
//     boundaries) are left out;
//     a boundary that reaches beyond the data raises a doubt;
//  5. without, border triangles with a side longer than maxEdge are trimmed from the outside inwards.
// Throws Error when fewer than three different points are given, all lie on one line, or nothing is left.
BuildResult build(const BuildInput& input, const BuildRules& rules, const plane::Origin& origin,
                  const Progress& progress);

}  // namespace inselberg::ground
