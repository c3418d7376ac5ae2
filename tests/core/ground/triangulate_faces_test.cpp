#include "ground/triangulate_faces.h"

#include <array>
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <random>
#include <set>
#include <vector>

#include "ground/recut.h"
#include "plane/exact_circle.h"

using namespace inselberg;
using ground::Edge;
using ground::Index;
using ground::kNone;
using ground::Triangulation;
using plane::Linework;
using plane::Vec2;

namespace {

constexpr double kSize = 100;

double areaOf(const Triangulation& made, Index t) {
  const auto& [a, b, c] = made.triangles[t];
  return 0.5 * plane::turn(made.points[a], made.points[b], made.points[c]);
}

double areaOf(const Triangulation& made) {
  double sum = 0;
  for (Index t = 0; t < made.triangles.size(); ++t) sum += areaOf(made, t);
  return sum;
}

// What hangs together with some triangles without crossing a line.
std::vector<char> faceOf(const Triangulation& made, std::vector<Index> waiting) {
  std::vector<char> in(made.triangles.size(), 0);
  for (const Index t : waiting) in[t] = 1;
  while (!waiting.empty()) {
    const Index t = waiting.back();
    waiting.pop_back();
    for (int k = 0; k < 3; ++k) {
      const Index other = made.neighbours[t][k];
      if (other == kNone || in[other] || (made.constrained[t] >> k & 1)) continue;
      in[other] = 1;
      waiting.push_back(other);
    }
  }
  return in;
}

double areaOf(const Triangulation& made, const std::vector<char>& in) {
  double sum = 0;
  for (Index t = 0; t < in.size(); ++t) sum += in[t] ? areaOf(made, t) : 0;
  return sum;
}

std::vector<char> outsideOf(const Triangulation& all) {
  std::vector<Index> open;
  for (Index t = 0; t < all.triangles.size(); ++t) {
    for (int k = 0; k < 3; ++k) {
      if (all.neighbours[t][k] == kNone && !(all.constrained[t] >> k & 1)) open.push_back(t);
    }
  }
  return faceOf(all, open);
}

std::set<Edge> sidesOf(const Linework& lines) {
  std::set<Edge> sides;
  for (const auto& s : lines.segments()) sides.insert({s.a, s.b}), sides.insert({s.b, s.a});
  return sides;
}

// Counter-clockwise triangles that know their neighbours and which of their sides are lines, and are Delaunay but for
// these.
void checkSound(const Triangulation& made, const Linework& lines) {
  const std::set<Edge> sides = sidesOf(lines);
  REQUIRE(made.points.size() == lines.points().size());
  for (Index t = 0; t < made.triangles.size(); ++t) {
    const auto& c = made.triangles[t];
    CHECK(areaOf(made, t) > 0);
    for (int k = 0; k < 3; ++k) {
      const Edge side{c[ground::next(k)], c[ground::before(k)]};
      const bool isLine = made.constrained[t] >> k & 1;
      CHECK(isLine == sides.contains(side));
      const Index other = made.neighbours[t][k];
      if (other == kNone) continue;
      int back = -1;
      for (int m = 0; m < 3; ++m) {
        if (made.neighbours[other][m] == t && made.triangles[other][ground::next(m)] == side.second) back = m;
      }
      REQUIRE(back >= 0);
      const auto at = [&](Index i) { return made.points[i]; };
      CHECK((isLine || !plane::insideCircle(at(c[0]), at(c[1]), at(c[2]), at(made.triangles[other][back]))));
    }
  }
}

// Without the points that no line has, which would make the hull larger.
Linework linesAlone(const Linework& lines) {
  Linework alone(ground::kSnap);
  for (const auto& s : lines.segments()) alone.addSegment(lines.points()[s.a], lines.points()[s.b], 0);
  return alone;
}

void addCircle(Linework& lines, Vec2 centre, double radius, int corners) {
  const auto at = [&](int i) {
    const double angle = 2 * std::numbers::pi * i / corners;
    return centre + radius * Vec2{std::cos(angle), std::sin(angle)};
  };
  for (int i = 0; i < corners; ++i) lines.addSegment(at(i), at(i + 1), 0);
}

// Lines here and there, a long one that crosses itself, lines on a lattice, circles that lie in each other and apart;
// and perhaps a point by itself.
Linework randomLines(std::mt19937& random) {
  std::uniform_real_distribution<double> anywhere(0, kSize);
  const auto number = [&](int least, int most) { return std::uniform_int_distribution<int>(least, most)(random); };
  const auto place = [&] { return Vec2{anywhere(random), anywhere(random)}; };
  Linework lines(ground::kSnap);
  const int count = number(3, 60), what = number(0, 3);
  if (what == 0) {
    for (int i = 0; i < count; ++i) {
      const Vec2 a = place(), b = place();
      lines.addSegment(a, number(0, 1) ? b : a + 0.1 * (b - a), 0);
    }
  } else if (what == 1) {
    for (Vec2 a = place(), b; b = place(), lines.segments().size() < static_cast<std::size_t>(count); a = b)
      lines.addSegment(a, b, 0);
  } else if (what == 2) {
    const auto onLattice = [&] { return Vec2{1.0 * number(0, 11), 1.0 * number(0, 11)}; };
    for (int i = 0; i < count; ++i) lines.addSegment(onLattice(), onLattice(), 0);
  } else {
    for (int i = 0; i < number(1, 5); ++i) addCircle(lines, place(), 0.1 + anywhere(random) / 3, number(3, 80));
  }
  if (number(0, 1)) lines.addPoint(place());
  lines.nodeCrossings();
  return lines;
}

}  // namespace

