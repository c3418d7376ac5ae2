#include "report/pond_storage.h"

#include <algorithm>

#include "ground/recut.h"

namespace inselberg::report {

std::optional<PondStorage> storageOf(const project::EvaluatedGround& ground, const project::PlacedWorks& works,
                                     const Progress& progress) {
  const auto* pond = works.works->shape.as<works::Pond>();
  if (!pond || !ground.tin || ground.pending) return std::nullopt;
  const ground::Tin& facets = *works.placement->facets;
  // Anywhere on its lowest facet.
  ground::Index lowest = ground::kNone;
  double level = 1e300;
  for (ground::Index t = 0; t < facets.triangles().size(); ++t) {
    const auto c = facets.corners(t);
    if (const double z = c[0].z + c[1].z + c[2].z; z < level) level = z, lowest = t;
  }
  if (lowest == ground::kNone) return std::nullopt;
  const auto hollow = ground::hollowAt(*ground.tin, ground::centroid(facets, lowest), progress);
  if (!hollow) return std::nullopt;
  PondStorage storage{*hollow, ground::storageTable(*ground.tin, *hollow, 0.1), {}, 0};
  if (pond->hasWater()) storage.water = pond->water;
  storage.held =
      ground::storageAt(*ground.tin, *hollow, std::min(storage.water.value_or(hollow->rim), hollow->rim)).volume;
  return storage;
}

}  // namespace inselberg::report
