// Crests: the lines that legs and batters start from.
#pragma once

#include <cstdint>
#include <limits>
#include <optional>
#include <vector>

#include "plane/geometry.h"
#include "works/section.h"

namespace inselberg::works {

using plane::Vec2;
using plane::Vec3;

enum class CornerStyle { round, square };

// A straight piece of a crest; what is built lies on its right. Numbers of the section pass linearly from end to end.
struct Stretch {
  Vec3 a, b;
  SectionPtr fromA = {}, toB = {};  // of the same make
  std::uint32_t edge = 0;           // what it belongs to: the number of an outline's edge
  double arcStep = 0;               // a chord of a round corner: the angle it spans; else 0
  Vec2 centre = {};                 // of that corner

  bool constant() const { return fromA == toB || alike(*fromA, *toB); }
  Section at(double t) const { return constant() ? *fromA : between(*fromA, *toB, t); }
};

// Whether a batter starts from it, after all its legs.
inline bool hasBatter(const Stretch& stretch) {
  return endsInBatter(*stretch.fromA);
}

// Stretches end to end. An open line is built on between two rays, square to its ends unless they are given.
struct CrestLine {
  std::vector<Stretch> stretches;
  bool closed = false;
  Vec2 startRay = {}, endRay = {};  // {0, 0}: square
  static constexpr std::uint32_t kNoWall = std::numeric_limits<std::uint32_t>::max();
  // The end walls that an open line starts and ends at.
  std::uint32_t startWall = kNoWall, endWall = kNoWall;
};

// The square end of a line with two sides: nothing is built where it is the nearest. From the end of the right side
// round to the start of the left one, as lines run.
struct EndWall {
  std::vector<Vec2> points;
  Vec2 startRay, endRay;
};

// The crests of one works, and how corners are made.
struct Crests {
  std::vector<CrestLine> lines;
  std::vector<EndWall> walls;
  CornerStyle corners = CornerStyle::round;
  double chordError = 1e-3;  // m: how far the chords of round corners may lie from true, in plan
};

// A closed crest around an outline (counter-clockwise, built on outside) with its levels: the sections along it from
// its first corner, but where an edge has its own; cut where sections bend. `edgeOf` tells for each side of the outline
// what edge it is part of, where it is cut finer; without, each is one. REQUIRES: names are resolved.
CrestLine around(const std::vector<Vec3>& outline, const SectionsAlong& along,
                 const std::vector<EdgeSection>& edges = {}, const std::vector<std::size_t>& edgeOf = {});
// The same seen from inside, with one section.
CrestLine within(const std::vector<Vec3>& outline, const Section& section);

// A piece of a line both of whose sides are built on, with the sections at its start and end, looking along it.
struct LinePiece {
  Vec3 a, b;
  struct {
    SectionPtr start, end;  // of the same make
  } left, right;
};
enum class LineEnds {
  square,   // nothing is built where an end is nearest, but square to it
  wrapped,  // the section turns round the ends; left and right are alike there
  joined    // the last piece joins the first
};
Crests alongBothSides(const std::vector<LinePiece>& line, LineEnds ends);

}  // namespace inselberg::works
