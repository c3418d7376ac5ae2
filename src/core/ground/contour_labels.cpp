#include "ground/contour_labels.h"

#include <cmath>
#include <limits>
#include <optional>

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

namespace {

// The label at a place between two points of a contour; nothing where it bends too much beneath it, or ends.
std::optional<ContourLabel> labelAt(const Contour& c, std::size_t before, Vec2 at, const LabelSpacing& spacing) {
  std::size_t i = before, j = before + 1;
  while (j + 1 < c.points.size() && plane::distance(c.points[j], at) < spacing.half) ++j;
  while (i > 0 && plane::distance(c.points[i], at) < spacing.half) --i;
  const Vec2 from = c.points[i], to = c.points[j];
  if (plane::distance(from, at) < spacing.half || plane::distance(to, at) < spacing.half) return std::nullopt;
  for (std::size_t k = i; k <= j; ++k) {
    if (plane::nearestOnSegment(c.points[k], from, to).distance > spacing.slack) return std::nullopt;
  }
  return ContourLabel{at, plane::unit(to - from), c.level};
}

}  // namespace

void labelContour(const Contour& c, const LabelSpacing& spacing,
                  const std::function<bool(const ContourLabel&)>& takes) {
  double passed = 0, next = spacing.first;
  for (std::size_t i = 1; i < c.points.size(); ++i) {
    const double length = plane::distance(c.points[i - 1], c.points[i]);
    for (; length > 0 && next < passed + length; next += spacing.step) {
      const Vec2 at = c.points[i - 1] + ((next - passed) / length) * (c.points[i] - c.points[i - 1]);
      const auto label = labelAt(c, i - 1, at, spacing);
      if (label && takes(*label)) next += spacing.every;
    }
    passed += length;
  }
}

std::array<Vec2, 4> cornersOf(const ContourLabel& label, double half, double height) {
  const Vec2 along = half * label.along, up = 0.5 * height * plane::rightOf(label.along);
  return {label.at - along - up, label.at - along + up, label.at + along - up, label.at + along + up};
}

bool liesOn(const Tin& tin, const ContourLabel& label, double half, double height, double most) {
  for (const Vec2 p : cornersOf(label, half, height)) {
    const auto level = tin.bounds().contains(p) ? tin.levelAt(p) : std::nullopt;
    if (!level || std::abs(*level - label.level) > most) return false;
  }
  return true;
}

void labelContour(const Contour& contour, const Tin& tin, double height, double interval, const LabelSpacing& spacing,
                  const std::function<bool(const ContourLabel&)>& takes) {
  bool any = false;
  for (const double most : {interval, std::numeric_limits<double>::infinity()}) {
    if (any) return;
    labelContour(contour, spacing, [&](const ContourLabel& label) {
      if (!liesOn(tin, label, spacing.half, height, most) || !takes(label)) return false;
      return any = true;
    });
  }
}

}  // namespace inselberg::ground
