#include "works/pond.h"

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "works/form.h"

namespace inselberg::works {
namespace {

void check(const Pond& pond) {
  if (!(pond.top > pond.bottom)) throw Error("its top does not lie above its bottom", "raise the top");
  if (pond.hasWater() && !(pond.water >= pond.bottom && pond.water <= pond.top))
    throw Error("its water does not lie between its bottom and its top", "give a level between");
  if (pond.benchWidth <= 0) return;
  const double bench = pond.bottom + pond.benchHeight;
  if (!(pond.benchHeight >= 0 && bench <= pond.top))
    throw Error("its bench does not lie between its bottom and its top", "give a height between");
  if (pond.drawn == PondDrawn::water && std::abs(pond.water - bench) < 1e-9)
    throw Error("its water lies at the very level of its bench", "draw it at the bottom or the top");
}

// The legs from the outline's level down to the bottom, and up to the top.
struct Sides {
  Section inwards, outwards;
};
Sides sidesOf(const Pond& pond) {
  const double from = pond.drawnLevel();
  const double run = pond.inside.run(), bench = pond.bottom + pond.benchHeight;
  const bool benched = pond.benchWidth > 0;
  Sides sides;
  const auto go = [&](Section& section, double at, double end) {
    const bool passes = benched && (at < end ? bench >= at && bench <= end : bench <= at && bench >= end);
    if (passes && bench != at) section.push_back(legToLevel(bench, run));
    if (passes) section.push_back(legOut(pond.benchWidth));
    if (!passes || bench != end) section.push_back(legToLevel(end, run));
  };
  if (from > pond.bottom) go(sides.inwards, from, pond.bottom);
  if (from < pond.top) go(sides.outwards, from, pond.top);
  if (pond.crest > 0) sides.outwards.push_back(legOut(pond.crest));
  return sides;
}

}  // namespace

Section outwardsOf(const Pond& pond) {
  return sidesOf(pond).outwards;
}

Section inwardsOf(const Pond& pond) {
  return sidesOf(pond).inwards;
}

const Kind& kindOf(const Pond&) {
  static const KindOf<Pond> kind(
      {"pond", "Pond", "A basin with inside slopes, dug, embanked or both."},
      {field<Pond>({.name = "outline",
                    .label = "Outline",
                    .meaning = "The edge of its bottom, its water or its top.",
                    .measure = Measure::outline},
                   &Pond::outline),
       field<Pond>({.name = "drawn",
                    .label = "Drawn at",
                    .meaning = "What the outline is the edge of.",
                    .measure = Measure::choice,
                    .words = {"bottom", "water", "top"}},
                   &Pond::drawn),
       field<Pond>({.name = "bottom",
                    .label = "Bottom",
                    .meaning = "The level of its bottom.",
                    .measure = Measure::level,
                    .figure = true},
                   &Pond::bottom),
       field<Pond>({.name = "top",
                    .label = "Top",
                    .meaning = "The level of its crest.",
                    .measure = Measure::level,
                    .figure = true},
                   &Pond::top),
       field<Pond>({.name = "wet",
                    .label = "Wet",
                    .meaning = "Whether it holds water up to a level of its own.",
                    .measure = Measure::flag},
                   &Pond::wet)
           .onlyWhen([](const Pond& p) { return p.drawn != PondDrawn::water; }),
       field<Pond>({.name = "water",
                    .label = "Water",
                    .meaning = "The level of its water.",
                    .measure = Measure::level,
                    .figure = true},
                   &Pond::water)
           .onlyWhen([](const Pond& p) { return p.hasWater(); }),
       field<Pond>({.name = "inside",
                    .label = "Inside slope",
                    .meaning = "The slope from its top to its bottom.",
                    .measure = Measure::slope,
                    .step = 0.25},
                   &Pond::inside),
       field<Pond>({.name = "bench_width",
                    .label = "Bench width",
                    .meaning = "Of a step in the inside slope; 0: there is none.",
                    .least = 0,
                    .most = 1000},
                   &Pond::benchWidth),
       field<Pond>({.name = "bench_height",
                    .label = "Bench height",
                    .meaning = "Of the step above the bottom.",
                    .least = 0,
                    .most = 1000},
                   &Pond::benchHeight)
           .onlyWhen([](const Pond& p) { return p.benchWidth > 0; }),
       field<Pond>({.name = "crest",
                    .label = "Crest width",
                    .meaning = "How wide its top is around it.",
                    .least = 0,
                    .most = 1000},
                   &Pond::crest),
       field<Pond>({.name = "wanted",
                    .label = "To hold",
                    .meaning = "Cubic metres that it is to hold; less raises a doubt. 0: not said.",
                    .measure = Measure::volume,
                    .least = 0,
                    .most = 1e9,
                    .step = 50,
                    .later = true},
                   &Pond::wanted),
       sectionField<Pond>("section", "Outside", "What goes out from the crest: legs, or a section by its name.",
                          &Pond::section),
       cornersField<Pond>(&Pond::corners)});
  return kind;
}

Pond startedOn(Pond pond, const ground::Tin&) {
  pond.top = pond.bottom;  // at the level of the ground
  pond.bottom = pond.top - 2;
  pond.water = pond.top - 0.5;
  return pond;
}

Placement place(const Pond& pond, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress,
                Detail detail) {
  check(pond);
  const Sides sides = sidesOf(pond);
  std::vector<Vec3> outline;
  for (const Vec2 p : pond.outline) outline.push_back({p.x, p.y, pond.drawnLevel()});
  Form form;
  // The bottom lies wherever the slopes leave it.
  form.tops = {{pond.outline, {outline.front().plan(), pond.bottom, {0, 0}}, nullptr}};
  form.crests.corners = pond.corners;
  form.crests.lines = {around(outline, behind(sides.outwards, orBatter(pond.section, {})))};
  if (!sides.inwards.empty()) form.crests.lines.push_back(within(outline, sides.inwards));
  Placement result = placeForm(ground, std::move(form), origin, progress, detail);
  bool reached = sides.inwards.empty();
  for (std::size_t t = 0; t < result.kinds.size() && !reached; ++t) reached = result.kinds[t] == FacetKind::surface;
  if (!reached) {
    result.doubts.push_back({ground::DoubtKind::notReached, plane::centroid(pond.outline),
                             "The inside slopes of the pond meet before its bottom is reached."});
  }
  doubtOutside(result, pond.outline, ground, origin, "pond");
  return result;
}

}  // namespace inselberg::works
