// Polygons with levels: areas, or the faces of a ground model when a layer holds nothing but triangles.
#pragma once

#include <vector>

#include "exchange/imported.h"

namespace inselberg::exchange {

// Collects the polygons of one layer, then says what they are.
class AreasOrFaces {
 public:
  // Rings as they came; the first point may be repeated at the end.
  void add(const std::vector<std::vector<plane::Vec3>>& rings, long line);

  // Adds what was collected to `out`, as a model when there are at least two polygons and all are triangles with three
  // levels, else as areas.
  void finish(LayerIndex layer, Imported& out);

 private:
  std::vector<ImportedArea> areas_;
  std::vector<plane::Vec3> corners_;  // three for each triangle, as long as all are
  bool onlyTriangles_ = true;
};

}  // namespace inselberg::exchange
