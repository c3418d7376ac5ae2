#include "balance/level_balance.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace inselberg::balance {

LevelBalance balanceLevel(const CostAt& cost, double start, double lowest, double highest, double target,
                          const Progress& progress) {
  constexpr int kMost = 80;
  double low = lowest, high = highest;  // surplus(low) > target > surplus(high), once tried
  double level = std::clamp(start, lowest, highest);
  LevelBalance result;
  double nearest = std::numeric_limits<double>::infinity();
  for (int i = 0; i < kMost; ++i) {
    progress.report("balancing", static_cast<double>(i) / 12);
    const LevelCost now = cost(level);
    ++result.evaluations;
    const double excess = now.surplus() - target;
    if (std::abs(excess) < nearest) nearest = std::abs(excess), result.best = now;
    if (std::abs(excess) <= std::max(1e-6, 1e-9 * (now.cut + now.fill))) {
      result.closed = true;
      return result;
    }
    (excess > 0 ? low : high) = level;
    if (high - low < 1e-10) return result;
    double next = now.area > 0 ? level + excess / now.area : (low + high) / 2;
    // A step out of the bracket, or one that hardly moves, is replaced by halving.
    if (!(next > low && next < high)) next = next >= high && high == highest && level < highest ? highest
                                           : next <= low && low == lowest && level > lowest     ? lowest
                                                                                                : (low + high) / 2;
    if (i > 20) next = (low + high) / 2;
    if (next == level) return result;
    level = next;
  }
  return result;
}

}  // namespace inselberg::balance
