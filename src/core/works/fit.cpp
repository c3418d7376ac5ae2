// Method. With moments about the centroid of the area, the level there is the mean of the ground whatever the gradient
// g, and what is left to minimise is (g - g0)' S (g - g0): S the second moments of the area, g0 the gradient without a
// limit, S g0 = m, m the mixed moments of ground and place. Where g0 is too steep the optimum lies on the limit, at
// g = (S + t)^-1 m for the one t > 0 that gives the limit its length (J. More, D. Sorensen: Computing a trust region
// step, 1983); its length falls with t, so bisection finds it.
#include "works/fit.h"

#include <cmath>

#include "base/error.h"
#include "base/sum.h"
#include "ground/recut.h"
#include "ground/tin_index.h"
#include "ground/triangulate.h"
#include "plane/inside.h"
#include "quantity/overlap.h"

namespace inselberg::works {
namespace {

using ground::Index;
using plane::Vec2;

// Moments of the area and of the ground over it, relative to a place.
struct Moments {
  Sum area, x, y, xx, xy, yy, z, xz, yz;

  // Adds a triangle; exact, since all that is summed is of the second degree (the rule of the middles of the sides).
  void add(Vec2 a, Vec2 b, Vec2 c, const ground::Plane& level, Vec2 about) {
    const double third = plane::turn(a, b, c) / 6;
    for (const Vec2 middle : {0.5 * (a + b), 0.5 * (b + c), 0.5 * (c + a)}) {
      const Vec2 p = middle - about;
      const double g = level(middle);
      area.add(third), x.add(third * p.x), y.add(third * p.y), z.add(third * g);
      xx.add(third * p.x * p.x), xy.add(third * p.x * p.y), yy.add(third * p.y * p.y);
      xz.add(third * p.x * g), yz.add(third * p.y * g);
    }
  }
};

Moments momentsOver(const ground::Tin& ground, const plane::Ring& outline, Vec2 about) {
  std::vector<ground::Edge> edges;
  for (Index i = 0; i < outline.size(); ++i) edges.emplace_back(i, (i + 1) % static_cast<Index>(outline.size()));
  const ground::Triangulation made = ground::triangulate(outline, edges, {});
  const plane::Inside inside(outline);
  Moments moments;
  std::vector<Index> near;
  for (Index f = 0; f < made.triangles.size(); ++f) {
    if (!inside(ground::centroid(made, f))) continue;
    const auto& t = made.triangles[f];
    const std::array<Vec2, 3> corners{made.points[t[0]], made.points[t[1]], made.points[t[2]]};
    near.clear();
    ground.index().touching(corners, 0, [&](Index g) { near.push_back(g); });
    std::sort(near.begin(), near.end());
    near.erase(std::unique(near.begin(), near.end()), near.end());
    for (const Index g : near) {
      const auto c = ground.corners(g);
      const quantity::Convex shape = quantity::overlap(quantity::triangleShape(corners[0], corners[1], corners[2]),
                                                       c[0].plan(), c[1].plan(), c[2].plan());
      const ground::Plane level = ground::planeOf(c);
      for (int i = 1; i + 1 < shape.n; ++i) moments.add(shape.p[0], shape.p[i], shape.p[i + 1], level, about);
    }
  }
  return moments;
}

struct Symmetric {
  double xx, xy, yy;
  Vec2 solve(Vec2 m) const {
    const double d = xx * yy - xy * xy;
    return {(yy * m.x - xy * m.y) / d, (xx * m.y - xy * m.x) / d};
  }
};

}  // namespace

ground::Plane fittedPlane(const ground::Tin& ground, const plane::Ring& outline, double steepest) {
  const Vec2 about = plane::centroid(outline);
  const Moments m = momentsOver(ground, outline, about);
  const double area = m.area.value();
  if (!(area > 0)) throw Error("there is no ground under it to fit to", "move it onto the ground");
  const Vec2 c{m.x.value() / area, m.y.value() / area};
  const double level = m.z.value() / area;
  const Symmetric s{m.xx.value() / area - c.x * c.x, m.xy.value() / area - c.x * c.y, m.yy.value() / area - c.y * c.y};
  const Vec2 mixed{m.xz.value() / area - c.x * level, m.yz.value() / area - c.y * level};
  const auto damped = [&](double t) { return Symmetric{s.xx + t, s.xy, s.yy + t}.solve(mixed); };
  Vec2 gradient = damped(0);
  if (!(plane::norm(gradient) <= steepest)) {
    if (steepest <= 0) return {about + c, level, {0, 0}};
    double low = 0, high = s.xx + s.yy;
    while (plane::norm(damped(high)) > steepest) high *= 2;
    for (int i = 0; i < 200 && high - low > 1e-15 * high; ++i) {
      const double t = 0.5 * (low + high);
      (plane::norm(damped(t)) > steepest ? low : high) = t;
    }
    gradient = damped(high);
    gradient = (steepest / plane::norm(gradient)) * gradient;
  }
  return {about + c, level, gradient};
}

}  // namespace inselberg::works
