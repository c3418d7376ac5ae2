#include "ground/water_legs.h"

namespace inselberg::ground {
namespace {

constexpr double kLower = 1e-6;  // m

}  // namespace

// Along the hollow's way on only as far as it takes until water runs down by itself to where it does not come back
// from.
WaterPath legFrom(const Tin& tin, const WaterWays& ways, const Hollow& hollow, const Progress& progress) {
  WaterPath leg{{}, WaterPath::End::border};
  for (const Vec2 p : hollow.on) {
    const auto level = tin.levelAt(p);
    if (!level) continue;
    leg.way.push_back({p.x, p.y, *level});
    const WaterPath down = ways.from(p, progress);
    if (down.end == WaterPath::End::hollow && down.way.back().z > hollow.bottom - kLower) continue;
    leg.way.insert(leg.way.end(), down.way.begin() + 1, down.way.end());
    leg.end = down.end;
    break;
  }
  return leg;
}

std::vector<WaterPath> waterLegs(const Tin& tin, Vec2 start, const Progress& progress) {
  const WaterWays ways(tin);
  std::vector<WaterPath> legs;
  WaterPath leg = ways.from(start, progress);
  while (!leg.way.empty()) {
    legs.push_back(std::move(leg));
    if (legs.back().end == WaterPath::End::border) break;
    const auto hollow = hollowAt(tin, legs.back().way.back().plan(), progress);
    if (!hollow) break;
    leg = legFrom(tin, ways, *hollow, progress);
  }
  return legs;
}

}  // namespace inselberg::ground
