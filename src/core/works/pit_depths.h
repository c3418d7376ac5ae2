// Depths of topsoil between the test pits where they were found.
#pragma once

#include <memory>
#include <utility>
#include <vector>

#include "plane/geometry.h"

namespace inselberg::works {

// Natural neighbours (R. Sibson, 1981) inside their hull, outside it the depth at the nearest
// place of the hull; one pit holds everywhere. REQUIRES: a pit.
class PitDepths {
 public:
  explicit PitDepths(const std::vector<plane::Vec3>& pits);
  ~PitDepths();
  PitDepths(PitDepths&&) noexcept;
  double at(plane::Vec2 p) const;
  // The sides of the hull, what lies outside it on their right; where the pits are in a line the stretches between
  // them, each once either way; none of a single pit.
  std::vector<std::pair<plane::Vec2, plane::Vec2>> hull() const;

 private:
  struct Inner;
  std::unique_ptr<Inner> inner_;
};

}  // namespace inselberg::works
