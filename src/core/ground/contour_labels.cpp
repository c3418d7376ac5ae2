#include "ground/contour_labels.h"

#include "plane/polygon.h"

namespace inselberg::ground {

std::vector<ContourLabel> labelsAlong(std::span<const Contour> contours, std::span<const Vec2> line) {
  std::vector<ContourLabel> labels;
  if (line.size() < 2) return labels;
  plane::Box reach;
  for (const Vec2 p : line) reach.add(p);
  for (const Contour& contour : contours) {
    const std::size_t n = contour.points.size(), sides = contour.closed ? n : n - 1;
    for (std::size_t i = 0; i < sides; ++i) {
      const Vec2 a = contour.points[i], b = contour.points[(i + 1) % n];
      if (std::max(a.x, b.x) < reach.minX || std::min(a.x, b.x) > reach.maxX || std::max(a.y, b.y) < reach.minY ||
          std::min(a.y, b.y) > reach.maxY)
        continue;
      for (std::size_t k = 0; k + 1 < line.size(); ++k) {
        // A point on the other line counts as left of it, so that a crossing at a vertex is one.
        const double ca = plane::turn(line[k], line[k + 1], a), cb = plane::turn(line[k], line[k + 1], b);
        const double ac = plane::turn(a, b, line[k]), ad = plane::turn(a, b, line[k + 1]);
        if ((ca >= 0) == (cb >= 0) || (ac >= 0) == (ad >= 0)) continue;
        Vec2 along = plane::unit(b - a);
        if (along.x < 0 || (along.x == 0 && along.y < 0)) along = -1.0 * along;
        labels.push_back({a + (ca / (ca - cb)) * (b - a), along, contour.level});
      }
    }
  }
  return labels;
}

}  // namespace inselberg::ground
