#include "project/between_tops.h"

#include <algorithm>

#include "plane/polygon.h"

namespace inselberg::project {
namespace {

using plane::Ring;
using plane::Vec2;

constexpr double kInside = 1e-3;  // m

// The outline of the top that lies at a place; empty without one.
Ring topAt(const Ground& ground, Vec2 p) {
  for (auto works = ground.works.rbegin(); works != ground.works.rend(); ++works) {
    const std::string& kind = (*works)->shape.kind().name;
    if ((*works)->leftOut || (kind != "pad" && kind != "level_area")) continue;
    if (Ring ring = works::outlineOf((*works)->shape); plane::contains(ring, p)) return ring;
  }
  return {};
}

// From where a line that begins inside a ring leaves it first.
works::Places outOf(const Ring& ring, works::Places line) {
  for (std::size_t i = 1; i < line.size(); ++i) {
    const Vec2 a = line[i - 1], b = line[i];
    double first = 2;
    for (std::size_t k = 0; k < ring.size(); ++k) {
      const auto t = plane::crossingAlong(a, b, ring[k], ring[(k + 1) % ring.size()]);
      if (t) first = std::min(first, *t);
    }
    if (first > 1) continue;
    const double length = plane::distance(a, b);
    line[i - 1] = a + std::max(0.0, first - kInside / length) * (b - a);
    line.erase(line.begin(), line.begin() + static_cast<std::ptrdiff_t>(i) - 1);
    return line;
  }
  return line;
}

}  // namespace

works::Places betweenTops(const Ground& ground, const works::Places& line) {
  works::Places between = line;
  for (int end = 0; end < 2; ++end) {
    if (const Ring ring = topAt(ground, between.front()); !ring.empty()) between = outOf(ring, std::move(between));
    std::reverse(between.begin(), between.end());
  }
  return between;
}

}  // namespace inselberg::project
