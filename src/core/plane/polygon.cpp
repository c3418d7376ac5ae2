// Validity is decided by GEOS (is-valid with the place of the fault); the rest is elementary.
#include "plane/polygon.h"

#include <fmt/format.h>

#include <algorithm>
#include <memory>

#include "base/error.h"
#include "plane/geos.h"

namespace inselberg::plane {
namespace {

void removeRepeats(Ring& ring) {
  ring.erase(std::unique(ring.begin(), ring.end()), ring.end());
  while (ring.size() > 1 && ring.front() == ring.back()) ring.pop_back();
}

// Throws when GEOS finds the polygon not valid.
void checkValid(const Polygon& polygon, const Origin& origin) {
  const Geos library;
  const GEOSContextHandle_t geos = library.context();
  const auto shape = library.polygon(polygon);
  char* reason = nullptr;
  GEOSGeometry* place = nullptr;
  const char valid = GEOSisValidDetail_r(geos, shape.get(), 0, &reason, &place);
  const std::string why = reason ? reason : "";
  double x = 0, y = 0;
  if (place) {
    GEOSGeomGetX_r(geos, place, &x);
    GEOSGeomGetY_r(geos, place, &y);
    GEOSGeom_destroy_r(geos, place);
  }
  if (reason) GEOSFree_r(geos, reason);
  if (valid == 1) return;
  const std::string near = fmt::format("near E {:.3f} N {:.3f}", x + origin.easting, y + origin.northing);
  if (why.find("Self-intersection") != std::string::npos) {
    throw Error("the outline crosses or touches itself " + near, "move or delete the corner there");
  }
  throw Error(fmt::format("the outline is not a sound area ({}) {}", why, near), "draw it again without the fault");
}

// Whether no corner lies off the line from the first corner to the one farthest from it.
bool onOneLine(const Ring& ring) {
  const Vec2 far = *std::max_element(ring.begin(), ring.end(),
                                     [&](Vec2 p, Vec2 q) { return distance(ring[0], p) < distance(ring[0], q); });
  const double length = distance(ring[0], far);
  return std::all_of(ring.begin(), ring.end(),
                     [&](Vec2 p) { return std::abs(turn(ring[0], far, p)) <= 1e-12 * std::max(1.0, length * length); });
}

}  // namespace

double signedArea(const Ring& ring) {
  if (ring.empty()) return 0;
  double twice = 0;
  for (std::size_t i = 0; i < ring.size(); ++i) {
    twice += cross(ring[i] - ring[0], ring[(i + 1) % ring.size()] - ring[0]);
  }
  return twice / 2;
}

Vec2 centroid(const Ring& ring) {
  // Relative to a corner, so that coordinates far from the origin lose nothing.
  const Vec2 at = ring.front();
  double twice = 0;
  Vec2 sum{0, 0};
  for (std::size_t i = 1; i + 1 < ring.size(); ++i) {
    const Vec2 a = ring[i] - at, b = ring[i + 1] - at;
    const double c = cross(a, b);
    twice += c;
    sum = sum + c * (a + b);
  }
  return at + (1 / (3 * twice)) * sum;
}

double area(const Polygon& polygon) {
  double total = std::abs(signedArea(polygon.outer));
  for (const Ring& hole : polygon.holes) total -= std::abs(signedArea(hole));
  return total;
}

Box boundsOf(const Ring& ring) {
  Box box;
  for (const Vec2 p : ring) box.add(p);
  return box;
}

bool contains(const Ring& ring, Vec2 p) {
  bool inside = false;
  for (std::size_t i = 0, j = ring.size() - 1; i < ring.size(); j = i++) {
    const Vec2 a = ring[i], b = ring[j];
    if ((a.y > p.y) != (b.y > p.y) && p.x < a.x + (p.y - a.y) / (b.y - a.y) * (b.x - a.x)) inside = !inside;
  }
  return inside;
}

bool contains(const Polygon& polygon, Vec2 p) {
  return contains(polygon.outer, p) &&
         std::none_of(polygon.holes.begin(), polygon.holes.end(), [&](const Ring& h) { return contains(h, p); });
}

Polygon sound(Polygon polygon, const Origin& origin) {
  const auto prepare = [](Ring& ring, bool counterClockwise) {
    removeRepeats(ring);
    if (ring.size() < 3) {
      throw Error(fmt::format("an area has {} corner(s), and needs at least three different ones", ring.size()),
                  "add the missing corners");
    }
    if (onOneLine(ring))
      throw Error("all corners of the area lie on one line", "move at least one corner off the line");
    if ((signedArea(ring) > 0) != counterClockwise) std::reverse(ring.begin(), ring.end());
  };
  prepare(polygon.outer, true);
  for (Ring& hole : polygon.holes) prepare(hole, false);
  checkValid(polygon, origin);
  return polygon;
}

// The middle of the widest stretch inside, half way up the box or a little beside it.
Vec2 placeIn(const Polygon& polygon) {
  const Box box = boundsOf(polygon.outer);
  Vec2 best = polygon.outer.front();
  double widest = -1;
  for (const double share : {0.5, 0.37, 0.63, 0.21, 0.79}) {
    const double y = box.minY + share * box.height();
    std::vector<double> xs;
    const auto cut = [&](const Ring& ring) {
      for (std::size_t i = 0; i < ring.size(); ++i) {
        const Vec2 a = ring[i], b = ring[(i + 1) % ring.size()];
        if ((a.y > y) != (b.y > y)) xs.push_back(a.x + (y - a.y) / (b.y - a.y) * (b.x - a.x));
      }
    };
    cut(polygon.outer);
    for (const Ring& hole : polygon.holes) cut(hole);
    std::sort(xs.begin(), xs.end());
    for (std::size_t i = 0; i + 1 < xs.size(); i += 2) {
      if (xs[i + 1] - xs[i] > 1.2 * widest) widest = xs[i + 1] - xs[i], best = {(xs[i] + xs[i + 1]) / 2, y};
    }
  }
  return best;
}

}  // namespace inselberg::plane