TEST_CASE("Faces between lines are triangulated as all at once", "[random]") {
  std::mt19937 random(11);
  int byFaces = 0;
  for (int round = 0; round < 600; ++round) {
    CAPTURE(round);
    const Linework lines = randomLines(random);
    if (lines.segments().empty()) continue;
    const Triangulation all = ground::triangulate(linesAlone(lines), {});
    const Triangulation made = ground::triangulateFaces(lines, {}, {});
    checkSound(made, lines);
    const double enclosed = areaOf(all) - areaOf(all, outsideOf(all)), area = areaOf(made);
    const auto is = [&](double wanted) { return std::abs(area - wanted) < 1e-9 * kSize * kSize; };
    const bool isAll = is(areaOf(all)) || is(areaOf(ground::triangulate(lines, {})));
    CHECK((isAll || is(enclosed)));
    byFaces += !isAll;
  }
  CHECK(byFaces > 100);
}

TEST_CASE("A face that is not wanted is left out, and no other", "[random]") {
  std::mt19937 random(12);
  int left = 0;
  for (int round = 0; round < 400; ++round) {
    CAPTURE(round);
    const Linework lines = randomLines(random);
    if (lines.segments().empty()) continue;
    const Triangulation before = ground::triangulateFaces(lines, {}, {});
    if (before.triangles.empty()) continue;
    const Index t = std::uniform_int_distribution<Index>(0, static_cast<Index>(before.triangles.size()) - 1)(random);
    // What is outside is of several pieces perhaps, in the corners of the hull.
    if (outsideOf(before)[t]) continue;
    for (int k = 0; k < 3; ++k) {
      if (!(before.constrained[t] >> k & 1)) continue;
      const Edge side{before.triangles[t][ground::next(k)], before.triangles[t][ground::before(k)]};
      const Triangulation after = ground::triangulateFaces(lines, std::vector{side}, {});
      checkSound(after, lines);
      const double face = areaOf(before, faceOf(before, {t})), gone = areaOf(before) - areaOf(after);
      // Where faces cannot be told apart it is not left out.
      CHECK((std::abs(gone - face) < 1e-9 * kSize * kSize || gone == 0));
      left += gone > 0;
    }
  }
  CHECK(left > 100);
}

TEST_CASE("A gap in a ring does not lose what it holds") {
  Linework lines(ground::kSnap);
  for (int i = 0; i < 4; ++i) {
    constexpr std::array<Vec2, 4> kCorners{{{0, 0}, {10, 0}, {10, 10}, {0, 10}}};
    const Vec2 a = kCorners[i], b = kCorners[(i + 1) % 4];
    lines.addSegment(a, i == 2 ? a + 0.999 * (b - a) : b, 0);
  }
  lines.nodeCrossings();
  const Triangulation made = ground::triangulateFaces(lines, {}, {});
  checkSound(made, lines);
  CHECK(areaOf(made) == Approx(100));
}

TEST_CASE("A point on a circle does not lie inside it, one an ulp nearer does") {
  const Vec2 a{-1, 0}, b{0, -1}, c{1, 0};
  CHECK_FALSE(plane::insideCircle(a, b, c, {0, 1}));
  CHECK(plane::insideCircle(a, b, c, {0, std::nextafter(1.0, 0.0)}));
  CHECK_FALSE(plane::insideCircle(a, b, c, {0, std::nextafter(1.0, 2.0)}));
}
