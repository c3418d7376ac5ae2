#include "works/pad.h"
#include "plane/place_text.h"

#include <fmt/format.h>

namespace inselberg::works {

const Kind& kindOf(const Pad&) {
  static const KindOf<Pad> kind(
      {"pad", "Pad", "A level area with batters to the ground."},
      {field<Pad>({.name = "outline",
                   .label = "Outline",
                   .meaning = "The edge of the level area, where the batters start.",
                   .measure = Measure::outline},
                  &Pad::outline),
       field<Pad>({.name = "level",
                   .label = "Level",
                   .meaning = "The level of the area, in metres.",
                   .measure = Measure::level,
                   .figure = true},
                  &Pad::level),
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
  Placement result = placeWithBatters(ground, pad.outline, {{0, 0}, pad.level, {0, 0}}, pad.batters, origin, progress);
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
