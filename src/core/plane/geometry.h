// Points, vectors and boxes in plan. x is easting, y is northing, both relative to a project origin; metres.
#pragma once

#include <algorithm>
#include <cmath>
#include <limits>
#include <optional>
#include <vector>

namespace inselberg::plane {

struct Vec2 {
  double x = 0;
  double y = 0;
  bool operator==(const Vec2&) const = default;
};

inline Vec2 operator+(Vec2 a, Vec2 b) {
  return {a.x + b.x, a.y + b.y};
}
inline Vec2 operator-(Vec2 a, Vec2 b) {
  return {a.x - b.x, a.y - b.y};
}
inline Vec2 operator*(double k, Vec2 a) {
  return {k * a.x, k * a.y};
}
inline double dot(Vec2 a, Vec2 b) {
  return a.x * b.x + a.y * b.y;
}
inline double cross(Vec2 a, Vec2 b) {
  return a.x * b.y - a.y * b.x;
}
inline double norm(Vec2 a) {
  return std::sqrt(dot(a, a));
}
inline double distance(Vec2 a, Vec2 b) {
  return norm(b - a);
}
inline Vec2 unit(Vec2 a) {
  return (1 / norm(a)) * a;
}
// A quarter turn to the right.
inline Vec2 rightOf(Vec2 a) {
  return {a.y, -a.x};
}
// Twice the signed area of abc: positive when c lies to the left of a->b. Rounded, not exact.
inline double turn(Vec2 a, Vec2 b, Vec2 c) {
  return cross(b - a, c - a);
}

// The distance from p to the segment ab, and where along it (0..1) the nearest point lies.
struct Nearest {
  double distance;
  double along;
};
inline Nearest nearestOnSegment(Vec2 p, Vec2 a, Vec2 b) {
  const Vec2 d = b - a;
  const double length2 = dot(d, d);
  const double t = length2 > 0 ? std::clamp(dot(p - a, d) / length2, 0.0, 1.0) : 0.0;
  return {distance(p, a + t * d), t};
}

// How far along ab (0..1) it crosses cd, each with an end on either side of the other; nothing where they do not.
inline std::optional<double> crossingAlong(Vec2 a, Vec2 b, Vec2 c, Vec2 d) {
  const double abc = turn(a, b, c), abd = turn(a, b, d), cda = turn(c, d, a), cdb = turn(c, d, b);
  if ((abc > 0) == (abd > 0) || (cda > 0) == (cdb > 0) || cda == cdb) return std::nullopt;
  return cda / (cda - cdb);
}

struct Vec3 {
  double x = 0;
  double y = 0;
  double z = 0;
  bool operator==(const Vec3&) const = default;
  Vec2 plan() const { return {x, y}; }
};

// Empty until a point is added; an empty box overlaps nothing.
struct Box {
  double minX = std::numeric_limits<double>::infinity();
  double minY = std::numeric_limits<double>::infinity();
  double maxX = -std::numeric_limits<double>::infinity();
  double maxY = -std::numeric_limits<double>::infinity();

  bool operator==(const Box&) const = default;
  bool empty() const { return minX > maxX; }
  double width() const { return empty() ? 0 : maxX - minX; }
  double height() const { return empty() ? 0 : maxY - minY; }
  Vec2 centre() const { return {(minX + maxX) / 2, (minY + maxY) / 2}; }
  void add(Vec2 p) {
    minX = std::min(minX, p.x), maxX = std::max(maxX, p.x);
    minY = std::min(minY, p.y), maxY = std::max(maxY, p.y);
  }
  void add(const Box& b) {
    minX = std::min(minX, b.minX), maxX = std::max(maxX, b.maxX);
    minY = std::min(minY, b.minY), maxY = std::max(maxY, b.maxY);
  }
  Box grown(double by) const { return {minX - by, minY - by, maxX + by, maxY + by}; }
  bool overlaps(const Box& b) const { return minX <= b.maxX && b.minX <= maxX && minY <= b.maxY && b.minY <= maxY; }
  bool contains(Vec2 p) const { return minX <= p.x && p.x <= maxX && minY <= p.y && p.y <= maxY; }
};

using Ring = std::vector<Vec2>;  // closed without repeating the first point

// Where a project's coordinates start: added to every relative position to get easting and northing.
struct Origin {
  double easting = 0;
  double northing = 0;
  bool operator==(const Origin&) const = default;
};

}  // namespace inselberg::plane
