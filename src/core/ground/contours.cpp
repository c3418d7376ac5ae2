// Triangles are sorted by the levels they span; each level is then traced through the neighbours, in parallel over the
// levels. "At the level counts as above" makes every crossed triangle have exactly two crossed sides, so a trace never
// branches.
#include "ground/contours.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "base/parallel.h"
#include "base/quantity.h"

namespace inselberg::ground {
namespace {

// The point of a side at the level. The order of the ends does not depend on which triangle asks.
Vec2 crossing(const Tin& tin, Index a, Index b, double level) {
  if (a > b) std::swap(a, b);
  const Vec3 &p = tin.points()[a], &q = tin.points()[b];
  const double t = (level - p.z) / (q.z - p.z);
  return {p.x + t * (q.x - p.x), p.y + t * (q.y - p.y)};
}

class Tracer {
 public:
  Tracer(const Tin& tin, double level, std::vector<std::uint32_t>& seen, std::uint32_t epoch)
      : tin_(tin), level_(level), seen_(seen), epoch_(epoch) {}

  void trace(Index start, std::vector<Contour>& out) {
    if (seen_[start] == epoch_) return;
    // The side by which the contour enters with high ground on its left: from a point above to one below, walked
    // counter-clockwise round the triangle.
    Contour contour{level_, false, {}};
    // Back to the border, or once around.
    Index t = start;
    int enter = side(t, true);
    while (true) {
      const Index previous = tin_.neighbours()[t][enter];
      if (previous == kNone) break;
      t = previous;
      if (t == start) break;
      enter = side(t, true);
    }
    const Index first = t;
    enter = side(t, true);
    const bool ring = tin_.neighbours()[t][enter] != kNone;
    if (!ring) push(contour.points, t, enter);
    while (true) {
      seen_[t] = epoch_;
      const int leave = side(t, false);
      push(contour.points, t, leave);
      const Index following = tin_.neighbours()[t][leave];
      if (following == kNone || following == first) break;
      t = following;
    }
    contour.closed = ring;
    if (ring) {
      while (contour.points.size() > 1 && contour.points.front() == contour.points.back()) contour.points.pop_back();
    }
    if (contour.points.size() >= (ring ? 3u : 2u)) out.push_back(std::move(contour));
  }

 private:
  bool above(Index v) const { return tin_.points()[v].z >= level_; }

  // The crossed side by which the contour enters (or leaves) the triangle. Walking counter-clockwise, the contour
  // leaves through the side that goes from below to above: the high ground is then on its left.
  int side(Index t, bool entering) const {
    const Triangle& c = tin_.triangles()[t];
    for (int k = 0; k < 3; ++k) {
      const bool from = above(c[next(k)]), to = above(c[before(k)]);
      if (from != to && from == entering) return k;
    }
    return 0;  // not reached: a crossed triangle has both
  }

  void push(std::vector<Vec2>& points, Index t, int k) const {
    const Triangle& c = tin_.triangles()[t];
    const Vec2 p = crossing(tin_, c[next(k)], c[before(k)], level_);
    if (points.empty() || !(points.back() == p)) points.push_back(p);
  }

  const Tin& tin_;
  double level_;
  std::vector<std::uint32_t>& seen_;
  std::uint32_t epoch_;
};

}  // namespace

double proposedInterval(const Tin& tin, const Measures& measures) {
  return roundLength(std::max(tin.maxLevel() - tin.minLevel(), 0.01) / 30, measures);
}

bool isIndexLevel(double level, double interval) {
  return std::abs(std::remainder(level, 5 * interval)) < interval / 10;
}

int decimalsOf(double interval) {
  int decimals = 0;
  for (double v = interval; decimals < 3 && std::abs(v - std::round(v)) > 1e-6; v *= 10) ++decimals;
  return decimals;
}

std::vector<double> contourLevels(const Tin& tin, double interval) {
  std::vector<double> levels;
  if (tin.empty()) return levels;
  const double first = std::floor(tin.minLevel() / interval) + 1, last = std::floor(tin.maxLevel() / interval);
  if (last - first > 1e5) {
    throw Error(fmt::format("an interval of {:g} m gives {:.3g} contour levels", interval, last - first + 1),
                "choose a larger interval");
  }
  for (double k = first; k <= last; ++k) levels.push_back(k * interval);
  return levels;
}

std::vector<Contour> contours(const Tin& tin, std::span<const double> levels, const Progress& progress) {
  std::vector<double> sorted(levels.begin(), levels.end());
  std::sort(sorted.begin(), sorted.end());
  sorted.erase(std::unique(sorted.begin(), sorted.end()), sorted.end());
  // Levels L with low < L <= high cross a triangle.
  const auto range = [&](Index t) {
    const Triangle& c = tin.triangles()[t];
    const double a = tin.points()[c[0]].z, b = tin.points()[c[1]].z, d = tin.points()[c[2]].z;
    const auto first = std::upper_bound(sorted.begin(), sorted.end(), std::min({a, b, d}));
    const auto last = std::upper_bound(first, sorted.end(), std::max({a, b, d}));
    return std::pair(static_cast<std::size_t>(first - sorted.begin()), static_cast<std::size_t>(last - sorted.begin()));
  };
  std::vector<std::size_t> starts(sorted.size() + 1, 0);
  const Index n = static_cast<Index>(tin.triangles().size());
  for (Index t = 0; t < n; ++t) {
    const auto [first, last] = range(t);
    for (std::size_t l = first; l < last; ++l) ++starts[l + 1];
  }
  for (std::size_t l = 1; l < starts.size(); ++l) starts[l] += starts[l - 1];
  std::vector<Index> members(starts.back());
  {
    std::vector<std::size_t> cursor(starts.begin(), starts.end() - 1);
    for (Index t = 0; t < n; ++t) {
      const auto [first, last] = range(t);
      for (std::size_t l = first; l < last; ++l) members[cursor[l]++] = t;
    }
  }
  progress.check();
  std::vector<std::vector<Contour>> perLevel(sorted.size());
  const std::size_t chunk = std::max<std::size_t>(1, sorted.size() / 8);
  parallelChunks(sorted.size(), chunk, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    std::vector<std::uint32_t> seen(n, 0);
    for (std::size_t l = begin; l < end; ++l) {
      progress.check();
      Tracer tracer(tin, sorted[l], seen, static_cast<std::uint32_t>(l - begin + 1));
      for (std::size_t i = starts[l]; i < starts[l + 1]; ++i) tracer.trace(members[i], perLevel[l]);
    }
  });
  std::vector<Contour> all;
  for (auto& list : perLevel) std::move(list.begin(), list.end(), std::back_inserter(all));
  return all;
}

}  // namespace inselberg::ground
