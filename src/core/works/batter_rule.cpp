#include "works/batter_rule.h"

#include <fmt/format.h>

#include "plane/place_text.h"

namespace inselberg::works {

SectionsAlong orBatter(const SectionsAlong& given, const BatterRule& rule) {
  if (!given.empty()) return given;
  return {{0, {{}, batter(rule.cut.run(), rule.fill.run())}}};
}

void doubtOutside(Placement& placement, const Places& points, const ground::Tin& ground, const plane::Origin& origin,
                  const char* what) {
  for (const Vec2 p : points) {
    if (ground.locate(p) != ground::kNone) continue;
    placement.doubts.push_back({ground::DoubtKind::outsideGround, p,
                                fmt::format("The {} reaches beyond the ground at {}; nothing is measured there.", what,
                                            plane::placeText(p, origin))});
    return;
  }
}

}  // namespace inselberg::works
