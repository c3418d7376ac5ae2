// The crossing rule: a place is inside a polygon when a ray from it crosses the polygon's sides an odd number of times.
// The sides a ray comes near are looked up in a tree over the sides of all polygons.
#include "plane/inside.h"

#include <algorithm>

namespace inselberg::plane {

Inside::Inside(std::span<const Polygon> polygons) {
  for (std::uint32_t i = 0; i < polygons.size(); ++i) {
    add(polygons[i].outer, i);
    for (const Ring& hole : polygons[i].holes) add(hole, i);
  }
  index_ = SegmentIndex(sides_);
}

Inside::Inside(const Ring& ring) {
  add(ring, 0);
  index_ = SegmentIndex(sides_);
}

void Inside::add(const Ring& ring, std::uint32_t polygon) {
  for (std::size_t i = 0, j = ring.size() - 1; i < ring.size(); j = i++) {
    sides_.push_back({ring[i], ring[j]});
    polygonOf_.push_back(polygon);
    box_.add(ring[i]);
  }
}

bool Inside::operator()(Vec2 p) const {
  if (!box_.contains(p)) return false;
  std::vector<std::uint32_t> crossed;
  index_.near(Segment2{p, {box_.maxX, p.y}}, 0, [&](std::uint32_t i) {
    const auto [a, b] = sides_[i];
    if ((a.y > p.y) != (b.y > p.y) && p.x < a.x + (p.y - a.y) / (b.y - a.y) * (b.x - a.x))
      crossed.push_back(polygonOf_[i]);
  });
  std::sort(crossed.begin(), crossed.end());
  for (std::size_t i = 0; i < crossed.size();) {
    std::size_t end = i;
    while (end < crossed.size() && crossed[end] == crossed[i]) ++end;
    if ((end - i) % 2 == 1) return true;
    i = end;
  }
  return false;
}

}  // namespace inselberg::plane
