// Polygons to the geometry library and back; for the sources of this folder.
#pragma once

#include <geos_c.h>

#include <algorithm>
#include <functional>
#include <memory>
#include <span>
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

  Shape polygons(std::span<const Polygon> polygons) const {
    std::vector<GEOSGeometry*> parts;
    for (const Polygon& one : polygons) parts.push_back(polygon(one).release());
    return own(
        GEOSGeom_createCollection_r(context_, GEOS_MULTIPOLYGON, parts.data(), static_cast<unsigned>(parts.size())));
  }

  // The areas among what was made, sound; lines and points that came with them are left out.
  std::vector<Polygon> areasOf(const GEOSGeometry* shape) const {
    std::vector<Polygon> areas;
    for (int i = 0, n = GEOSGetNumGeometries_r(context_, shape); i < n; ++i) {
      const GEOSGeometry* part = GEOSGetGeometryN_r(context_, shape, i);
      if (GEOSGeomTypeId_r(context_, part) != GEOS_POLYGON || GEOSisEmpty_r(context_, part) != 0) continue;
      Polygon one{ringOf(GEOSGetExteriorRing_r(context_, part)), {}};
      for (int k = 0, m = GEOSGetNumInteriorRings_r(context_, part); k < m; ++k)
        one.holes.push_back(ringOf(GEOSGetInteriorRingN_r(context_, part, k)));
      if (signedArea(one.outer) < 0) std::reverse(one.outer.begin(), one.outer.end());
      for (Ring& hole : one.holes) {
        if (signedArea(hole) > 0) std::reverse(hole.begin(), hole.end());
      }
      areas.push_back(std::move(one));
    }
    return areas;
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
