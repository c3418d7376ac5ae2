// Which places on a drawing texts have taken, so that none lies over another or over the edge.
#pragma once

#include <algorithm>
#include <cmath>
#include <utility>
#include <vector>

#include "plane/geometry.h"

namespace inselberg::drawing {

// In units of the drawing, whichever these are.
class LabelPlaces {
 public:
  explicit LabelPlaces(plane::Box inside) : inside_(inside) {}

  // Takes the place of a text about its middle, so long to either side along a unit vector and so high in all; not,
  // where some of it is taken or lies over the edge.
  bool take(plane::Vec2 middle, plane::Vec2 along, double half, double height) {
    const double radius = 0.65 * height, reach = std::max(0.0, half - 0.5 * height);
    const int n = 1 + static_cast<int>(std::ceil(2 * reach / radius));
    std::vector<plane::Vec2> discs;
    for (int i = 0; i <= n; ++i) discs.push_back(middle + (reach * (2.0 * i / n - 1)) * along);
    for (const plane::Vec2 p : discs) {
      if (!inside_.grown(-radius).contains(p)) return false;
      for (const auto& [q, r] : taken_) {
        if (plane::distance(p, q) < radius + r) return false;
      }
    }
    for (const plane::Vec2 p : discs) taken_.emplace_back(p, radius);
    return true;
  }

 private:
  plane::Box inside_;
  // A text is a few discs in a row, so that turned ones are told apart as well.
  std::vector<std::pair<plane::Vec2, double>> taken_;
};

}  // namespace inselberg::drawing
