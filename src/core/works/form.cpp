// Method. Leg by leg, the strips beside the crests are parted by what lies nearest, and cut off at the leg's width
// (leg_pass.h); with the tops that makes the works' own area. From the last crests the batters start: for fill and for
// cut apart, the batter field (batter_field.h) is laid over the ground, and the part above it that hangs together with
// the crest is found by spreading (spread.h). It leaves the daylight line, the folds of the field under it, and the
// places where it ran out of ground or reach. These lines and the border of the own area are triangulated together;
// outside of it a triangle is a batter by its place and the sign of the difference there.
#include "works/form.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numeric>
#include <utility>

#include "base/parallel.h"
#include "ground/level_grid.h"
#include "ground/recut.h"
#include "ground/triangulate_faces.h"
#include "plane/linework.h"
#include "plane/place_text.h"
#include "plane/static_index.h"
#include "works/spread.h"

namespace inselberg::works {
namespace {

using ground::kNone;
using ground::Tin;
using ground::Triangle;

// One kind of batter along the crests.
struct Side {
  double sign = 1, reach = 0;
  std::unique_ptr<BatterField> field;
  Spread spread;
  bool any() const { return spread.any; }
};

// A corner made fine for a radius serves for so much more: its chord error grows as little.
constexpr double kEnough = 1.25;

// How far out round corners have to be fine, by corner.
class Radii {
 public:
  double operator()(Vec2 corner) const {
    const auto it = radii_.find(key(corner));
    return it == radii_.end() ? largest_ : it->second;
  }
  double largest() const { return largest_; }
  void atLeast(Vec2 corner, double radius) {
    double& known = radii_[key(corner)];
    known = std::max(known, radius);
    largest_ = std::max(largest_, known);
  }
  // Whether it was less.
  bool widen(Vec2 corner, double radius) {
    if (radius <= (*this)(corner)*kEnough) return false;
    // In steps, so that what was found a little farther out here and there comes to the same corner.
    constexpr double kStep = 1.15;
    atLeast(corner, std::pow(kStep, std::ceil(std::log(1.02 * radius) / std::log(kStep))));
    return true;
  }

 private:
  static std::pair<std::int64_t, std::int64_t> key(Vec2 p) {
    return {std::llround(p.x * 1e4), std::llround(p.y * 1e4)};
  }
  std::map<std::pair<std::int64_t, std::int64_t>, double> radii_;
  double largest_ = 1e-3;
};

// How far from p a batter that starts `from` metres out goes before it first meets the ground, sampled: only sets the
// fineness of corners.
double roughRadius(const Tin& ground, Vec2 p, double from, double height, const Leg& leg, double sign, double reach) {
  const Rail rail = stepsOf(leg, sign, reach, stepsWithin(leg, sign, reach));
  double farthest = 0;
  for (int k = 0; k < 8; ++k) {
    const Vec2 u{std::cos(k * 0.785), std::sin(k * 0.785)};
    double t = 0.5;
    for (; t < reach; t *= 1.3) {
      const auto level = ground.levelAt(p + (from + t) * u);
      if (!level || height + heightAt(rail, t) <= sign * *level) break;
    }
    farthest = std::max(farthest, t);
  }
  return from + std::min(farthest, reach);
}

// How far the batters of one kind can need to go; 0 where no crest lies above the ground at all.
double fieldReach(const Crests& crests, const Tin& ground, double sign, double most) {
  const double lowest = sign > 0 ? ground.minLevel() : -ground.maxLevel();
  double reach = 0;
  for (const CrestLine& line : crests.lines) {
    for (const Stretch& s : line.stretches) {
      if (!hasBatter(s)) continue;
      const double height = std::max(sign * s.a.z, sign * s.b.z) - lowest;
      if (height <= 0) continue;
      const Leg &a = s.fromA->back(), &b = s.toB->back();
      double far = height * std::max(a.run(sign), b.run(sign)) * 1.01 + 1;
      if (a.bench) {
        const double gain =
            std::max(a.bench->every + sign * a.bench->fall / 100 * a.bench->width, 0.01 * a.bench->every);
        far += (height / gain + 1) * a.bench->width + far * std::max(0.0, a.bench->every / gain - 1);
      }
      reach = std::max(reach, far);
    }
  }
  return std::min(reach, most);
}

class Placing {
 public:
  Placing(const Tin& ground, const Form& form, const Progress& progress)
      : ground_(ground), form_(form), progress_(progress) {
    firstRadii();
    for (int round = 0;; ++round) {
      passLegs();
      layOut();
      if (fineEnough() || round == 2) break;
    }
    assemble();
  }

