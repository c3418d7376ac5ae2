#include "works/spillway.h"

#include <cmath>

#include "base/error.h"

namespace inselberg::works {

Swale spillwayOf(const Pond& pond, const Placement& placed, const ground::Tin& under, double width, double level) {
  if (!(level > pond.bottom && level < pond.top))
    throw Error("the spillway does not lie between the bottom and the top of the pond", "give a level between");
  // From the outline to the inner and the outer edge of the crest.
  double toCrest = 0;
  if (pond.drawn != PondDrawn::top) {
    toCrest = (pond.top - pond.drawnLevel()) * pond.inside.run();
    if (pond.benchWidth > 0 && pond.bottom + pond.benchHeight > pond.drawnLevel()) toCrest += pond.benchWidth;
  }
  const double beyond = toCrest + pond.crest, back = (pond.top - level) * pond.inside.run() + 1;
  constexpr double kReach = 200, kStep = 0.25, kOn = 1e-3;  // m
  std::optional<Swale> best;
  double lowest = 0;
  for (std::size_t i = 0; i < pond.outline.size(); ++i) {
    const Vec2 a = pond.outline[i], b = pond.outline[(i + 1) % pond.outline.size()];
    if (plane::distance(a, b) < width) continue;
    const Vec2 middle = 0.5 * (a + b), out = plane::rightOf(plane::unit(b - a));
    // Out over the works to the land around.
    double way = beyond;
    while (way - beyond < kReach && placed.facets->levelAt(middle + way * out)) way += kStep;
    const auto foot = under.levelAt(middle + way * out);
    if (!foot || way - beyond >= kReach || (best && *foot >= lowest)) continue;
    lowest = *foot;
    Swale swale;
    swale.line = {middle + (toCrest - back) * out, middle + beyond * out, middle + (way + kStep) * out};
    swale.width = width;
    swale.by = SwaleBy::levels;
    const double end = std::min(level, under.levelAt(swale.line[2]).value_or(*foot)) - kOn;
    const double length = plane::distance(swale.line[0], swale.line[1]);
    swale.levels = {{0, level}, {length, level}, {length + plane::distance(swale.line[1], swale.line[2]), end}};
    best = swale;
  }
  if (!best) throw Error("no side of the pond leads to the ground", "draw the spillway as a swale");
  return *best;
}

}  // namespace inselberg::works
