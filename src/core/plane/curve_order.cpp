#include "plane/curve_order.h"

#include <tbb/parallel_sort.h>

#include <algorithm>

namespace inselberg::plane {
namespace {

// The place of a cell on the curve.
std::uint32_t hilbertKey(std::uint32_t x, std::uint32_t y) {
  std::uint32_t key = 0;
  for (std::uint32_t s = 1u << 15; s > 0; s >>= 1) {
    const std::uint32_t rx = (x & s) ? 1 : 0, ry = (y & s) ? 1 : 0;
    key = (key << 2) | ((3 * rx) ^ ry);
    if (ry == 0) {
      if (rx == 1) {
        x = 0xffff - (x & 0xffff);
        y = 0xffff - (y & 0xffff);
      }
      std::swap(x, y);
    }
  }
  return key;
}

}  // namespace

std::vector<std::uint32_t> curveOrder(std::span<const Vec2> points) {
  Box box;
  for (const Vec2 p : points) box.add(p);
  const double scale = 65535.0 / std::max({box.width(), box.height(), 1e-9});
  std::vector<std::uint64_t> keys(points.size());
  for (std::size_t i = 0; i < points.size(); ++i) {
    const auto x = static_cast<std::uint32_t>((points[i].x - box.minX) * scale);
    const auto y = static_cast<std::uint32_t>((points[i].y - box.minY) * scale);
    keys[i] = std::uint64_t{hilbertKey(x, y)} << 32 | i;
  }
  tbb::parallel_sort(keys);
  std::vector<std::uint32_t> order(points.size());
  for (std::size_t i = 0; i < keys.size(); ++i) order[i] = static_cast<std::uint32_t>(keys[i]);
  return order;
}

}  // namespace inselberg::plane
