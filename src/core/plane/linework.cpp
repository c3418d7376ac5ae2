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

// The vertices from a number on, sorted into a grid of about one a cell. It keeps what it was made from only by name.
class Linework::VertexGrid {
 public:
  VertexGrid(const std::vector<Vec2>& points, Index first, double tolerance) : points_(points), tolerance_(tolerance) {
    for (Index i = first; i < points.size(); ++i) box_.add(points[i]);
    if (box_.empty()) return;
    const double n = static_cast<double>(points.size() - first);
    size_ = std::max({std::sqrt(std::max(box_.width(), 1e-9) * std::max(box_.height(), 1e-9) / n),
                      std::max(box_.width(), box_.height()) / 2000, 4 * tolerance});
    columns_ = column(box_.maxX) + 1, rows_ = row(box_.maxY) + 1;
    starts_.assign(static_cast<std::size_t>(columns_ * rows_) + 1, 0);
    const auto cell = [&](Vec2 p) { return static_cast<std::size_t>(row(p.y) * columns_ + column(p.x)); };
    for (Index i = first; i < points.size(); ++i) ++starts_[cell(points[i]) + 1];
    for (std::size_t i = 1; i < starts_.size(); ++i) starts_[i] += starts_[i - 1];
    sorted_.resize(points.size() - first);
    std::vector<Index> fillAt(starts_.begin(), starts_.end() - 1);
    for (Index i = first; i < points.size(); ++i) sorted_[fillAt[cell(points[i])]++] = i;
  }

  // Calls f(vertex, how far along) for those within the tolerance of the segment, but for its ends.
  template <class F>
  void along(const Segment& s, F&& f) const {
    if (box_.empty()) return;
    const Vec2 a = points_[s.a], b = points_[s.b];
    const std::int64_t row0 = std::max<std::int64_t>(0, row(std::min(a.y, b.y) - tolerance_));
    const std::int64_t row1 = std::min(rows_ - 1, row(std::max(a.y, b.y) + tolerance_));
    for (std::int64_t r = row0; r <= row1; ++r) {
      // The part of the segment inside this row of cells, a little more to be safe.
      double x0 = std::min(a.x, b.x), x1 = std::max(a.x, b.x);
      if (a.y != b.y) {
        const double yLow = box_.minY + static_cast<double>(r) * size_ - tolerance_;
        const double yHigh = yLow + size_ + 2 * tolerance_;
        const double ta = std::clamp((yLow - a.y) / (b.y - a.y), 0.0, 1.0);
        const double tb = std::clamp((yHigh - a.y) / (b.y - a.y), 0.0, 1.0);
        const double xa = a.x + ta * (b.x - a.x), xb = a.x + tb * (b.x - a.x);
        x0 = std::max(x0, std::min(xa, xb));
        x1 = std::min(x1, std::max(xa, xb));
      }
      const std::int64_t c0 = std::max<std::int64_t>(0, column(x0 - tolerance_));
      const std::int64_t c1 = std::min(columns_ - 1, column(x1 + tolerance_));
      for (std::int64_t c = c0; c <= c1; ++c) {
        const std::size_t here = static_cast<std::size_t>(r * columns_ + c);
        for (Index i = starts_[here]; i < starts_[here + 1]; ++i) {
          const Index v = sorted_[i];
          if (v == s.a || v == s.b) continue;
          const Nearest near = nearestOnSegment(points_[v], a, b);
          if (near.distance <= tolerance_) f(v, near.along);
        }
      }
    }
  }

 private:
  // Rounds down from -1 on, as what is before the grid is cut off there.
  std::int64_t column(double x) const { return static_cast<std::int64_t>((x - box_.minX) / size_); }
  std::int64_t row(double y) const { return static_cast<std::int64_t>((y - box_.minY) / size_); }

  const std::vector<Vec2>& points_;
  const double tolerance_;
  Box box_;
  double size_ = 1;
  std::int64_t columns_ = 0, rows_ = 0;
  std::vector<Index> starts_, sorted_;
};

void Linework::node() {
  for (Segment& s : segments_) s.tags |= kCut;
  splitAtVertices(0);
  merge();
  for (Segment& s : segments_) s.tags &= ~kCut;
}

