#include "ground/steepness.h"

#include <algorithm>

namespace inselberg::ground {

std::size_t bandOf(double steepness, std::span<const double> limits) {
  return static_cast<std::size_t>(std::ranges::upper_bound(limits, steepness + kSteepnessRounding) - limits.begin());
}

std::vector<double> areaBySteepness(const Tin& tin, std::span<const double> limits) {
  std::vector<double> areas(limits.size() + 1, 0);
  for (Index t = 0; t < tin.triangles().size(); ++t) {
    const auto c = tin.corners(t);
    areas[bandOf(plane::norm(planeOf(c).gradient), limits)] += plane::turn(c[0].plan(), c[1].plan(), c[2].plan()) / 2;
  }
  return areas;
}

}  // namespace inselberg::ground
