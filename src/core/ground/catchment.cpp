#include "ground/catchment.h"

#include <algorithm>
#include <cmath>

#include "base/parallel.h"

namespace inselberg::ground {

Catchment catchmentOf(const Tin& tin, const std::function<bool(Vec2 from, Vec2 to)>& meets, std::size_t cells,
                      const Progress& progress) {
  Catchment found;
  const plane::Box box = tin.bounds();
  if (tin.empty() || cells == 0) return found;
  found.cell = std::max(0.1, std::sqrt(box.width() * box.height() / static_cast<double>(cells)));
  const auto across = static_cast<std::size_t>(std::ceil(box.width() / found.cell));
  const auto up = static_cast<std::size_t>(std::ceil(box.height() / found.cell));
  const auto middle = [&](std::size_t i) {
    return Vec2{box.minX + (static_cast<double>(i % across) + 0.5) * found.cell,
                box.minY + (static_cast<double>(i / across) + 0.5) * found.cell};
  };
  const WaterWays ways(tin);
  std::vector<char> comes(across * up, 0);
  parallelChunks(comes.size(), 256, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    progress.report("following the water", static_cast<double>(begin) / static_cast<double>(comes.size()));
    for (std::size_t i = begin; i < end; ++i) {
      const auto way = ways.from(middle(i), progress).way;
      for (std::size_t k = 0; k < way.size() && !comes[i]; ++k)
        comes[i] = meets(way[k > 0 ? k - 1 : 0].plan(), way[k].plan());
    }
  });
  for (std::size_t i = 0; i < comes.size(); ++i) {
    if (comes[i]) found.cells.push_back(middle(i));
  }
  found.area = static_cast<double>(found.cells.size()) * found.cell * found.cell;
  return found;
}

}  // namespace inselberg::ground