void Linework::splitAtVertices(Index firstNew) {
  const VertexGrid all(points_, 0, tolerance_), added(points_, firstNew, tolerance_);
  const auto parted =
      parallelMap<std::vector<Segment>>(segments_.size(), kChunk, {}, [&](std::size_t begin, std::size_t end) {
        std::vector<Segment> parts;
        std::vector<std::pair<double, Index>> on;
        for (std::size_t k = begin; k < end; ++k) {
          const Segment& s = segments_[k];
          on.clear();
          (s.tags & kCut ? all : added).along(s, [&](Index v, double along) { on.emplace_back(along, v); });
          if (on.empty()) {
            parts.push_back(s);
            continue;
          }
          std::sort(on.begin(), on.end());
          Index from = s.a;
          for (const auto& [along, v] : on) {
            if (v != from) parts.push_back({from, v, s.tags | kCut});
            from = v;
          }
          if (from != s.b) parts.push_back({from, s.b, s.tags | kCut});
        }
        return parts;
      });
  segments_.clear();
  for (const auto& parts : parted) segments_.insert(segments_.end(), parts.begin(), parts.end());
}

void Linework::merge() {
  std::vector<Segment> all = std::move(segments_);
  for (Segment& s : all) {
    if (s.a > s.b) std::swap(s.a, s.b);
  }
  std::sort(all.begin(), all.end(),
            [](const Segment& x, const Segment& y) { return std::pair(x.a, x.b) < std::pair(y.a, y.b); });
  segments_.clear();
  for (const Segment& s : all) {
    if (!segments_.empty() && segments_.back().a == s.a && segments_.back().b == s.b) {
      segments_.back().tags |= s.tags;
    } else {
      segments_.push_back(s);
    }
  }
}

// A vertex moved by merging may make new crossings: again, until there is none. What stayed whole has only to be looked
// at for what is new.
void Linework::nodeCrossings() {
  constexpr int kMostRounds = 8;
  node();
  for (Segment& s : segments_) s.tags |= kCut;
  for (int round = 0; round < kMostRounds; ++round) {
    const Index firstNew = static_cast<Index>(points_.size());
    if (!splitAtCrossings()) return;
    splitAtVertices(firstNew);
    merge();
  }
  for (Segment& s : segments_) s.tags &= ~kCut;
}

bool Linework::splitAtCrossings() {
  std::vector<Segment2> all, cut;
  std::vector<Index> numbers;  // of those with the tag
  for (Index k = 0; k < segments_.size(); ++k) {
    all.push_back({points_[segments_[k].a], points_[segments_[k].b]});
    if (segments_[k].tags & kCut) numbers.push_back(k), cut.push_back(all.back());
  }
  const SegmentIndex index(cut);
  struct Crossing {
    Index i, j;
    double along;  // of i
  };
  const auto found =
      parallelMap<std::vector<Crossing>>(all.size(), kChunk, {}, [&](std::size_t begin, std::size_t end) {
        std::vector<Crossing> here;
        for (Index j = static_cast<Index>(begin); j < end; ++j) {
          index.near(all[j], 0, [&](Index n) {
            const Index i = numbers[n];
            const Segment &s = segments_[i], &t = segments_[j];
            if ((j <= i && t.tags & kCut) || s.a == t.a || s.a == t.b || s.b == t.a || s.b == t.b) return;
            if (const auto along = crossingAlong(all[i].a, all[i].b, all[j].a, all[j].b))
              here.push_back({i, j, *along});
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
  bool any = false;
  for (Index i = 0; i < all.size(); ++i) {
    Segment rest = segments_[i];
    rest.tags = cuts[i].empty() ? rest.tags & ~kCut : rest.tags | kCut;
    any |= !cuts[i].empty();
    std::sort(cuts[i].begin(), cuts[i].end());
    for (const auto& [along, p] : cuts[i]) {
      if (p != rest.a) split.push_back({rest.a, p, rest.tags});
      rest.a = p;
    }
    if (rest.a != rest.b) split.push_back(rest);
  }
  segments_ = std::move(split);
  return any;
}

}  // namespace inselberg::plane
