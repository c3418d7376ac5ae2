// By GEOS (buffer).
#include "plane/offset.h"

#include <geos_c.h>

#include <algorithm>
#include <cmath>
#include <functional>
#include <memory>
#include <numbers>

#include "base/error.h"

namespace inselberg::plane {
namespace {

// One use of the library; what is taken from it is given back with it.
class Geos {
 public:
  Geos() : context_(GEOS_init_r()) {}
  ~Geos() { GEOS_finish_r(context_); }
  Geos(const Geos&) = delete;
  Geos& operator=(const Geos&) = delete;

  GEOSContextHandle_t context() const { return context_; }
  using Shape = std::unique_ptr<GEOSGeometry, std::function<void(GEOSGeometry*)>>;
  Shape own(GEOSGeometry* shape) const {
    return {shape, [this](GEOSGeometry* s) { GEOSGeom_destroy_r(context_, s); }};
  }

  GEOSGeometry* ring(const Ring& ring) const {
    GEOSCoordSequence* places = GEOSCoordSeq_create_r(context_, static_cast<unsigned>(ring.size() + 1), 2);
    for (unsigned i = 0; i <= ring.size(); ++i) {
      const Vec2 p = ring[i % ring.size()];
      GEOSCoordSeq_setXY_r(context_, places, i, p.x, p.y);
    }
    return GEOSGeom_createLinearRing_r(context_, places);
  }

  Ring ringOf(const GEOSGeometry* shape) const {
    const GEOSCoordSequence* places = GEOSGeom_getCoordSeq_r(context_, shape);
    unsigned count = 0;
    GEOSCoordSeq_getSize_r(context_, places, &count);
    Ring ring(count > 0 ? count - 1 : 0);
    for (unsigned i = 0; i < ring.size(); ++i) GEOSCoordSeq_getXY_r(context_, places, i, &ring[i].x, &ring[i].y);
    return ring;
  }

 private:
  GEOSContextHandle_t context_;
};

}  // namespace

std::vector<Polygon> offset(const Polygon& polygon, double by, OffsetCorners corners) {
  constexpr double kChord = 1e-3, kSharpest = 10;  // m, times
  if (by == 0) return {polygon};
  const Geos geos;
  const auto context = geos.context();
  std::vector<GEOSGeometry*> holes;
  for (const Ring& hole : polygon.holes) holes.push_back(geos.ring(hole));
  const auto shape = geos.own(
      GEOSGeom_createPolygon_r(context, geos.ring(polygon.outer), holes.data(), static_cast<unsigned>(holes.size())));
  const double step = 2 * std::acos(std::max(0.0, 1 - kChord / std::abs(by)));
  const int quarter = std::clamp(static_cast<int>(std::ceil(std::numbers::pi / 2 / step)), 2, 200);
  const auto grown = geos.own(
      GEOSBufferWithStyle_r(context, shape.get(), by, quarter, GEOSBUF_CAP_ROUND,
                            corners == OffsetCorners::round ? GEOSBUF_JOIN_ROUND : GEOSBUF_JOIN_MITRE, kSharpest));
  if (!grown) throw Error("the outline cannot be moved that far", "try less");
  std::vector<Polygon> parts;
  for (int i = 0, n = GEOSGetNumGeometries_r(context, grown.get()); i < n; ++i) {
    const GEOSGeometry* part = GEOSGetGeometryN_r(context, grown.get(), i);
    if (GEOSisEmpty_r(context, part) != 0) continue;
    Polygon one{geos.ringOf(GEOSGetExteriorRing_r(context, part)), {}};
    for (int k = 0, m = GEOSGetNumInteriorRings_r(context, part); k < m; ++k)
      one.holes.push_back(geos.ringOf(GEOSGetInteriorRingN_r(context, part, k)));
    parts.push_back(sound(std::move(one), {}));
  }
  return parts;
}

}  // namespace inselberg::plane
