// By GEOS (buffer).
#include "plane/offset.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "base/error.h"
#include "plane/geos.h"

namespace inselberg::plane {
std::vector<Polygon> offset(const Polygon& polygon, double by, OffsetCorners corners) {
  constexpr double kChord = 1e-3, kSharpest = 10;  // m, times
  if (by == 0) return {polygon};
  const Geos geos;
  const auto context = geos.context();
  const auto shape = geos.polygon(polygon);
  const double step = 2 * std::acos(std::max(0.0, 1 - kChord / std::abs(by)));
  const int quarter = std::clamp(static_cast<int>(std::ceil(std::numbers::pi / 2 / step)), 2, 200);
  const auto grown = geos.own(
      GEOSBufferWithStyle_r(context, shape.get(), by, quarter, GEOSBUF_CAP_ROUND,
                            corners == OffsetCorners::round ? GEOSBUF_JOIN_ROUND : GEOSBUF_JOIN_MITRE, kSharpest));
  if (!grown) throw Error("the outline cannot be moved that far", "try less");
  return geos.areasOf(grown.get());
}

Areas offset(const Areas& areas, double by, OffsetCorners corners) {
  Areas all;
  for (const Polygon& one : areas) {
    const auto parts = offset(one, by, corners);
    all.insert(all.end(), parts.begin(), parts.end());
  }
  return united(all);
}

}  // namespace inselberg::plane
