#include "ground/lying_over.h"

#include "base/parallel.h"
#include "ground/recut.h"

namespace inselberg::ground {

std::vector<Index> lastOver(const Tin& ground, std::span<const TinPtr> surfaces, const Progress& progress) {
  Box all;
  for (const TinPtr& surface : surfaces) {
    if (!surface || surface->empty()) continue;
    all.add(surface->bounds());
    surface->index();  // by all cores, before many ask for it at once
  }
  std::vector<Index> over(ground.triangles().size(), kNone);
  parallelChunks(over.size(), 512, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    std::vector<Index> near(surfaces.size(), kNone);  // where the one before was found
    for (std::size_t t = begin; t < end; ++t) {
      const Vec2 middle = centroid(ground, static_cast<Index>(t));
      if (!all.contains(middle)) continue;
      for (std::size_t k = surfaces.size(); k-- > 0 && over[t] == kNone;) {
        if (surfaces[k] && surfaces[k]->bounds().contains(middle) && surfaces[k]->locate(middle, near[k]) != kNone)
          over[t] = static_cast<Index>(k);
      }
    }
  });
  return over;
}

}  // namespace inselberg::ground
