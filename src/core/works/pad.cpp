#include "works/pad.h"

#include <fmt/format.h>

namespace inselberg::works {

Placement place(const Pad& pad, const ground::Tin& ground, const plane::Origin& origin, const Progress& progress) {
  Placement result = placeWithBatters(ground, pad.outline, {{0, 0}, pad.level, {0, 0}}, pad.batters, origin, progress);
  for (const Vec2 p : pad.outline) {
    if (ground.locate(p) != ground::kNone) continue;
    result.doubts.push_back(
        {ground::DoubtKind::outsideGround, p,
         fmt::format("The pad reaches beyond the ground at E {:.1f} N {:.1f}; nothing is measured there.",
                     p.x + origin.easting, p.y + origin.northing)});
    break;
  }
  return result;
}

}  // namespace inselberg::works
