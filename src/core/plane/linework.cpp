// Vertices are merged through a hash of cells two tolerances wide: a partner lies in one of four.
// Segments are split by sorting the vertices into a coarse grid of about one vertex a cell, and walking the cells each
// segment passes.
#include "plane/linework.h"

#include <algorithm>
#include <cmath>

#include "base/parallel.h"
#include "plane/static_index.h"

namespace inselberg::plane {
namespace {

constexpr std::size_t kChunk = 512;  // segments that one core looks at in a go

std::uint64_t mix(std::int64_t i, std::int64_t j) {
  std::uint64_t h = static_cast<std::uint64_t>(i) * 0x9E3779B97F4A7C15ULL;
  h ^= static_cast<std::uint64_t>(j) + 0x9E3779B97F4A7C15ULL + (h << 6) + (h >> 2);
  h *= 0xBF58476D1CE4E5B9ULL;
  return h ^ (h >> 29);
}

}  // namespace

Linework::Index Linework::addPoint(Vec2 p) {
  if (2 * (points_.size() + 1) > slots_.size()) growSlots();
  // Cells are two tolerances wide, so a partner lies in the point's own or in those next to its nearer sides.
  const double size = 2 * tolerance_, x = std::floor(p.x / size), y = std::floor(p.y / size);
  const auto i = static_cast<std::int64_t>(x), j = static_cast<std::int64_t>(y);
  const std::int64_t besideI = p.x / size - x < 0.5 ? i - 1 : i + 1, besideJ = p.y / size - y < 0.5 ? j - 1 : j + 1;
  const std::uint64_t own = mix(i, j);
  for (const std::uint64_t cell : {own, mix(besideI, j), mix(i, besideJ), mix(besideI, besideJ)}) {
    for (std::size_t k = cell & (slots_.size() - 1); slots_[k].point != kFree; k = (k + 1) & (slots_.size() - 1)) {
      if (slots_[k].cell == cell && distance(points_[slots_[k].point], p) <= tolerance_) return slots_[k].point;
    }
  }
  const Index index = static_cast<Index>(points_.size());
  points_.push_back(p);
  take({own, index});
  return index;
}

void Linework::take(Slot slot) {
  std::size_t k = slot.cell & (slots_.size() - 1);
  while (slots_[k].point != kFree) k = (k + 1) & (slots_.size() - 1);
  slots_[k] = slot;
}

void Linework::growSlots() {
  std::vector<Slot> old(std::max<std::size_t>(256, 2 * slots_.size()), Slot{0, kFree});
  old.swap(slots_);
  for (const Slot& slot : old) {
    if (slot.point != kFree) take(slot);
  }
}

void Linework::addSegment(Vec2 a, Vec2 b, std::uint32_t tags) {
  const Index ia = addPoint(a);
  addSegment(ia, addPoint(b), tags);
}

void Linework::addSegment(Index a, Index b, std::uint32_t tags) {
  if (a != b) segments_.push_back({a, b, tags});
}

void Linework::node() {
  Box box;
  for (const Vec2 p : points_) box.add(p);
  if (box.empty()) return;
  const double n = static_cast<double>(points_.size());
  const double size = std::max({std::sqrt(std::max(box.width(), 1e-9) * std::max(box.height(), 1e-9) / n),
                                std::max(box.width(), box.height()) / 2000, 4 * tolerance_});
  const auto column = [&](double x) { return static_cast<std::int64_t>((x - box.minX) / size); };
  const auto row = [&](double y) { return static_cast<std::int64_t>((y - box.minY) / size); };
  const std::int64_t columns = column(box.maxX) + 1, rows = row(box.maxY) + 1;
  std::vector<Index> starts(static_cast<std::size_t>(columns * rows) + 1, 0);
  const auto cell = [&](Vec2 p) { return static_cast<std::size_t>(row(p.y) * columns + column(p.x)); };
  for (const Vec2 p : points_) ++starts[cell(p) + 1];
  for (std::size_t i = 1; i < starts.size(); ++i) starts[i] += starts[i - 1];
  std::vector<Index> sorted(points_.size());
  std::vector<Index> fillAt(starts.begin(), starts.end() - 1);
  for (Index i = 0; i < points_.size(); ++i) sorted[fillAt[cell(points_[i])]++] = i;

  const auto parted =
      parallelMap<std::vector<Segment>>(segments_.size(), kChunk, {}, [&](std::size_t begin, std::size_t end) {
        std::vector<Segment> parts;
        std::vector<std::pair<double, Index>> on;
        for (std::size_t k = begin; k < end; ++k) {
          const Segment& s = segments_[k];
          const Vec2 a = points_[s.a], b = points_[s.b];
          on.clear();
          const std::int64_t row0 = std::max<std::int64_t>(0, row(std::min(a.y, b.y) - tolerance_));
          const std::int64_t row1 = std::min(rows - 1, row(std::max(a.y, b.y) + tolerance_));
          for (std::int64_t r = row0; r <= row1; ++r) {
            // The part of the segment inside this row of cells, a little more to be safe.
            double x0 = std::min(a.x, b.x), x1 = std::max(a.x, b.x);
            if (a.y != b.y) {
              const double yLow = box.minY + static_cast<double>(r) * size - tolerance_;
              const double yHigh = yLow + size + 2 * tolerance_;
              const double ta = std::clamp((yLow - a.y) / (b.y - a.y), 0.0, 1.0);
              const double tb = std::clamp((yHigh - a.y) / (b.y - a.y), 0.0, 1.0);
              const double xa = a.x + ta * (b.x - a.x), xb = a.x + tb * (b.x - a.x);
              x0 = std::max(x0, std::min(xa, xb));
              x1 = std::min(x1, std::max(xa, xb));
            }
            const std::int64_t c0 = std::max<std::int64_t>(0, column(x0 - tolerance_));
            const std::int64_t c1 = std::min(columns - 1, column(x1 + tolerance_));
            for (std::int64_t c = c0; c <= c1; ++c) {
              const std::size_t here = static_cast<std::size_t>(r * columns + c);
              for (Index i = starts[here]; i < starts[here + 1]; ++i) {
                const Index v = sorted[i];
                if (v == s.a || v == s.b) continue;
                const Nearest near = nearestOnSegment(points_[v], a, b);
                if (near.distance <= tolerance_) on.emplace_back(near.along, v);
              }
            }
          }
          std::sort(on.begin(), on.end());
          Index from = s.a;
          for (const auto& [along, v] : on) {
            if (v != from) parts.push_back({from, v, s.tags});
            from = v;
          }
          if (from != s.b) parts.push_back({from, s.b, s.tags});
        }
        return parts;
      });
  std::vector<Segment> split;
  for (const auto& parts : parted) split.insert(split.end(), parts.begin(), parts.end());
  for (Segment& s : split) {
    if (s.a > s.b) std::swap(s.a, s.b);
  }
  std::sort(split.begin(), split.end(),
            [](const Segment& x, const Segment& y) { return std::pair(x.a, x.b) < std::pair(y.a, y.b); });
  segments_.clear();
  for (const Segment& s : split) {
    if (!segments_.empty() && segments_.back().a == s.a && segments_.back().b == s.b) {
      segments_.back().tags |= s.tags;
    } else {
      segments_.push_back(s);
    }
  }
}

// A vertex moved by merging may make new crossings: again, until there is none.
void Linework::nodeCrossings() {
  constexpr int kMostRounds = 8;
  node();
  Index firstNew = 0;
  for (int round = 0; round < kMostRounds; ++round) {
    const Index count = static_cast<Index>(points_.size());
    if (!splitAtCrossings(firstNew)) return;
    firstNew = count;
    node();
  }
}

bool Linework::splitAtCrossings(Index firstNew) {
  std::vector<Segment2> all;
  for (const Segment& s : segments_) all.push_back({points_[s.a], points_[s.b]});
  const SegmentIndex index(all);
  const auto isNew = [&](Index k) { return segments_[k].a >= firstNew || segments_[k].b >= firstNew; };
  struct Crossing {
    Index i, j;
    double along;  // of i
  };
  const auto found =
      parallelMap<std::vector<Crossing>>(all.size(), kChunk, {}, [&](std::size_t begin, std::size_t end) {
        std::vector<Crossing> here;
        for (Index i = static_cast<Index>(begin); i < end; ++i) {
          if (!isNew(i)) continue;
          const Segment2 own = all[i];
          index.near(own, 0, [&](Index j) {
            const Segment &s = segments_[i], &t = segments_[j];
            if ((j <= i && isNew(j)) || s.a == t.a || s.a == t.b || s.b == t.a || s.b == t.b) return;
            if (const auto along = crossingAlong(own.a, own.b, all[j].a, all[j].b)) here.push_back({i, j, *along});
          });
        }
        return here;
      });
  std::vector<std::vector<std::pair<double, Index>>> cuts(all.size());
  for (const auto& here : found) {
    for (const auto& [i, j, along] : here) {
      const Segment &s = segments_[i], &t = segments_[j];
      const Index p = addPoint(all[i].a + along * (all[i].b - all[i].a));
      if (p != s.a && p != s.b) cuts[i].emplace_back(along, p);
      if (p != t.a && p != t.b) cuts[j].emplace_back(nearestOnSegment(points_[p], all[j].a, all[j].b).along, p);
    }
  }
  std::vector<Segment> split;
  bool cut = false;
  for (Index i = 0; i < all.size(); ++i) {
    std::sort(cuts[i].begin(), cuts[i].end());
    Index from = segments_[i].a;
    for (const auto& [along, p] : cuts[i]) {
      if (p != from) split.push_back({from, p, segments_[i].tags});
      from = p;
      cut = true;
    }
    if (from != segments_[i].b) split.push_back({from, segments_[i].b, segments_[i].tags});
  }
  segments_ = std::move(split);
  return cut;
}

}  // namespace inselberg::plane
