#include "works/handles.h"

#include <algorithm>
#include <cmath>
#include <utility>

#include "base/error.h"
#include "plane/bearing.h"
#include "works/transform.h"

namespace inselberg::works {
namespace {

std::optional<Shape> ifSound(Shape shape) {
  return wrong(shape) ? std::nullopt : std::optional(std::move(shape));
}

Places placesAt(const Shape& shape, std::size_t field) {
  return std::get<Places>(shape.get(field));
}

bool isContours(const Shape& shape, std::size_t field) {
  return shape.kind().fields().at(field).measure == Measure::contours;
}

bool isClosed(const Shape& shape, std::size_t field) {
  return shape.kind().fields().at(field).measure == Measure::outline;
}

// The arrow is so long at no fall, and so much longer for each percent: in sight within an outline up to the falls of
// yards and platforms.
struct ArrowScale {
  double start, perPercent;
};
ArrowScale arrowScale(const Shape& shape) {
  const plane::Box box = boundsOf(shape);
  const double room = std::max(0.5 * std::min(box.width(), box.height()), 1.0);
  return {0.75 * room, 0.08 * room};
}

// The fall that has its tip there: to 0.1 % and 1 degree.
Shape withFallTo(const Shape& shape, Vec2 tip) {
  const auto [start, perPercent] = arrowScale(shape);
  const Vec2 d = tip - fallOf(shape)->at;
  return withFall(shape, std::round(std::max(0.0, (plane::norm(d) - start) / perPercent) * 10) / 10,
                  std::fmod(std::round(plane::bearingOf(d)), 360));
}

}  // namespace

Shape withFall(const Shape& shape, double percent, double bearing) {
  Shape next = shape;
  bool percentDone = false, bearingDone = false;
  const auto& fields = shape.kind().fields();
  for (std::size_t i = 0; i < fields.size(); ++i) {
    if (!fields[i].figure || !shape.applies(i)) continue;
    if (fields[i].measure == Measure::percent && !std::exchange(percentDone, true))
      next = next.with(i, std::min(percent, fields[i].most));
    else if (fields[i].measure == Measure::bearing && !std::exchange(bearingDone, true))
      next = next.with(i, bearing);
  }
  return next;
}

Vec2 fallTip(const Shape& shape, const Fall& fall) {
  const auto [start, perPercent] = arrowScale(shape);
  return fall.at + (start + perPercent * fall.percent) * plane::towards(fall.bearing);
}

std::vector<Handle> handlesOf(const Shape& shape) {
  std::vector<Handle> handles;
  for (const PlacesField& places : placesOf(shape)) {
    const std::size_t n = places.points.size();
    for (std::size_t i = 0; i < n; ++i) handles.push_back({Grip::corner, places.field, i, places.points[i]});
    for (std::size_t i = 0; i + (places.closed ? 0 : 1) < n; ++i)
      handles.push_back({Grip::side, places.field, i, 0.5 * (places.points[i] + places.points[(i + 1) % n])});
  }
  for (std::size_t f = 0; f < shape.kind().fields().size(); ++f) {
    if (shape.kind().fields()[f].measure != Measure::contours) continue;
    const Value value = shape.get(f);
    std::size_t i = 0;
    for (const Contour& c : std::get<Contours>(value)) {
      for (const Vec2 p : c.line) handles.push_back({Grip::corner, f, i++, p});
    }
  }
  if (levelOf(shape)) handles.push_back({Grip::level, 0, 0, placeOf(shape)});
  if (const auto fall = fallOf(shape)) handles.push_back({Grip::fall, 0, 0, fallTip(shape, *fall)});
  return handles;
}

std::optional<Shape> moved(const Shape& shape, const Handle& handle, const Drag& drag) {
  Vec2 by = drag.to - drag.from;
  if (handle.grip == Grip::level) return ifSound(atLevel(shape, *levelOf(shape) + drag.up));
  if (handle.grip == Grip::fall) return ifSound(withFallTo(shape, handle.at + by));
  if (handle.grip == Grip::whole) return ifSound(shifted(shape, by));
  if (isContours(shape, handle.field)) {
    Contours contours = std::get<Contours>(shape.get(handle.field));
    // The ends of a closed one are one point.
    const Vec2 from = handle.at;
    for (Contour& c : contours) {
      for (Vec2& p : c.line) p = p == from ? drag.to : p;
    }
    return ifSound(shape.with(handle.field, std::move(contours)));
  }
  Places points = placesAt(shape, handle.field);
  const std::size_t i = handle.index, n = points.size();
  if (handle.grip == Grip::corner) {
    points[i] = drag.to;
  } else {
    Vec2& a = points[i];
    Vec2& b = points[(i + 1) % n];
    if (isClosed(shape, handle.field)) {
      const Vec2 out = plane::rightOf(plane::unit(b - a));
      by = plane::dot(by, out) * out;
    }
    a = a + by, b = b + by;
  }
  return ifSound(shape.with(handle.field, std::move(points)));
}

namespace {

// The field of sections that sides have of their own; nothing where there is none.
std::optional<std::size_t> fieldOfEdges(const Shape& shape) {
  const auto& fields = shape.kind().fields();
  for (std::size_t i = 0; i < fields.size(); ++i) {
    if (fields[i].measure == Measure::edges && shape.applies(i)) return i;
  }
  return std::nullopt;
}

// What is numbered by the corners of an outline, for another one: `was` tells the number of each of its sides before,
// and `change` makes the levels of its corners.
template <class F>
Shape renumbered(Shape shape, const std::vector<std::size_t>& was, F&& change) {
  for (std::size_t i = 0; i < shape.kind().fields().size(); ++i) {
    Value value = shape.get(i);
    if (auto* levels = std::get_if<Numbers>(&value); levels && !levels->empty())
      change(*levels);
    else if (auto* edges = std::get_if<Edges>(&value))
      *edges = ofNewSides(*edges, was);
    else
      continue;
    shape = shape.with(i, value);
  }
  return shape;
}

}  // namespace

Shape withCorner(const Shape& shape, const Handle& side) {
  Places points = placesAt(shape, side.field);
  const std::size_t i = side.index, n = points.size();
  const auto at = static_cast<std::ptrdiff_t>(i) + 1;
  points.insert(points.begin() + at, 0.5 * (points[i] + points[(i + 1) % n]));
  const Shape next = shape.with(side.field, std::move(points));
  if (!isClosed(shape, side.field)) return next;
  std::vector<std::size_t> was;
  for (std::size_t k = 0; k <= n; ++k) was.push_back(k <= i ? k : k - 1);
  return renumbered(next, was, [&](Numbers& levels) {
    if (levels.size() == n) levels.insert(levels.begin() + at, (levels[i] + levels[(i + 1) % n]) / 2);
  });
}

Shape withoutCorner(const Shape& shape, const Handle& corner) {
  if (isContours(shape, corner.field)) {
    Contours contours = std::get<Contours>(shape.get(corner.field));
    for (Contour& c : contours) std::erase(c.line, corner.at);
    std::erase_if(contours, [](const Contour& c) { return c.line.size() < 2; });
    return shape.with(corner.field, std::move(contours));
  }
  Places points = placesAt(shape, corner.field);
  const bool closed = isClosed(shape, corner.field);
  if (points.size() <= (closed ? 3u : 2u))
    throw Error(closed ? "an outline keeps three corners at least" : "a line keeps two points at least",
                "remove the whole instead");
  const std::size_t i = corner.index, n = points.size();
  const auto at = static_cast<std::ptrdiff_t>(i);
  points.erase(points.begin() + at);
  Shape next = shape.with(corner.field, std::move(points));
  if (closed) {
    std::vector<std::size_t> was;
    for (std::size_t k = 0; k + 1 < n; ++k) was.push_back(k < i ? k : k + 1);
    next = renumbered(next, was, [&](Numbers& levels) {
      if (levels.size() == n) levels.erase(levels.begin() + at);
    });
  }
  if (const auto why = wrong(next)) throw Error("without this corner: " + *why, "move another corner first");
  return next;
}

bool mayHaveSection(const Shape& shape, const Handle& handle) {
  return handle.grip == Grip::side && isClosed(shape, handle.field) && fieldOfEdges(shape);
}

Shape withSectionOfSide(const Shape& shape, const Handle& side, const std::optional<NamedOrLegs>& section) {
  const std::size_t field = *fieldOfEdges(shape);
  Edges edges = std::get<Edges>(shape.get(field));
  std::erase_if(edges, [&](const EdgeSection& e) { return e.edge == side.index; });
  if (section) edges.push_back({side.index, *section});
  std::ranges::sort(edges, {}, &EdgeSection::edge);
  return shape.with(field, std::move(edges));
}

Shape withSlopeOfSide(const Shape& shape, const Shape& resolved, const Handle& side, double run) {
  Section legs;
  for (std::size_t i = 0; i < resolved.kind().fields().size(); ++i) {
    const Value value = resolved.get(i);
    if (const auto* along = std::get_if<SectionsAlong>(&value); along && !along->empty())
      legs = along->front().section.legs;
  }
  const Edges edges = std::get<Edges>(resolved.get(*fieldOfEdges(resolved)));
  for (const EdgeSection& e : edges) {
    if (e.edge == side.index) legs = e.section.legs;
  }
  if (!endsInBatter(legs)) legs.push_back(legToGround(run, run));
  legs.back().cut = legs.back().fill = run;
  return withSectionOfSide(shape, side, NamedOrLegs{{}, std::move(legs)});
}

std::string movedText(const Works& works, const Handle& handle) {
  switch (handle.grip) {
    case Grip::corner:
      return "move a corner of " + works.name;
    case Grip::side:
      return "move an edge of " + works.name;
    case Grip::level:
      return "change the level of " + works.name;
    case Grip::fall:
      return "change the fall of " + works.name;
    default:
      return "move " + works.name;
  }
}

}  // namespace inselberg::works