  Placement placement(const plane::Origin& origin);

 private:
  void firstRadii() {
    std::vector<const Stretch*> corners;  // that they start at
    for (const CrestLine& line : form_.crests.lines) {
      for (std::size_t i = 0; i < line.stretches.size(); ++i) {
        if (mayBeRound(line, i)) corners.push_back(&line.stretches[i]);
      }
    }
    std::vector<double> radii(corners.size());
    parallelChunks(corners.size(), 16, progress_, [&](std::size_t begin, std::size_t end, std::size_t) {
      for (std::size_t i = begin; i < end; ++i) radii[i] = radiusAtStart(*corners[i]);
    });
    for (std::size_t i = 0; i < corners.size(); ++i) radii_.atLeast(corners[i]->a.plan(), 1.1 * radii[i]);
  }

  // About how far all legs and the batter go where a stretch starts.
  double radiusAtStart(const Stretch& s) const {
    Reach legs{form_.space.value_or(0), s.a.z};
    for (const Leg& leg : *s.fromA) {
      const Reach next = reachOf(leg, legs.level);
      legs = {legs.width + next.width, next.level};
    }
    if (!hasBatter(s) || ground_.empty()) return legs.width;
    const Leg& leg = s.fromA->back();
    return std::max(roughRadius(ground_, s.a.plan(), legs.width, legs.level, leg, 1, form_.reach),
                    roughRadius(ground_, s.a.plan(), legs.width, -legs.level, leg, -1, form_.reach));
  }

  // Where a line goes straight on, or turns in on itself, there is no round corner whose fineness mattered.
  static bool mayBeRound(const CrestLine& line, std::size_t i) {
    if (i == 0 && !line.closed) return true;
    const Stretch &in = line.stretches[i > 0 ? i - 1 : line.stretches.size() - 1], &out = line.stretches[i];
    const Vec2 before = in.b.plan() - in.a.plan(), after = out.b.plan() - out.a.plan();
    return plane::cross(before, after) > 1e-3 * plane::norm(before) * plane::norm(after) ||
           plane::dot(before, after) <= 0;
  }

  std::size_t legCount() const {
    std::size_t most = 0;
    for (const CrestLine& line : form_.crests.lines) {
      for (const Stretch& s : line.stretches) most = std::max(most, s.fromA->size());
    }
    return most;
  }

  void passLegs() {
    crests_ = form_.crests;
    legs_.clear();
    const auto pass = [&](const PassLeg& leg, FacetKind kind) {
      if (widest(crests_, leg) <= 0) return;
      LegPass done = passLeg(crests_, leg, radii_, progress_);
      legs_.push_back({kind, std::move(done.cells)});
      crests_ = std::move(done.outer);
    };
    if (form_.space && *form_.space > 0) pass({0, form_.space, form_.spaceIn}, FacetKind::margin);
    for (std::size_t k = 0; k < legCount(); ++k)
      pass({.number = k, .cornersLevel = form_.cornersLevel}, k < form_.topLegs ? FacetKind::margin : FacetKind::leg);
  }

  // Whether a batter of this kind starts anywhere: where the crest stands above the ground, as the sign has it.
  bool startsAnywhere(double sign) const {
    for (const CrestLine& line : crests_.lines) {
      for (const Stretch& s : line.stretches) {
        if (!hasBatter(s)) continue;
        const auto range = ground_.levels().within(plane::boxOf(plane::Segment2{s.a.plan(), s.b.plan()}));
        if (std::max(sign * s.a.z, sign * s.b.z) > (sign > 0 ? range.lowest : -range.highest)) return true;
      }
    }
    return false;
  }

