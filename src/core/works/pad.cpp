#include "works/pad.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "ground/clip.h"
#include "ground/drape.h"
#include "ground/triangulate.h"
#include "plane/bearing.h"
#include "plane/inside.h"
#include "plane/place_text.h"
#include "works/fit.h"
#include "works/form.h"

namespace inselberg::works {
namespace {

using ground::Index;

bool isPlane(PadTop top) {
  return top == PadTop::level || top == PadTop::tilted || top == PadTop::fitted;
}

// REQUIRES: the top is one.
ground::Plane planeOf(const Pad& pad, const ground::Tin& ground) {
  const Vec2 middle = plane::centroid(pad.outline);
  if (pad.top == PadTop::tilted) return {middle, pad.level, -pad.fall / 100 * plane::towards(pad.bearing)};
  if (pad.top == PadTop::fitted) {
    ground::Plane plane = fittedPlane(ground, pad.outline, pad.greatestFall / 100);
    return {middle, plane(middle) + pad.offset, plane.gradient};
  }
  return {middle, pad.level, {0, 0}};
}

// What a fitted plane came to be.
std::vector<Figure> figuresOf(const ground::Plane& top) {
  return {{"level_m", "Level", Measure::level, top.level},
          {"fall_percent", "Fall", Measure::percent, 100 * plane::norm(top.gradient)},
          {"bearing_deg", "Towards", Measure::bearing, plane::bearingOf(-1 * top.gradient)}};
}

std::vector<Vec3> cornersOf(const Pad& pad, const ground::Tin& ground, const plane::Origin& origin) {
  std::vector<Vec3> corners;
  for (std::size_t i = 0; i < pad.outline.size(); ++i) {
    const Vec2 p = pad.outline[i];
    if (pad.top == PadTop::corners) {
      if (pad.cornerLevels.size() != pad.outline.size()) {
        throw Error(fmt::format("it has {} corners and {} levels", pad.outline.size(), pad.cornerLevels.size()),
                    "give each corner a level");
      }
      corners.push_back({p.x, p.y, pad.cornerLevels[i]});
    } else {
      const auto level = ground.levelAt(p);
      if (!level)
        throw Error("the corner at " + plane::placeText(p, origin) + " lies off the ground", "move it onto the ground");
      corners.push_back({p.x, p.y, *level + pad.offset});
    }
  }
  return corners;
}

// Falling with the distance from the ridge, as far as the outline reaches.
ground::TinPtr overRidge(const Pad& pad, const Progress& progress) {
  if (pad.ridge.size() < 2) throw Error("it has no ridge line", "draw the line, or choose another top");
  double far = 0;
  std::vector<Vec3> line;
  for (const Vec2 p : pad.ridge) {
    line.push_back({p.x, p.y, pad.level});
    for (const Vec2 q : pad.outline) far = std::max(far, plane::distance(p, q));
  }
  Crests crests = alongBothSides(piecesOf(line, {legOut(far + 1, pad.fall)}), LineEnds::wrapped);
  crests.chordError = std::min(pad.batters.chordError, 1e-3);
  LegPass pass = passLeg(
      crests, {}, [far](Vec2) { return far; }, progress);
  const LegCells cells{FacetKind::surface, std::move(pass.cells)};
  const OwnArea all = ownArea({}, std::span(&cells, 1), Rule::legs, progress);
  const plane::Polygon outline{pad.outline, {}};
  return ground::keepInside(*all.tin, std::span(&outline, 1), progress);
}

// The outline on a surface, with a level wherever it crosses into another triangle, and the edge of each side.
struct Crest {
  std::vector<Vec3> ring;
  std::vector<std::size_t> edgeOf;
};
Crest crestOn(const ground::Tin& top, const plane::Ring& outline) {
  std::vector<std::size_t> first;
  Crest crest{ground::draped(top, outline, true, &first), {}};
  if (crest.ring.empty()) throw Error("its top does not cover its outline", "move the outline or the ridge");
  for (std::size_t i = 0, edge = 0; i < crest.ring.size(); ++i) {
    if (edge + 1 < first.size() && i == first[edge + 1]) ++edge;
    crest.edgeOf.push_back(edge);
  }
  return crest;
}

}  // namespace

// Where diagonals serve alike, flipped to the one that holds the lowest number, again and again.
static void preferLowest(ground::Triangulation& made, const std::vector<char>& in, const std::vector<Vec3>& corners,
                         bool clockwise) {
  const Index n = static_cast<Index>(corners.size());
  const auto number = [&](Index v) { return clockwise ? (n - v) % n : v; };
  for (int round = 0; round < 1000; ++round) {
    bool flipped = false;
    for (Index t = 0; t < made.triangles.size(); ++t) {
      for (int k = 0; k < 3; ++k) {
        const Index u = made.neighbours[t][k];
        if (u == ground::kNone || u < t || (made.constrained[t] >> k & 1) || !in[t] || !in[u]) continue;
        int l = 0;
        while (made.neighbours[u][l] != t) ++l;
        ground::Triangle &a = made.triangles[t], &b = made.triangles[u];
        const Index apex = a[k], p = a[ground::next(k)], q = a[ground::before(k)], other = b[l];
        if (std::min(number(apex), number(other)) >= std::min(number(p), number(q))) continue;
        const auto at = [&](Index v) { return corners[v].plan(); };
        // On one circle, and convex: then either diagonal serves.
        const Vec2 ca = at(p) - at(apex), cb = at(q) - at(apex), cd = at(other) - at(apex);
        const double det = plane::dot(ca, ca) * plane::cross(cb, cd) + plane::dot(cb, cb) * plane::cross(cd, ca) +
                           plane::dot(cd, cd) * plane::cross(ca, cb);
        const double scale = std::pow(std::max({plane::norm(ca), plane::norm(cb), plane::norm(cd)}), 4);
        const double least = 1e-9 * std::sqrt(scale);
        if (std::abs(det) > 1e-9 * scale || plane::turn(at(apex), at(p), at(other)) < least ||
            plane::turn(at(apex), at(other), at(q)) < least)
          continue;
        // t becomes apex, p, other; u becomes apex, other, q.
        const Index tp = made.neighbours[t][ground::before(k)], tq = made.neighbours[t][ground::next(k)];
        const int bp = b[ground::next(l)] == q ? ground::next(l) : ground::before(l);  // the corner q of u
        const int bq = bp == ground::next(l) ? ground::before(l) : ground::next(l);    // the corner p of u
        const Index uq = made.neighbours[u][bq], up = made.neighbours[u][bp];
        const auto bit = [](std::uint8_t bits, int side) { return bits >> side & 1; };
        const int cTp = bit(made.constrained[t], ground::before(k)), cTq = bit(made.constrained[t], ground::next(k));
        const int cUq = bit(made.constrained[u], bq), cUp = bit(made.constrained[u], bp);
        a = {apex, p, other}, b = {apex, other, q};
        made.neighbours[t] = {up, u, tp}, made.neighbours[u] = {uq, tq, t};
        made.constrained[t] = static_cast<std::uint8_t>(cUp | cTp << 2);
        made.constrained[u] = static_cast<std::uint8_t>(cUq | cTq << 1);
        const auto relink = [&](Index whose, Index from, Index to) {
          if (whose == ground::kNone) return;
          for (Index& x : made.neighbours[whose]) {
            if (x == from) {
              x = to;
              return;
            }
          }
        };
        relink(up, u, t), relink(tq, t, u);
        flipped = true;
        break;
      }
    }
    if (!flipped) return;
  }
}

ground::TinPtr overCorners(const std::vector<Vec3>& outline, bool writtenClockwise, const Progress& progress) {
  std::vector<Vec2> plan;
  std::vector<ground::Edge> edges;
  for (Index i = 0; i < outline.size(); ++i) {
    plan.push_back(outline[i].plan());
    edges.emplace_back(i, static_cast<Index>((i + 1) % outline.size()));
  }
  ground::Triangulation made = ground::triangulate(plan, edges, progress);
  const plane::Inside inside(plan);
  std::vector<char> in(made.triangles.size());
  for (Index t = 0; t < made.triangles.size(); ++t) {
    const auto& c = made.triangles[t];
    in[t] = inside((1.0 / 3) * (plan[c[0]] + plan[c[1]] + plan[c[2]])) ? 1 : 0;
  }
  preferLowest(made, in, outline, writtenClockwise);
  ground::TinParts parts;
  parts.points = outline;
  for (Index t = 0; t < made.triangles.size(); ++t) {
    if (!in[t]) continue;
    parts.triangles.push_back(made.triangles[t]);
    parts.breaks.push_back(7);
  }
  ground::dropUnusedPoints(parts);
  return std::make_shared<ground::Tin>(std::move(parts));
}

const Kind& kindOf(const Pad&) {
  static const KindOf<Pad> kind(
      {"pad", "Pad", "An area, level or shaped, with batters to the ground."},
      {field<Pad>({.name = "outline",
                   .label = "Outline",
                   .meaning = "The edge of the area, where the batters start.",
                   .measure = Measure::outline},
                  &Pad::outline),
       field<Pad>(
           {.name = "top",
            .label = "Top",
            .meaning =
                "Level; tilted, falling one way; fitted, the plane that moves the least; through its corners, at "
                "levels of their own or on the ground; or a ridge with falls from it.",
            .measure = Measure::choice,
            .words = {"level", "tilted", "fitted", "corners", "on ground", "ridge"},
            .later = true},
           &Pad::top),
       field<Pad>({.name = "level",
                   .label = "Level",
                   .meaning = "The level of the area, in its middle where it is tilted.",
                   .measure = Measure::level,
                   .figure = true},
                  &Pad::level)
           .onlyWhen([](const Pad& pad) {
             return pad.top == PadTop::level || pad.top == PadTop::tilted || pad.top == PadTop::ridge;
           }),
       field<Pad>({.name = "fall_percent",
                   .label = "Fall",
                   .meaning = "How steeply the top falls; away from a ridge, negative towards a valley.",
                   .measure = Measure::percent,
                   .least = -100,
                   .most = 100,
                   .figure = true,
                   .later = true},
                  &Pad::fall)
           .onlyWhen([](const Pad& pad) { return pad.top == PadTop::tilted || pad.top == PadTop::ridge; }),
       field<Pad>({.name = "bearing_deg",
                   .label = "Towards",
                   .meaning = "The bearing that the top falls to, clockwise from north.",
                   .measure = Measure::bearing,
                   .least = 0,
                   .most = 360,
                   .step = 5,
                   .figure = true,
                   .later = true},
                  &Pad::bearing)
           .onlyWhen([](const Pad& pad) { return pad.top == PadTop::tilted; }),
       field<Pad>({.name = "max_fall_percent",
                   .label = "Greatest fall",
                   .meaning = "How steep the fitted top may be.",
                   .measure = Measure::percent,
                   .least = 0,
                   .most = 100,
                   .later = true},
                  &Pad::greatestFall)
           .onlyWhen([](const Pad& pad) { return pad.top == PadTop::fitted; }),
       field<Pad>({.name = "offset",
                   .label = "Above it",
                   .meaning = "How far the top lies above the plane that fits best, or the ground at its corners.",
                   .least = -1000,
                   .most = 1000,
                   .step = 0.05,
                   .later = true},
                  &Pad::offset)
           .onlyWhen([](const Pad& pad) { return pad.top == PadTop::fitted || pad.top == PadTop::onGround; }),
       field<Pad>({.name = "corner_levels",
                   .label = "Corner levels",
                   .meaning = "The level of each corner, from the first.",
                   .measure = Measure::cornerLevels,
                   .later = true},
                  &Pad::cornerLevels)
           .onlyWhen([](const Pad& pad) { return pad.top == PadTop::corners; }),
       field<Pad>({.name = "ridge",
                   .label = "Ridge",
                   .meaning = "The line that the top falls from.",
                   .measure = Measure::line,
                   .later = true,
                   .mayBeEmpty = true},
                  &Pad::ridge)
           .onlyWhen([](const Pad& pad) { return pad.top == PadTop::ridge; }),
       field<Pad>({.name = "space",
                   .label = "Space",
                   .meaning = "How far the top goes on beyond the outline before its batters begin.",
                   .least = 0,
                   .most = 1000,
                   .later = true},
                  &Pad::space),
       field<Pad>({.name = "building",
                   .label = "Building on it",
                   .meaning = "Whether one stands on it: a doubt tells where the land beside falls towards it.",
                   .measure = Measure::flag,
                   .later = true},
                  &Pad::building),
       field<Pad>(
           {.name = "cut_batter",
            .label = "Cut batter",
            .meaning = "The slope up to the ground where the pad lies below it.",
            .measure = Measure::slope,
            .step = 0.25},
           [](auto& pad) -> auto& { return pad.batters.cut; })
           .onlyWhen([](const Pad& pad) { return pad.section.empty(); }),
       field<Pad>(
           {.name = "fill_batter",
            .label = "Fill batter",
            .meaning = "The slope down to the ground where the pad lies above it.",
            .measure = Measure::slope,
            .step = 0.25},
           [](auto& pad) -> auto& { return pad.batters.fill; })
           .onlyWhen([](const Pad& pad) { return pad.section.empty(); }),
       cornersField<Pad>([](auto& pad) -> auto& { return pad.batters.corners; }),
       sectionField<Pad>("section", "Section", "What goes out from the edge: legs, or a section by its name.",
                         &Pad::section),
       field<Pad>({.name = "edges",
                   .label = "Edges",
                   .meaning = "Edges with a section of their own, or a wall; counted from 0.",
                   .measure = Measure::edges,
                   .later = true},
                  &Pad::edges),
       field<Pad>(
           {.name = "reach",
            .label = "Reach",
            .meaning = "How far a batter may go to meet the ground.",
            .least = 1e-3,
            .onCard = false},
           [](auto& pad) -> auto& { return pad.batters.reach; }),
       field<Pad>(
           {.name = "chord_error",
            .label = "Chord error",
            .meaning = "How far the facets of round corners may lie from true.",
            .least = 1e-6,
            .most = 1,
            .onCard = false},
           [](auto& pad) -> auto& { return pad.batters.chordError; }),
       field<Pad>({.name = "written_clockwise",
                   .label = "Written clockwise",
                   .meaning = "Whether its corners were numbered clockwise where it came from.",
                   .measure = Measure::flag,
                   .onCard = false,
                   .later = true},
                  &Pad::writtenClockwise)});
  return kind;
}

Pad slopingBed() {
  Pad pad;
  pad.top = PadTop::fitted;
  pad.section = {{0, {{}, {legOut(1), legToGround(2, 2)}}}};
  return pad;
}

Placement place(const Pad& pad, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress,
                Detail detail) {
  for (const EdgeSection& e : pad.edges) {
    if (e.edge >= pad.outline.size())
      throw Error(fmt::format("it has no edge {}; they are counted from 0", e.edge), "give an edge it has");
  }
  Form form;
  form.reach = pad.batters.reach;
  std::optional<ground::Plane> top;
  Crest crest;
  if (isPlane(pad.top)) {
    top = planeOf(pad, ground);
    form.tops = {{pad.outline, *top, nullptr}};
    form.spaceIn = top;
    for (const Vec2 p : pad.outline) crest.ring.push_back({p.x, p.y, (*top)(p)});
  } else {
    const ground::TinPtr tin = pad.top == PadTop::ridge
                                   ? overRidge(pad, progress)
                                   : overCorners(cornersOf(pad, ground, origin), pad.writtenClockwise, progress);
    form.tops = {{{}, {}, tin}};
    crest = crestOn(*tin, pad.outline);
  }
  form.crests.lines = {around(crest.ring, orBatter(pad.section, pad.batters), pad.edges, crest.edgeOf)};
  form.crests.corners = pad.batters.corners;
  form.crests.chordError = pad.batters.chordError;
  if (pad.space > 0) form.space = pad.space;
  Placement result = placeForm(ground, std::move(form), origin, progress, detail);
  if (pad.top == PadTop::fitted) result.figures = figuresOf(*top);
  doubtOutside(result, pad.outline, ground, origin, "pad");
  return result;
}

}  // namespace inselberg::works
