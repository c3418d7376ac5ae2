#include "exchange/design_places.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"

namespace inselberg::exchange {

Vec2 pointFrom(const JsonCursor& at, const Origin& origin) {
  const auto pair = at.items();
  if (pair.size() != 2) at.fail("a point is wanted here", "write it as [easting, northing]");
  return {pair[0].number() - origin.easting, pair[1].number() - origin.northing};
}

Places pointsFrom(const JsonCursor& at, const Origin& origin) {
  Places points;
  for (const JsonCursor& item : at.items()) points.push_back(pointFrom(item, origin));
  return points;
}

Places lineFrom(const JsonCursor& at, const Origin& origin) {
  Places points = pointsFrom(at, origin);
  if (points.size() < 2) at.fail("a line needs two points at least", "add one");
  for (std::size_t i = 1; i < points.size(); ++i) {
    if (points[i] == points[i - 1]) at.fail("the line has the same point twice in a row", "take one out");
  }
  return points;
}

Outline outlineFrom(const JsonCursor& at, const Origin& origin) {
  Outline outline{pointsFrom(at, origin)};
  if (outline.ring.size() > 3 && outline.ring.front() == outline.ring.back()) outline.ring.pop_back();
  if (outline.ring.size() > 2 && plane::signedArea(outline.ring) < 0) {
    outline.clockwise = true;
    std::reverse(outline.ring.begin() + 1, outline.ring.end());
  }
  try {
    outline.ring = plane::sound({outline.ring, {}}, origin).outer;
  } catch (const Error& e) {
    at.fail(e.happened(), e.hint());
  }
  return outline;
}

double slopeOr(const std::optional<JsonCursor>& at, double run) {
  return at ? works::slopeFrom(*at) : run;
}

double numberOr(const std::optional<JsonCursor>& at, double value) {
  return at ? at->number() : value;
}

double lengthOr(const std::optional<JsonCursor>& at, double value) {
  const double length = numberOr(at, value);
  if (length < 0) at->fail("this cannot be negative", "write 0 or more");
  return length;
}

plane::Vec3 threeFrom(const JsonCursor& at, const Origin& origin) {
  const auto three = at.items();
  if (three.size() != 3) at.fail("three numbers are wanted here", "write it as [easting, northing, number]");
  return {three[0].number() - origin.easting, three[1].number() - origin.northing, three[2].number()};
}

OrderedJson pointJson(Vec2 p, const Origin& origin) {
  return {p.x + origin.easting, p.y + origin.northing};
}

OrderedJson pointsJson(const Places& points, const Origin& origin) {
  OrderedJson list = OrderedJson::array();
  for (const Vec2 p : points) list.push_back(pointJson(p, origin));
  return list;
}

OrderedJson slopeJson(Slope slope) {
  return fmt::format("{:.17g}:1", slope.run());
}

}  // namespace inselberg::exchange
