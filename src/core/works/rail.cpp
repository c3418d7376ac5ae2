#include "works/rail.h"

#include <algorithm>

namespace inselberg::works {

double heightAt(const Rail& rail, double depth) {
  std::size_t k = 0;
  while (k + 2 < rail.size() && rail[k + 1].depth < depth) ++k;
  const RailPoint &p = rail[k], &q = rail[k + 1];
  return q.depth > p.depth ? p.height + (depth - p.depth) / (q.depth - p.depth) * (q.height - p.height) : p.height;
}

std::size_t stepsWithin(const Leg& leg, double sign, double reach) {
  constexpr std::size_t kMost = 400;  // benches of one batter
  if (!leg.bench) return 0;
  const double each = leg.bench->every * leg.run(sign) + leg.bench->width;
  return std::min(kMost, static_cast<std::size_t>(reach / each) + 1);
}

Rail stepsOf(const Leg& leg, double sign, double reach, std::size_t steps) {
  const double run = leg.run(sign);
  Rail rail{{0, 0}};
  if (leg.bench) {
    for (std::size_t k = 0; k < steps; ++k) {
      const RailPoint from = rail.back();
      rail.push_back({from.depth + leg.bench->every * run, from.height - leg.bench->every});
      if (leg.bench->width > 0) {
        rail.push_back({rail.back().depth + leg.bench->width,
                        rail.back().height - sign * leg.bench->fall / 100 * leg.bench->width});
      }
    }
  }
  const RailPoint last = rail.back();
  const double rest = std::max(reach - last.depth, leg.bench ? leg.bench->every * run : 0.0);
  rail.push_back({last.depth + rest, last.height - rest / run});
  return rail;
}

}  // namespace inselberg::works
