// By GEOS (overlay).
#include "plane/overlay.h"

#include <algorithm>

#include "base/error.h"
#include "plane/geos.h"

namespace inselberg::plane {
namespace {

using Two = GEOSGeometry* (*)(GEOSContextHandle_t, const GEOSGeometry*, const GEOSGeometry*);

Areas laid(const Areas& a, const Areas& b, Two how) {
  const Geos geos;
  const auto one = geos.polygons(a), other = geos.polygons(b);
  const auto made = geos.own(how(geos.context(), one.get(), other.get()));
  if (!made) throw Error("the areas cannot be laid over each other", "check that no outline crosses itself");
  return geos.areasOf(made.get());
}

}  // namespace

Areas united(std::span<const Polygon> polygons) {
  if (polygons.empty()) return {};
  const Geos geos;
  const auto context = geos.context();
  std::vector<GEOSGeometry*> parts;
  for (const Polygon& one : polygons) {
    auto part = geos.polygon(one);
    if (GEOSisValid_r(context, part.get()) != 1) part = geos.own(GEOSMakeValid_r(context, part.get()));
    if (part) parts.push_back(part.release());
  }
  const auto all = geos.own(
      GEOSGeom_createCollection_r(context, GEOS_GEOMETRYCOLLECTION, parts.data(), static_cast<unsigned>(parts.size())));
  const auto made = geos.own(GEOSUnaryUnion_r(context, all.get()));
  if (!made) throw Error("the areas cannot be united", "check that no outline crosses itself");
  return geos.areasOf(made.get());
}

Areas common(const Areas& a, const Areas& b) {
  if (a.empty() || b.empty()) return {};
  return laid(a, b, GEOSIntersection_r);
}

Areas without(const Areas& a, const Areas& b) {
  if (a.empty() || b.empty()) return a;
  return laid(a, b, GEOSDifference_r);
}

double area(const Areas& areas) {
  double sum = 0;
  for (const Polygon& polygon : areas) sum += area(polygon);
  return sum;
}

bool contains(const Areas& areas, Vec2 p) {
  return std::any_of(areas.begin(), areas.end(), [&](const Polygon& polygon) { return contains(polygon, p); });
}

}  // namespace inselberg::plane
