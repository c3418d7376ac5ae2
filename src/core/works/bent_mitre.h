// The line in which batters meet at a corner, where it is no straight mitre: it bends at every bench of either, and
// does not begin at the corner where they start at different levels there.
#pragma once

#include <cstdint>
#include <vector>

#include "works/batter_strips.h"
#include "works/rail.h"

namespace inselberg::works {

// A batter beside a corner, seen from there: its height is that of the rail at its depth, plus slope by metres along
// it.
struct BesideCorner {
  Vec2 along, out;  // units
  double slope = 0;
  Rail rail;
};

// Where the two have one height, relative to the corner, from there outwards: at first where their first slopes meet,
// up to `reach` deep in either, or to where it turns back on a crest.
std::vector<Vec2> meetingLine(const BesideCorner& before, const BesideCorner& after, double reach);

// Two strips that lie over each other beside a corner, as both go as far as the line in which they meet strays. Of the
// two the higher counts at inward corners, at others the lower.
struct BentMitre {
  std::uint32_t before = 0, after = 0;
  bool higher = false;
  Vec2 corner, ray;                // along which they would meet, were there no benches
  Vec2 surelyBefore, surelyAfter;  // the rays up to which each is there
};

// Lets strips of batters go on beyond their mitres where these are not straight: the rays of those that are named in
// the result are wider then. sign and reach as in FieldRequest.
std::vector<BentMitre> bentMitres(std::vector<BatterStrip>& strips, double sign, double reach);

}  // namespace inselberg::works
