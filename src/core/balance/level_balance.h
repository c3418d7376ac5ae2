// The level at which a works' cut equals its fill, or differs from it by a wanted surplus.
#pragma once

#include <functional>

#include <vector>

#include "base/progress.h"
#include "ground/tin.h"
#include "works/works.h"

namespace inselberg::balance {

// What one level costs.
struct LevelCost {
  double level = 0;
  double cut = 0;   // m3
  double fill = 0;  // m3
  double area = 0;  // plan area the works covers, m2: the rate at which fill - cut grows with the level
  double surplus() const { return cut - fill; }
};

// What the works costs at a level, placed on `under`. REQUIRES: it has a level (works::levelOf).
LevelCost costAtLevel(const works::Shape& shape, double level, const ground::Tin& under, const plane::Origin& origin,
                      const Progress& progress);

using CostAt = std::function<LevelCost(double level)>;

struct LevelBalance {
  LevelCost best;       // the level found and its cost
  bool closed = false;  // |surplus - target| is within the tolerance
  int evaluations = 0;
};

// Searches for the level where surplus = target, by Newton steps kept inside a bracket. surplus falls as the level
// rises. Starts at `start`; the bracket grows from there, at most to [lowest, highest]. The tolerance is 1e-6 m3 or
// 1e-9 of the earth moved, whichever is more. Not closed when no level within the limits balances, or when the surplus
// jumps over the target (a batter reaching new land at once); then `best` is the nearest found. Throws Cancelled.
LevelBalance balanceLevel(const CostAt& cost, double start, double lowest, double highest, double target,
                          const Progress& progress);

// The limits within which a works on this ground is balanced: well below and above all of it.
struct LevelRange {
  double lowest, highest;
};
LevelRange limitsOn(const ground::Tin& under);
// The levels worth looking at: those of the ground along its outlines and lines and a good part more, the works' own
// level included.
LevelRange rangeAround(const works::Shape& shape, const ground::Tin& under);

// The costs at `count` levels spread evenly from low to high. REQUIRES: count >= 2. Throws Cancelled.
std::vector<LevelCost> levelCurve(const CostAt& cost, double low, double high, int count, const Progress& progress);

}  // namespace inselberg::balance