  // The own area, and round it the fields of batters with what is reached of them.
  void layOut() {
    sides_.clear();
    double farthest = 0;
    for (const double sign : {1.0, -1.0}) {
      const double reach = fieldReach(crests_, ground_, sign, form_.reach);
      farthest = std::max(farthest, reach);
      if (reach > 0 && startsAnywhere(sign)) sides_.push_back({sign, reach, nullptr, {}});
    }
    const auto makeField = [&](std::size_t i, std::size_t, std::size_t) {
      sides_[i].field = std::make_unique<BatterField>(
          FieldRequest{&ground_, &crests_, sides_[i].sign, sides_[i].reach, radii_}, progress_);
    };
    std::vector<quantity::Convex> cells;
    parallelInvoke([&] { parallelChunks(sides_.size(), 1, progress_, makeField); },
                   [&] { own_ = ownArea(form_.tops, legs_, form_.rule, progress_); },
                   [&] {
                     if (!sides_.empty()) cells = nearestToWalls(crests_, farthest, progress_);
                   });
    own_.tin->index();  // before many ask for it at once
    ShapeIndex walls;
    for (const quantity::Convex& cell : cells) walls.add(cell);
    walls.close();
    Blocked blocked;
    blocked.own = &own_;
    blocked.borders = outerSides(cells);
    blocked.at = [&](Vec2 p) { return own_.tin->locate(p) != kNone || walls.at(p); };
    parallelChunks(sides_.size(), 1, progress_, [&](std::size_t i, std::size_t, std::size_t) {
      sides_[i].field->lay(blocked, progress_);
      sides_[i].spread = spreadOver(ground_, *sides_[i].field, sides_[i].sign, progress_);
    });
  }

  bool fineEnough() {
    bool enough = true;
    for (const Side& side : sides_) {
      for (const auto& [corner, radius] : side.spread.corners) enough &= !radii_.widen(corner, radius);
    }
    return enough;
  }

  void assemble();
  void sortFaces(const ground::Triangulation& made, const std::vector<char>& own);
  std::vector<char> reached(const ground::Triangulation& made, const std::vector<Index>& candidate,
                            const plane::SegmentIndex& crests, const std::vector<plane::Segment2>& stretches) const;

  std::vector<char> bordersOnGround(const Tin& facets, const std::vector<FacetKind>& kinds) const;

