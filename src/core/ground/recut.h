// Cutting lines into a ground: the triangles a line touches are triangulated anew with the line among their sides, all
// others stay as they are. What clipping and stamping have in common.
#pragma once

#include <array>
#include <functional>
#include <optional>
#include <span>
#include <utility>
#include <vector>

#include "base/progress.h"
#include "ground/tin.h"
#include "ground/triangulate.h"
#include "plane/polygon.h"

namespace inselberg::ground {

// Points closer than this in plan become one where lines are cut in; levels closer than this are one level.
constexpr double kSnap = 1e-6;

struct Line2 {
  Vec2 a, b;
};

// The sides of rings.
std::vector<Line2> ringsOf(std::span<const plane::Polygon> polygons);

// How far along a line (0 to 1) it comes within `margin` of a triangle (corners counter-clockwise), and to where;
// nothing where it surely does not.
std::optional<std::pair<double, double>> nearTriangle(const Line2& line, const std::array<Vec3, 3>& corners,
                                                      double margin);

// Which triangles lie within a few kSnap of the lines.
std::vector<char> touchedBy(const Tin& ground, std::span<const Line2> lines, const Progress& progress);

// The same for those whose box lies within `margin` of a triangle of another ground.
std::vector<char> touchedBy(const Tin& ground, const Tin& other, double margin, const Progress& progress);
// These by their numbers, in order.
std::vector<Index> trianglesNear(const Tin& ground, const Tin& other, double margin, const Progress& progress);
// All sides of a ground, each once.
std::vector<Line2> sidesOf(const Tin& tin);
// Those with a triangle on one side only.
std::vector<Line2> borderOf(const Tin& tin);
// Whether a triangle is so narrow (1 mm) that the rounding of a place in it is large in level.
bool isNarrow(const std::array<Vec3, 3>& corners);

// Spreads a decision about places over all untouched triangles: `inside` is asked once for each group of untouched
// triangles hanging together. The result is per triangle; for touched ones false. REQUIRES: beyond `box` the answer is
// the same everywhere.
std::vector<char> spreadInside(const Tin& ground, const std::vector<char>& touched,
                               const std::function<bool(Vec2)>& inside, const Box& box);

// The touched triangles' sides and the lines in one triangulation. It covers the hull of them, more than is wanted.
Triangulation recut(const Tin& ground, const std::vector<char>& touched, std::span<const Line2> lines,
                    const Progress& progress);
// Lines alone.
Triangulation recut(std::span<const Line2> lines, const Progress& progress);

// The triangle of a ground that holds the middle of each face; kNone where there is none.
std::vector<Index> locateFaces(const Triangulation& cut, const Tin& ground, const Progress& progress);

// The sides of the touched triangles, each once.
std::vector<Line2> sidesOf(const Tin& ground, const std::vector<char>& touched);

// Lines cut where they meet a border, to keep the parts that are wanted and leave nothing of the others behind:
// wanted(number of the line, a place on it, how far along it lies, 0 to 1) is asked once for each part, from several
// threads. Along the border itself either answer may come.
using Wanted = std::function<bool(std::size_t line, Vec2 middle, double along)>;
std::vector<Line2> partsWhere(std::span<const Line2> lines, std::span<const Line2> border, const Wanted& wanted,
                              const Progress& progress);

Vec2 centroid(const Triangulation& cut, Index face);
Vec2 centroid(const Tin& tin, Index triangle);

}  // namespace inselberg::ground
