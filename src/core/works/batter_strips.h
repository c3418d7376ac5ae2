// From crests to strips: what lies square to each stretch, and the fans and mitres at the corners between them.
#pragma once

#include <array>
#include <functional>
#include <vector>

#include "works/crest.h"

namespace inselberg::works {

// The place of a strip on its foot a-b, between the rays (a, ua) and (b, ub). A fan's foot is one point.
struct BatterStrip {
  Vec2 a, b;
  double za = 0, zb = 0;
  Vec2 ua, ub;                          // per metre of depth
  Vec2 out;                             // depth per metre: 1 along either ray
  Vec2 along;                           // a unit from a to b; {0, 0} of a fan
  bool mitreA = false, mitreB = false;  // that ray lies off square: levels there are the plane's, prolonged
  SectionPtr fromA, toB;                // null: a wall without a section
  std::uint32_t line = 0, stretch = 0, edge = 0;
  bool startsLine = false, endsLine = false;  // at the very start or end of an open line
  bool fan = false;
  double arcStep = 0;  // of a fan, or of a chord
  Vec2 centre;         // of these
  double slope() const {
    const double length = plane::distance(a, b);
    return length > 0 ? (zb - za) / length : 0;
  }
};

// What the corners depend on: the height that governs where strips overlap.
struct Governing {
  // m of height lost per metre out, at the start and end of a stretch.
  std::function<std::array<double, 2>(const Stretch&)> rates;
  bool byLevel = false;  // the height is the level (turned for cut) and the rate, else minus the depth alone
  double sign = 1;
};

struct StripRules {
  CornerStyle corners = CornerStyle::round;
  // How many parts a fan of an angle between two sections has at least: by the distance to which it matters.
  std::function<double(Vec2 centre)> radius;
  double chordError = 1e-3;
  std::function<bool(const Stretch&)> isWall;  // nothing is built on it
  bool cornersToBefore = false;                // a round corner belongs to the stretch before it, whatever comes after
  double levelCorners = 0;                     // m: square corners so wide have strips of their own, at their level
  // Where to cut a stretch, from 0 to 1, both left out: so that numbers are linear over each part.
  std::function<std::vector<double>(const Stretch&)> stops;
};

// In the order of the lines, from their start to their end; end walls last.
std::vector<BatterStrip> stripsOf(const std::vector<CrestLine>& lines, const std::vector<EndWall>& walls,
                                  const Governing& governing, const StripRules& rules);

}  // namespace inselberg::works
