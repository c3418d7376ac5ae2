// Goes over the places and bearings of the kind's fields; levels, lengths and slopes stay.
#include "works/transform.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <numbers>

#include "base/error.h"
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

namespace {

// From p to q around a centre, both ends included, the shorter way; by chords within 2 mm.
void addArc(Places& points, Vec2 centre, Vec2 p, Vec2 q) {
  constexpr double kChord = 2e-3;
  const double radius = plane::distance(centre, p);
  const Vec2 u = p - centre, v = q - centre;
  const double angle = std::atan2(plane::cross(u, v), plane::dot(u, v));
  const double step = 2 * std::acos(std::max(0.0, 1 - kChord / radius));
  const int parts = std::clamp(static_cast<int>(std::ceil(std::abs(angle) / step)), 1, 200);
  points.push_back(p);
  for (int k = 1; k < parts; ++k) {
    const double c = std::cos(angle * k / parts), s = std::sin(angle * k / parts);
    points.push_back(centre + Vec2{c * u.x - s * u.y, s * u.x + c * u.y});
  }
  points.push_back(q);
}

}  // namespace

Shape rounded(const Shape& shape, double radius) {
  const auto all = placesOf(shape);
  if (all.empty()) return shape;
  const auto& [field, points, closed] = all.front();
  const std::size_t n = points.size();
  Places result;
  std::vector<std::size_t> edgeOf;  // of each new edge, the one it was or came after
  for (std::size_t i = 0; i < n; ++i) {
    const std::size_t start = result.size();
    const bool end = !closed && (i == 0 || i + 1 == n);
    const Vec2 corner = points[i], before = points[(i + n - 1) % n], after = points[(i + 1) % n];
    const Vec2 in = plane::unit(before - corner), out = plane::unit(after - corner);
    const double cosine = std::clamp(plane::dot(in, out), -1.0, 1.0);
    const double half = std::acos(cosine) / 2;  // of the angle between the sides
    // How far from the corner the arc begins: no more than half of either side.
    const double most = 0.499 * std::min(plane::distance(before, corner), plane::distance(corner, after));
    const double cut = end ? 0 : std::min(radius / std::tan(half), most);
    if (cut < 1e-3 || half > std::numbers::pi / 2 - 1e-3) {
      result.push_back(corner);
    } else {
      const Vec2 centre = corner + cut / std::cos(half) * plane::unit(in + out);
      addArc(result, centre, corner + cut * in, corner + cut * out);
    }
    // The arc goes with the side before it, its last point begins the side after.
    for (std::size_t k = start; k + 1 < result.size(); ++k) edgeOf.push_back((i + n - 1) % n);
    edgeOf.push_back(i);
  }
  Shape next = shape.with(field, std::move(result));
  const auto& fields = shape.kind().fields();
  for (std::size_t f = 0; f < fields.size(); ++f) {
    const Value value = shape.get(f);
    if (const auto* levels = std::get_if<Numbers>(&value); levels && !levels->empty() && shape.applies(f))
      throw Error("its corners have levels of their own", "round it before they are given");
    const auto* edges = std::get_if<Edges>(&value);
    if (!edges) continue;
    next = next.with(f, ofNewSides(*edges, edgeOf));
  }
  return next;
}

Edges ofNewSides(const Edges& edges, const std::vector<std::size_t>& was) {
  Edges made;
  for (std::size_t k = 0; k < was.size(); ++k) {
    for (const EdgeSection& e : edges) {
      if (e.edge == was[k]) made.push_back({k, e.section});
    }
  }
  return made;
}

}  // namespace inselberg::works
