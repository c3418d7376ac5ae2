// Goes over the places and bearings of the kind's fields; levels, lengths and slopes stay.
#include "works/transform.h"

#include <algorithm>
#include <cmath>
#include <functional>

#include "plane/bearing.h"

namespace inselberg::works {
namespace {

// What is numbered by the corners of an outline runs the other way; left and right change places.
Value mirroredValue(const Shape& shape, std::size_t field) {
  const auto& fields = shape.kind().fields();
  Value value = shape.get(field);
  for (const auto& [one, other] : {std::pair("left", "right"), std::pair("right", "left")}) {
    if (fields[field].name != one) continue;
    for (std::size_t k = 0; k < fields.size(); ++k) {
      if (fields[k].name == other) return shape.get(k);
    }
  }
  const std::size_t n = outlineOf(shape).size();
  if (auto* levels = std::get_if<Numbers>(&value); levels && levels->size() > 1)
    std::reverse(levels->begin() + 1, levels->end());
  if (auto* edges = std::get_if<Edges>(&value)) {
    for (EdgeSection& e : *edges) e.edge = e.edge < n ? n - 1 - e.edge : e.edge;
  }
  return value;
}

Shape transformed(const Shape& shape, const std::function<Vec2(Vec2)>& place,
                  const std::function<double(double)>& bearing, bool mirrors) {
  Shape next = shape;
  const auto& fields = shape.kind().fields();
  for (std::size_t i = 0; i < fields.size(); ++i) {
    if (isPlaces(fields[i].measure)) {
      Places points = std::get<Places>(shape.get(i));
      for (Vec2& p : points) p = place(p);
      // An outline runs counter-clockwise, still from its first corner.
      if (mirrors && fields[i].measure == Measure::outline && points.size() > 1)
        std::reverse(points.begin() + 1, points.end());
      next = next.with(i, std::move(points));
    } else if (fields[i].measure == Measure::contours) {
      Contours contours = std::get<Contours>(shape.get(i));
      for (Contour& c : contours) {
        for (Vec2& p : c.line) p = place(p);
      }
      next = next.with(i, std::move(contours));
    } else if (mirrors) {
      next = next.with(i, mirroredValue(shape, i));
    }
    if (fields[i].measure == Measure::bearing) {
      const double turned = std::fmod(bearing(std::get<double>(shape.get(i))), 360);
      next = next.with(i, turned < 0 ? turned + 360 : turned);
    }
  }
  return next;
}

}  // namespace

Shape shifted(const Shape& shape, Vec2 by) {
  return transformed(
      shape, [by](Vec2 p) { return p + by; }, [](double b) { return b; }, false);
}

Shape turned(const Shape& shape, Vec2 about, double degrees) {
  const double c = std::cos(degrees * plane::kDegree), s = std::sin(degrees * plane::kDegree);
  return transformed(
      shape,
      [=](Vec2 p) {
        const Vec2 d = p - about;
        return about + Vec2{c * d.x + s * d.y, c * d.y - s * d.x};
      },
      [=](double b) { return b + degrees; }, false);
}

Shape mirrored(const Shape& shape, Vec2 through, double bearing) {
  const Vec2 along = plane::towards(bearing);
  return transformed(
      shape,
      [=](Vec2 p) {
        const Vec2 d = p - through;
        return through + 2 * plane::dot(d, along) * along - d;
      },
      [=](double b) { return 2 * bearing - b; }, true);
}

}  // namespace inselberg::works
