// Surplus falls as the level rises, at the rate of the plan area the works covers: that makes Newton's steps, kept
// inside a bracket that grows from the start to the limits and halved whenever a step leaves it or hardly moves.
#include "balance/level_balance.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace inselberg::balance {

LevelCost costAtLevel(const works::Shape& shape, double level, const ground::Tin& under, const plane::Origin& origin,
                      const Progress& progress) {
  const works::Placement placed = works::place(works::atLevel(shape, level), under, origin, progress);
  const quantity::Volume v = works::costOf(placed, under, progress);
  return {level, v.cut, v.fill, v.planArea()};
}

LevelRange limitsOn(const ground::Tin& under) {
  return {under.minLevel() - 100, under.maxLevel() + 100};
}

LevelRange rangeAround(const works::Shape& shape, const ground::Tin& under) {
  const double own = works::levelOf(shape).value();
  LevelRange range{own, own};
  for (const auto& [field, points, closed] : works::placesOf(shape)) {
    for (std::size_t i = 0; i < points.size(); ++i) {
      const plane::Vec2 next = closed ? points[(i + 1) % points.size()] : points[std::min(i + 1, points.size() - 1)];
      for (const double t : {0.0, 0.25, 0.5, 0.75}) {
        const auto level = under.levelAt(points[i] + t * (next - points[i]));
        if (!level) continue;
        range.lowest = std::min(range.lowest, *level);
        range.highest = std::max(range.highest, *level);
      }
    }
  }
  const double more = std::max(0.25, 0.15 * (range.highest - range.lowest));
  return {range.lowest - more, range.highest + more};
}

std::vector<LevelCost> levelCurve(const CostAt& cost, double low, double high, int count, const Progress& progress) {
  std::vector<LevelCost> curve;
  for (int i = 0; i < count; ++i) {
    progress.check();
    curve.push_back(cost(low + (high - low) * i / (count - 1)));
  }
  return curve;
}

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
    if (!(next > low && next < high))
      next = next >= high && high == highest && level < highest ? highest
             : next <= low && low == lowest && level > lowest   ? lowest
                                                                : (low + high) / 2;
    if (i > 20) next = (low + high) / 2;
    if (next == level) return result;
    level = next;
  }
  return result;
}

}  // namespace inselberg::balance
