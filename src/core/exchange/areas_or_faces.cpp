#include "exchange/areas_or_faces.h"

#include <cmath>

namespace inselberg::exchange {

void AreasOrFaces::add(const std::vector<std::vector<plane::Vec3>>& rings, long line) {
  if (rings.empty()) return;
  std::size_t n = rings.front().size();
  if (n > 1 && rings.front().front() == rings.front().back()) --n;
  bool triangle = rings.size() == 1 && n == 3;
  for (std::size_t i = 0; triangle && i < 3; ++i) triangle = !std::isnan(rings.front()[i].z);
  onlyTriangles_ &= triangle;
  if (onlyTriangles_) corners_.insert(corners_.end(), rings.front().begin(), rings.front().begin() + 3);
  ImportedArea area;
  area.line = line;
  for (std::size_t r = 0; r < rings.size(); ++r) {
    plane::Ring ring;
    for (const plane::Vec3& p : rings[r]) ring.push_back(p.plan());
    (r == 0 ? area.polygon.outer : area.polygon.holes.emplace_back()) = std::move(ring);
  }
  areas_.push_back(std::move(area));
}

void AreasOrFaces::finish(LayerIndex layer, Imported& out) {
  if (onlyTriangles_ && areas_.size() >= 2) {
    ImportedModel model;
    model.layer = layer;
    model.points = std::move(corners_);
    for (ground::Index i = 0; i + 2 < model.points.size(); i += 3) model.triangles.push_back({i, i + 1, i + 2});
    out.models.push_back(std::move(model));
  } else {
    for (ImportedArea& area : areas_) {
      area.layer = layer;
      out.areas.push_back(std::move(area));
    }
  }
  *this = {};
}

}  // namespace inselberg::exchange
