#include "plane/hull.h"

#include <algorithm>
#include <numeric>
#include <tuple>

namespace inselberg::plane {

std::vector<std::uint32_t> hullOf(std::span<const Vec3> points) {
  std::vector<std::uint32_t> order(points.size());
  std::iota(order.begin(), order.end(), 0U);
  std::sort(order.begin(), order.end(), [&](std::uint32_t a, std::uint32_t b) {
    return std::tie(points[a].x, points[a].y, a) < std::tie(points[b].x, points[b].y, b);
  });
  std::vector<std::uint32_t> hull;
  const auto grow = [&](auto begin, auto end) {
    const std::size_t base = hull.size();
    for (auto it = begin; it != end; ++it) {
      while (hull.size() >= base + 2 &&
             turn(points[hull[hull.size() - 2]].plan(), points[hull.back()].plan(), points[*it].plan()) <= 0)
        hull.pop_back();
      hull.push_back(*it);
    }
    if (!hull.empty()) hull.pop_back();
  };
  grow(order.begin(), order.end());
  grow(order.rbegin(), order.rend());
  return hull;
}

}  // namespace inselberg::plane
