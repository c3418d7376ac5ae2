#include "works/pad.h"

#include <fmt/format.h>

#include "plane/bearing.h"
#include "plane/place_text.h"
#include "works/fit.h"

namespace inselberg::works {
namespace {

ground::Plane topOf(const Pad& pad, const ground::Tin& ground) {
  const Vec2 middle = plane::centroid(pad.outline);
  switch (pad.top) {
    case PadTop::level:
      break;
    case PadTop::tilted:
      return {middle, pad.level, -pad.fall / 100 * plane::towards(pad.bearing)};
    case PadTop::fitted: {
      ground::Plane plane = fittedPlane(ground, pad.outline, pad.greatestFall / 100);
      return {middle, plane(middle) + pad.offset, plane.gradient};
    }
  }
  return {middle, pad.level, {0, 0}};
}

// What a fitted plane came to be.
std::vector<Figure> figuresOf(const ground::Plane& top) {
  return {{"level_m", "Level", Measure::level, top.level},
          {"fall_percent", "Fall", Measure::percent, 100 * plane::norm(top.gradient)},
          {"bearing_deg", "Towards", Measure::bearing, plane::bearingOf(-1 * top.gradient)}};
}

}  // namespace

const Kind& kindOf(const Pad&) {
  static const KindOf<Pad> kind(
      {"pad", "Pad", "A plane area, level or with a fall, with batters to the ground."},
      {field<Pad>({.name = "outline",
                   .label = "Outline",
                   .meaning = "The edge of the area, where the batters start.",
                   .measure = Measure::outline},
                  &Pad::outline),
       field<Pad>(
           {.name = "top",
            .label = "Top",
            .meaning = "Level; tilted, falling one way; or fitted to the ground, the plane that moves the least.",
            .measure = Measure::choice,
            .words = {"level", "tilted", "fitted"},
            .later = true},
           &Pad::top),
       field<Pad>({.name = "level",
                   .label = "Level",
                   .meaning = "The level of the area, in its middle where it is tilted, in metres.",
                   .measure = Measure::level,
                   .figure = true},
                  &Pad::level)
           .onlyWhen([](const Pad& pad) { return pad.top != PadTop::fitted; }),
       field<Pad>({.name = "fall_percent",
                   .label = "Fall",
                   .meaning = "How steeply the top falls.",
                   .measure = Measure::percent,
                   .least = 0,
                   .most = 100,
                   .figure = true,
                   .later = true},
                  &Pad::fall)
           .onlyWhen([](const Pad& pad) { return pad.top == PadTop::tilted; }),
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
                   .label = "Above the fit",
                   .meaning = "How far the top lies above the plane that fits best, in metres.",
                   .least = -1000,
                   .most = 1000,
                   .step = 0.05,
                   .later = true},
                  &Pad::offset)
           .onlyWhen([](const Pad& pad) { return pad.top == PadTop::fitted; }),
       field<Pad>(
           {.name = "cut_batter",
            .label = "Cut batter",
            .meaning = "The slope up to the ground where the pad lies below it.",
            .measure = Measure::slope,
            .step = 0.25},
           [](auto& pad) -> auto& { return pad.batters.cut; }),
       field<Pad>(
           {.name = "fill_batter",
            .label = "Fill batter",
            .meaning = "The slope down to the ground where the pad lies above it.",
            .measure = Measure::slope,
            .step = 0.25},
           [](auto& pad) -> auto& { return pad.batters.fill; }),
       field<Pad>(
           {.name = "corners",
            .label = "Corners",
            .meaning = "How the batters meet at outward corners: round about them, or with their planes prolonged.",
            .measure = Measure::choice,
            .words = {"round", "square"}},
           [](auto& pad) -> auto& { return pad.batters.corners; }),
       field<Pad>(
           {.name = "reach",
            .label = "Reach",
            .meaning = "How far a batter may go to meet the ground, in metres.",
            .least = 1e-3,
            .onCard = false},
           [](auto& pad) -> auto& { return pad.batters.reach; }),
       field<Pad>(
           {.name = "chord_error",
            .label = "Chord error",
            .meaning = "How far the facets of round corners may lie from true, in metres.",
            .least = 1e-6,
            .most = 1,
            .onCard = false},
           [](auto& pad) -> auto& { return pad.batters.chordError; })});
  return kind;
}

Placement place(const Pad& pad, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress) {
  const ground::Plane top = topOf(pad, ground);
  Placement result = placeWithBatters(ground, pad.outline, top, pad.batters, origin, progress);
  if (pad.top == PadTop::fitted) result.figures = figuresOf(top);
  for (const Vec2 p : pad.outline) {
    if (ground.locate(p) != ground::kNone) continue;
    result.doubts.push_back({ground::DoubtKind::outsideGround, p,
                             fmt::format("The pad reaches beyond the ground at {}; nothing is measured there.",
                                         plane::placeText(p, origin))});
    break;
  }
  return result;
}

}  // namespace inselberg::works
