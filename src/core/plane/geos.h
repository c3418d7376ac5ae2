// Polygons to the geometry library and back; for the sources of this folder.
#pragma once

#include <geos_c.h>

#include <functional>
#include <memory>
#include <vector>

#include "plane/polygon.h"

namespace inselberg::plane {

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

  Shape polygon(const Polygon& polygon) const {
    std::vector<GEOSGeometry*> holes;
    for (const Ring& hole : polygon.holes) holes.push_back(linearRing(hole));
    return own(GEOSGeom_createPolygon_r(context_, linearRing(polygon.outer), holes.data(),
                                        static_cast<unsigned>(holes.size())));
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
  GEOSGeometry* linearRing(const Ring& ring) const {
    GEOSCoordSequence* places = GEOSCoordSeq_create_r(context_, static_cast<unsigned>(ring.size() + 1), 2);
    for (unsigned i = 0; i <= ring.size(); ++i) {
      const Vec2 p = ring[i % ring.size()];
      GEOSCoordSeq_setXY_r(context_, places, i, p.x, p.y);
    }
    return GEOSGeom_createLinearRing_r(context_, places);
  }

  GEOSContextHandle_t context_;
};

}  // namespace inselberg::plane
