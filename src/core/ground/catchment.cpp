#include "ground/catchment.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

#include "base/parallel.h"
#include "ground/water_legs.h"

namespace inselberg::ground {

namespace {

// Whether what full hollows cannot hold comes to the place.
class Overflow {
 public:
  Overflow(const Tin& tin, const WaterWays& ways, const std::function<bool(Vec2, Vec2)>& meets,
           const Progress& progress)
      : tin_(tin), ways_(ways), meets_(meets), progress_(progress) {}

  // From the hollow that a triangle lies in.
  bool comes(Index triangle) {
    std::vector<std::size_t> on;  // the hollows that run into each other, down to one that is known
    bool known = false, meets = false;
    while (!known) {
      if (const auto found = hollowOf_.find(triangle); found != hollowOf_.end()) {
        meets = comes_[found->second], known = true;
        break;
      }
      const std::size_t number = comes_.size();
      comes_.push_back(false);
      on.push_back(number);
      hollowOf_[triangle] = number;
      const auto hollow = hollowFrom(tin_, triangle, progress_);
      if (!hollow) break;
      // All that lies under its water runs over with it.
      for (const Index t : underWater(tin_, *hollow, hollow->rim)) hollowOf_.try_emplace(t, number);
      const WaterPath leg = legFrom(tin_, ways_, *hollow, progress_);
      meets = known = meetsOn(leg, meets_);
      if (known || leg.end == WaterPath::End::border) break;
      triangle = tin_.locate(leg.way.back().plan());
    }
    for (const std::size_t number : on) comes_[number] = meets;
    return meets;
  }

  static bool meetsOn(const WaterPath& path, const std::function<bool(Vec2, Vec2)>& meets) {
    for (std::size_t k = 0; k < path.way.size(); ++k) {
      if (meets(path.way[k > 0 ? k - 1 : 0].plan(), path.way[k].plan())) return true;
    }
    return false;
  }

 private:
  const Tin& tin_;
  const WaterWays& ways_;
  const std::function<bool(Vec2, Vec2)>& meets_;
  const Progress& progress_;
  std::unordered_map<Index, std::size_t> hollowOf_;  // of a triangle
  std::vector<char> comes_;
};

}  // namespace

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
  std::vector<Index> held(comes.size(), kNone);  // the triangle at the bottom of the hollow that holds it
  parallelChunks(comes.size(), 256, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    progress.report("following the water", static_cast<double>(begin) / static_cast<double>(comes.size()));
    for (std::size_t i = begin; i < end; ++i) {
      const WaterPath path = ways.from(middle(i), progress);
      comes[i] = Overflow::meetsOn(path, meets);
      if (!comes[i] && !path.way.empty() && path.end == WaterPath::End::hollow)
        held[i] = tin.locate(path.way.back().plan());
    }
  });
  Overflow overflow(tin, ways, meets, progress);
  for (std::size_t i = 0; i < comes.size(); ++i) {
    if (comes[i]) found.cells.push_back(middle(i));
    if (held[i] != kNone && overflow.comes(held[i])) found.cellsOver.push_back(middle(i));
  }
  const double cell = found.cell * found.cell;
  found.area = static_cast<double>(found.cells.size()) * cell;
  found.areaOver = static_cast<double>(found.cellsOver.size()) * cell;
  return found;
}

}  // namespace inselberg::ground
