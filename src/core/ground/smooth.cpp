#include "ground/smooth.h"

#include <algorithm>
#include <cmath>

#include "base/parallel.h"

namespace inselberg::ground {

std::vector<Vec2> cornerGradients(const Tin& tin, const Progress& progress) {
  std::vector<Vec2> sums(tin.points().size());
  std::vector<double> areas(sums.size(), 0);
  for (Index t = 0; t < tin.triangles().size(); ++t) {
    if (t % 65536 == 0) progress.check();
    const auto c = tin.corners(t);
    const double area = plane::turn(c[0].plan(), c[1].plan(), c[2].plan());
    const Vec2 g = area * planeOf(c).gradient;
    for (const Index i : tin.triangles()[t]) sums[i] = sums[i] + g, areas[i] += area;
  }
  for (std::size_t i = 0; i < sums.size(); ++i) sums[i] = areas[i] > 0 ? (1 / areas[i]) * sums[i] : Vec2{};
  return sums;
}

double bent(Vec2 a, Vec2 b) {
  const double cosine = (1 + plane::dot(a, b)) / std::sqrt((1 + plane::dot(a, a)) * (1 + plane::dot(b, b)));
  constexpr double kSharp = 0.988, kSmooth = 0.996;  // of 9 and 5 degrees
  const double t = std::clamp((cosine - kSharp) / (kSmooth - kSharp), 0.0, 1.0);
  return t * t * (3 - 2 * t);
}

}  // namespace inselberg::ground