  const Tin& ground_;
  const Form& form_;
  const Progress& progress_;
  Radii radii_;
  Crests crests_;
  std::vector<LegCells> legs_;
  OwnArea own_;
  std::vector<Side> sides_;
  // The faces round the own area.
  std::vector<int> group_;  // -1: no batter; else the number of a kind
  std::vector<ground::Plane> planes_;
  ground::TinParts parts_;
  std::vector<FacetKind> kinds_;
};

void Placing::assemble() {
  // Lines of one make do not cross each other.
  constexpr std::uint32_t kOwn = 1, kFill = 2, kCut = 4;
  plane::Linework work(ground::kSnap);
  ground::FacetBorder border(*own_.tin, own_.border, work, kOwn);
  for (const Side& side : sides_) {
    if (!side.any()) continue;
    for (const ground::Line2& line : side.spread.lines) work.addSegment(line.a, line.b, side.sign > 0 ? kFill : kCut);
  }
  work.nodeCrossings(kOwn | kFill | kCut);
  border.follow(work);
  const ground::Triangulation made = ground::triangulateFaces(work, border.sides(), progress_);
  progress_.check();
  sortFaces(made, border.inside(made, progress_));
  SurfaceMaker maker(made);
  border.eachFacet(
      [&](std::optional<Index> vertex, const Vec3& p) { return vertex ? maker.point(*vertex, p.z) : maker.point(p); },
      [&](const ground::FacetSide& side, Vec2 p) { return own_.planes[side.facet](p); },
      [&](Index facet, const Triangle& corners, std::uint8_t breaks) {
        if (maker.add(corners, breaks)) kinds_.push_back(own_.kinds[facet]);
      });
  for (Index f = 0; f < group_.size(); ++f) {
    if (group_[f] < 0) continue;
    maker.add(f, planes_[f], group_);
    kinds_.push_back(static_cast<FacetKind>(group_[f]));
  }
  parts_ = maker.finish();
}

// Batter faces hang together with a crest through faces of the same side, outside of the own area.
void Placing::sortFaces(const ground::Triangulation& made, const std::vector<char>& own) {
  const Index n = static_cast<Index>(made.triangles.size());
  group_.assign(n, -1);
  planes_.resize(n);
  std::vector<std::vector<Index>> candidate(sides_.size(), std::vector<Index>(n, kNone));
  const std::vector<char> nothing = besideNothing(made, std::vector<char>(n, 0));
  // Where the face before was found: they come in the order of their places.
  struct Near {
    Index ground = kNone;
    std::array<Index, 2> side{kNone, kNone};
  };
  const auto sort = [&](Index f, Near& near) {
    if (own[f] || nothing[f]) return;
    const Vec2 c = ground::centroid(made, f);
    const Index under = ground_.locate(c, near.ground);
    if (under == kNone) return;
    const double level = ground::planeOf(ground_.corners(under))(c);
    for (std::size_t s = 0; s < sides_.size(); ++s) {
      if (!sides_[s].any()) continue;
      const Index t = sides_[s].field->tin().locate(c, near.side[s]);
      if (t == kNone) continue;
      // Slivers between points of the daylight line have no sign worth asking: they go with the batter.
      const double above = sides_[s].field->height(t, c) - sides_[s].sign * level;
      if (above > 0 || (above > -kSameHeight && isSliver(made, f))) candidate[s][f] = t;
    }
  };
  parallelChunks(n, 512, progress_, [&](std::size_t begin, std::size_t end, std::size_t) {
    Near near;
    for (std::size_t f = begin; f < end; ++f) sort(static_cast<Index>(f), near);
  });
  std::vector<plane::Segment2> stretches;
  for (const CrestLine& line : crests_.lines) {
    for (const Stretch& s : line.stretches) {
      if (hasBatter(s)) stretches.push_back({s.a.plan(), s.b.plan()});
    }
  }
  const plane::SegmentIndex crests(stretches);
  for (std::size_t s = 0; s < sides_.size(); ++s) {
    const std::vector<char> yes = reached(made, candidate[s], crests, stretches);
    for (Index f = 0; f < n; ++f) {
      // Cut comes last: it rules over fill.
      if (!yes[f]) continue;
      group_[f] = static_cast<int>(sides_[s].sign > 0 ? FacetKind::fillBatter : FacetKind::cutBatter);
      planes_[f] = sides_[s].field->levels(candidate[s][f]);
    }
  }
}

std::vector<char> Placing::reached(const ground::Triangulation& made, const std::vector<Index>& candidate,
                                   const plane::SegmentIndex& crests,
                                   const std::vector<plane::Segment2>& stretches) const {
  constexpr double kNear = 4e-6;
  std::vector<char> yes(candidate.size(), 0);
  parallelChunks(candidate.size(), 512, progress_, [&](std::size_t begin, std::size_t end, std::size_t) {
    for (std::size_t f = begin; f < end; ++f) {
      if (candidate[f] == kNone) continue;
      const Triangle& t = made.triangles[f];
      for (int k = 0; k < 3 && !yes[f]; ++k) {
        if (!(made.constrained[f] >> k & 1)) continue;
        const Vec2 middle = 0.5 * (made.points[t[ground::next(k)]] + made.points[t[ground::before(k)]]);
        crests.near(middle, kNear, [&](std::uint32_t i) {
          if (plane::nearestOnSegment(middle, stretches[i].a, stretches[i].b).distance < kNear) yes[f] = 1;
        });
      }
    }
  });
  std::vector<Index> waiting;
  for (Index f = 0; f < candidate.size(); ++f) {
    if (yes[f]) waiting.push_back(f);
  }
  while (!waiting.empty()) {
    const Index f = waiting.back();
    waiting.pop_back();
    for (const Index other : made.neighbours[f]) {
      if (other == kNone || yes[other] || candidate[other] == kNone) continue;
      yes[other] = 1;
      waiting.push_back(other);
    }
  }
  return yes;
}

// Chains sides of the facets into lines, first those that do not come back to where they start.
std::vector<Line3> chained(const Tin& tin, const std::vector<std::pair<Index, Index>>& sides) {
  // Where the sides from each point lead, one point after the other, and which of them comes next.
  std::vector<std::size_t> first(tin.points().size() + 1, 0);
  std::vector<int> excess(tin.points().size(), 0);  // of those that leave a point
  for (const auto& [a, b] : sides) ++first[a + 1], ++excess[a], --excess[b];
  std::partial_sum(first.begin(), first.end(), first.begin());
  std::vector<Index> ends(sides.size());
  std::vector<std::size_t> next(first.begin(), first.end() - 1);
  for (const auto& [a, b] : sides) ends[next[a]++] = b;
  next.assign(first.begin(), first.end() - 1);
  std::vector<Line3> lines;
  const auto follow = [&](Index start) {
    Line3 line;
    line.points.push_back(tin.points()[start]);
    for (Index at = start; next[at] < first[at + 1];) {
      at = ends[next[at]++];
      if (at == start) {
        line.closed = true;
        break;
      }
      line.points.push_back(tin.points()[at]);
    }
    if (line.points.size() > 1) lines.push_back(std::move(line));
  };
  for (Index point = 0; point < excess.size(); ++point) {
    for (int i = 0; i < excess[point]; ++i) follow(point);
  }
  for (const auto& [a, b] : sides) {
    if (next[a] < first[a + 1]) follow(a);
  }
  return lines;
}

// Whether the works goes on beyond a side, at another level.
bool isStep(const Tin& tin, const std::pair<Index, Index>& side) {
  const Vec2 a = tin.plan(side.first), b = tin.plan(side.second);
  return tin.locate(0.5 * (a + b) + 1e-4 * plane::rightOf(plane::unit(b - a))) != kNone;
}

// Of the points along the outer sides of batters, which lie on the ground.
std::vector<char> Placing::bordersOnGround(const Tin& facets, const std::vector<FacetKind>& kinds) const {
  std::vector<char> on(facets.points().size(), 0);
  std::vector<Index> asked;
  for (Index t = 0; t < kinds.size(); ++t) {
    if (!isBatter(kinds[t])) continue;
    for (int k = 0; k < 3; ++k) {
      if (facets.neighbours()[t][k] != kNone) continue;
      for (const Index v : {facets.triangles()[t][ground::next(k)], facets.triangles()[t][ground::before(k)]}) {
        if (!std::exchange(on[v], 1)) asked.push_back(v);
      }
    }
  }
  parallelChunks(asked.size(), 128, progress_, [&](std::size_t begin, std::size_t end, std::size_t) {
    Index near = kNone;
    for (std::size_t i = begin; i < end; ++i) {
      const Vec3& p = facets.points()[asked[i]];
      const Index under = ground_.locate(p.plan(), near);
      on[asked[i]] = under != kNone && std::abs(ground::planeOf(ground_.corners(under))(p.plan()) - p.z) < kOnGround;
    }
  });
  return on;
}

Placement Placing::placement(const plane::Origin& origin) {
  Placement result;
  result.facets = std::make_shared<Tin>(std::move(parts_));
  result.kinds = std::move(kinds_);
  const Tin& tin = *result.facets;
  const std::vector<char> onGround = bordersOnGround(tin, result.kinds);
  std::vector<std::pair<Index, Index>> crest, daylight, ends;
  for (Index t = 0; t < tin.triangles().size(); ++t) {
    const Triangle& c = tin.triangles()[t];
    for (int k = 0; k < 3; ++k) {
      const Index other = tin.neighbours()[t][k];
      const std::pair side(c[ground::next(k)], c[ground::before(k)]);
      if (!isBatter(result.kinds[t])) {
        if (other == kNone || isBatter(result.kinds[other])) crest.push_back(side);
      } else if (other == kNone) {
        if (onGround[side.first] && onGround[side.second]) {
          daylight.push_back(side);
        } else if (!isStep(tin, side)) {
          ends.push_back(side);
        }
      }
    }
  }
  result.crests = chained(tin, crest);
  result.daylight = chained(tin, daylight);
  result.ends = chained(tin, ends);
  if (own_.tin->empty()) {
    for (const CrestLine& line : crests_.lines) {
      Line3 one{{}, line.closed};
      for (const Stretch& s : line.stretches) one.points.push_back(s.a);
      if (!line.closed) one.points.push_back(line.stretches.back().b);
      result.crests.push_back(std::move(one));
    }
  }
  const ground::TinStatistics statistics = ground::statistics(tin);
  result.footprintArea = statistics.planArea, result.surfaceArea = statistics.surfaceArea;
  for (const Side& side : sides_) {
    const char* kind = side.sign > 0 ? "fill" : "cut";
    if (const auto& edge = side.spread.outOfGround) {
      result.doubts.push_back(
          {ground::DoubtKind::noDaylight, edge->at,
           fmt::format("The {} batter reaches the edge of the ground before daylight near {}: a slope of {:.2f}:1, a "
                       "wall there, or moving it in keeps it on the ground.",
                       kind, plane::placeText(edge->at, origin), edge->run)});
    }
    if (const auto& p = side.spread.outOfReach) {
      result.doubts.push_back({ground::DoubtKind::noDaylight, *p,
                               fmt::format("The {} batter does not reach daylight within {:g}\u00a0m near {}.", kind,
                                           form_.reach, plane::placeText(*p, origin))});
    }
  }
  return result;
}

}  // namespace

Placement placeForm(const Tin& ground, Form form, const plane::Origin& origin, const Progress& progress,
                    Detail detail) {
  if (detail == Detail::draft) form.crests.chordError = std::max(form.crests.chordError, kDraft);
  return Placing(ground, form, progress).placement(origin);
}

}  // namespace inselberg::works
