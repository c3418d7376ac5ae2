#include "works/bent_mitre.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace inselberg::works {
namespace {

using plane::cross;
using plane::dot;

// One of the two on the way along the line: the part of its rail that the line is on.
struct Walker {
  const BesideCorner& side;
  std::size_t part = 0;
  double depth = 0;

  double rate() const {  // of height, per metre out
    const RailPoint &p = side.rail[part], &q = side.rail[part + 1];
    return (q.height - p.height) / (q.depth - p.depth);
  }
  Vec2 gradient() const { return side.slope * side.along + rate() * side.out; }
  // How far it is in a direction to the end of the part, and whether that is the outer one.
  std::pair<double, bool> toEnd(Vec2 direction) const {
    const double speed = dot(direction, side.out);
    if (speed > 1e-12) return {(side.rail[part + 1].depth - depth) / speed, true};
    if (speed < -1e-12) return {(side.rail[part].depth - depth) / speed, false};
    return {std::numeric_limits<double>::infinity(), true};
  }
};

constexpr double kSharpest = 10;  // m along the crest to a metre out: no strip goes on farther

// The way along the crest per metre out.
double skew(Vec2 p, const BesideCorner& side) {
  return dot(p, side.along) / dot(p, side.out);
}

}  // namespace

std::vector<Vec2> meetingLine(const BesideCorner& before, const BesideCorner& after, double reach) {
  std::vector<Vec2> line{{0, 0}};
  Walker one{before}, two{after};
  const auto direction = [&] { return plane::rightOf(one.gradient() - two.gradient()); };
  const double turned = dot(direction(), before.out + after.out) < 0 ? -1 : 1;
  for (std::size_t step = 0; step < 4 * (before.rail.size() + after.rail.size()); ++step) {
    const Vec2 way = turned * direction();
    if (!(plane::norm(way) > 1e-12)) break;
    const Vec2 unit = plane::unit(way);
    const auto [d, outwards] = one.toEnd(unit);
    const auto [e, alsoOutwards] = two.toEnd(unit);
    const double far = std::min(d, e);
    if (!std::isfinite(far)) break;
    line.push_back(line.back() + far * unit);
    // At a corner between parts of both it may turn into either: the way goes on from where it is.
    const auto goOn = [&](Walker& walker, bool ends, bool out) {
      walker.depth += far * dot(unit, walker.side.out);
      if (!ends) return true;
      if (!out && walker.part == 0) return false;
      if (out && walker.part + 2 == walker.side.rail.size()) return false;
      walker.part = out ? walker.part + 1 : walker.part - 1;
      walker.depth = walker.side.rail[out ? walker.part : walker.part + 1].depth;
      return true;
    };
    const bool first = goOn(one, d <= far + 1e-9, outwards), second = goOn(two, e <= far + 1e-9, alsoOutwards);
    if (!first || !second || std::max(one.depth, two.depth) > reach) break;
  }
  return line;
}

namespace {

// Whether they start at different levels at the corner.
bool isStepped(const BatterStrip& before, const BatterStrip& after) {
  return std::abs(before.zb - after.za) > 1e-6;
}

BesideCorner besideCorner(const BatterStrip& s, const Section& section, double sign, double reach) {
  const Leg& leg = section.back();
  return {s.along, s.out, sign * s.slope(), stepsOf(leg, sign, reach, stepsWithin(leg, sign, reach))};
}

// Lets both go on as far as the line in which they meet strays.
BentMitre bent(BatterStrip& before, BatterStrip& after, double sign, double reach) {
  const BesideCorner in = besideCorner(before, *before.toB, sign, reach),
                     out = besideCorner(after, *after.fromA, sign, reach);
  BentMitre made;
  made.corner = before.b, made.ray = before.ub;
  made.higher = cross(before.along, after.along) < 0;
  // As far as a straight mitre goes, and over all that lies square to neither.
  const double straightBefore = skew(before.ub, in), straightAfter = skew(after.ua, out);
  const double wedge = made.higher ? 0 : dot(out.out, in.out) * kSharpest > 1 ? std::abs(skew(out.out, in)) : kSharpest;
  const double limitBefore = std::max(straightBefore, wedge), limitAfter = std::min(straightAfter, -wedge);
  double mostBefore = straightBefore, leastBefore = straightBefore;
  double mostAfter = straightAfter, leastAfter = straightAfter;
  if (isStepped(before, after)) {
    mostBefore = limitBefore, leastBefore = 0, mostAfter = 0, leastAfter = limitAfter;
  } else {
    for (const Vec2 p : meetingLine(in, out, reach)) {
      if (p == Vec2{}) continue;
      // Beyond, one of the two would lie flat along its crest.
      if (dot(p, in.out) * kSharpest < plane::norm(p) || dot(p, out.out) * kSharpest < plane::norm(p)) break;
      mostBefore = std::max(mostBefore, skew(p, in)), leastBefore = std::min(leastBefore, skew(p, in));
      mostAfter = std::max(mostAfter, skew(p, out)), leastAfter = std::min(leastAfter, skew(p, out));
    }
  }
  constexpr double kBeyond = 1e-6;  // so that the line lies within
  before.ub = before.out + (std::min(mostBefore, limitBefore) + kBeyond) * before.along;
  after.ua = after.out + (std::max(leastAfter, limitAfter) - kBeyond) * after.along;
  made.surelyBefore = before.out + leastBefore * before.along;
  made.surelyAfter = after.out + mostAfter * after.along;
  return made;
}

}  // namespace

std::vector<BentMitre> bentMitres(std::vector<BatterStrip>& strips, double sign, double reach) {
  std::vector<BentMitre> made;
  const auto n = static_cast<std::uint32_t>(strips.size());
  for (std::uint32_t i = 0; i < n; ++i) {
    if (!strips[i].mitreB) continue;
    // The next along the crest; after the last of a closed line its first.
    std::uint32_t next = i + 1;
    if (next == n || strips[next].line != strips[i].line) {
      next = i;
      while (next > 0 && strips[next - 1].line == strips[i].line) --next;
    }
    BatterStrip &before = strips[i], &after = strips[next];
    if (next == i || !after.mitreA || !(before.b == after.a) || !sameMake(*before.toB, *after.fromA)) continue;
    // As far from the one as from the other they stay at one height, whatever the benches do.
    const bool bends = before.toB->back().bench && plane::distance(before.ub, after.ua) > 1e-9;
    if (!bends && !isStepped(before, after)) continue;
    made.push_back(bent(before, after, sign, reach));
    made.back().before = i, made.back().after = next;
  }
  return made;
}

}  // namespace inselberg::works
