// Goes over the places and bearings of the kind's fields; levels, lengths and slopes stay.
#include "works/transform.h"

#include <algorithm>
#include <cmath>
#include <functional>

#include "plane/bearing.h"

namespace inselberg::works {
namespace {

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
    } else if (fields[i].measure == Measure::bearing) {
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
