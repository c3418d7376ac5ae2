// Vertices are merged through a hash of cells two tolerances wide: a partner lies in one of four.
// Segments are split by sorting the vertices into cells, about one in each, and walking the cells each segment passes;
// crossings are looked for in each cell among the segments that pass it. Cells with many in them are divided again, so
// that a dense cluster and a stray item far away cost nothing.
#include "plane/linework.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <unordered_map>

#include "base/parallel.h"
#include "plane/static_index.h"

namespace inselberg::plane {
namespace {

constexpr std::size_t kChunk = 512;  // segments or cells that one core looks at in a go
constexpr std::size_t kMany = 64;    // in a cell: it is divided again
constexpr int kDeepest = 6;          // cells within cells; beyond, all lies in one place

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

namespace {

// Square cells over a box.
class Cells {
 public:
  Cells() = default;
  // About so many; `margin` is how far off a segment what it passes may lie.
  Cells(const Box& box, double number, double margin) : box_(box), margin_(margin) {
    size_ = std::max({std::sqrt(std::max(box_.width(), 1e-9) * std::max(box_.height(), 1e-9) / number),
                      std::max(box_.width(), box_.height()) / 2000, 4 * margin});
    columns_ = column(box_.maxX) + 1, rows_ = row(box_.maxY) + 1;
  }

  // A cell, and what is counted to it beside it.
  Box boxOf(std::size_t cell) const {
    const auto c = static_cast<double>(static_cast<std::int64_t>(cell) % columns_),
               r = static_cast<double>(static_cast<std::int64_t>(cell) / columns_);
    return Box{box_.minX + c * size_, box_.minY + r * size_, box_.minX + (c + 1) * size_, box_.minY + (r + 1) * size_}
        .grown(margin_);
  }
  std::size_t count() const { return static_cast<std::size_t>(columns_ * rows_); }
  std::size_t at(Vec2 p) const { return static_cast<std::size_t>(row(p.y) * columns_ + column(p.x)); }

  // Calls f(cell) for those that a segment passes.
  template <class F>
  void along(Vec2 a, Vec2 b, F&& f) const {
    const std::int64_t row0 = std::max<std::int64_t>(0, row(std::min(a.y, b.y) - margin_));
    const std::int64_t row1 = std::min(rows_ - 1, row(std::max(a.y, b.y) + margin_));
    for (std::int64_t r = row0; r <= row1; ++r) {
      // The part of the segment inside this row of cells, a little more to be safe.
      double x0 = std::min(a.x, b.x), x1 = std::max(a.x, b.x);
      if (row0 != row1) {
        const double yLow = box_.minY + static_cast<double>(r) * size_ - margin_;
        const double yHigh = yLow + size_ + 2 * margin_;
        const double ta = std::clamp((yLow - a.y) / (b.y - a.y), 0.0, 1.0);
        const double tb = std::clamp((yHigh - a.y) / (b.y - a.y), 0.0, 1.0);
        const double xa = a.x + ta * (b.x - a.x), xb = a.x + tb * (b.x - a.x);
        x0 = std::max(x0, std::min(xa, xb));
        x1 = std::min(x1, std::max(xa, xb));
      }
      const std::int64_t c0 = std::max<std::int64_t>(0, column(x0 - margin_));
      const std::int64_t c1 = std::min(columns_ - 1, column(x1 + margin_));
      for (std::int64_t c = c0; c <= c1; ++c) f(static_cast<std::size_t>(r * columns_ + c));
    }
  }

 private:
  // Rounds down from -1 on, as what is before the grid is cut off there.
  std::int64_t column(double x) const { return static_cast<std::int64_t>((x - box_.minX) / size_); }
  std::int64_t row(double y) const { return static_cast<std::int64_t>((y - box_.minY) / size_); }

  Box box_;
  double margin_ = 0, size_ = 1;
  std::int64_t columns_ = 0, rows_ = 0;
};

// Numbers sorted by the cell they are in; one may be in several.
struct Sorted {
  std::vector<std::uint32_t> starts, numbers;  // of cell c: those from starts[c] to starts[c + 1]
  Sorted() = default;
  // `in(f)` calls f(cell, number) for all, the same each time.
  template <class In>
  Sorted(std::size_t cells, In&& in) : starts(cells + 1, 0) {
    in([&](std::size_t cell, std::uint32_t) { ++starts[cell + 1]; });
    for (std::size_t i = 1; i < starts.size(); ++i) starts[i] += starts[i - 1];
    numbers.resize(starts.back());
    std::vector<std::uint32_t> fillAt(starts.begin(), starts.end() - 1);
    in([&](std::size_t cell, std::uint32_t number) { numbers[fillAt[cell]++] = number; });
  }
  std::span<const std::uint32_t> in(std::size_t cell) const {
    return {numbers.data() + starts[cell], numbers.data() + starts[cell + 1]};
  }
};

}  // namespace

// The vertices from a number on, sorted into about one cell each; a cell with many has cells of its own. It keeps what
// it was made from only by name.
class Linework::VertexGrid {
 public:
  VertexGrid(const std::vector<Vec2>& points, Index first, double tolerance) : points_(points), tolerance_(tolerance) {
    std::vector<Index> all(points.size() - first);
    std::iota(all.begin(), all.end(), first);
    sort(all, 0);
  }

  // Calls f(vertex, how far along) for those within the tolerance of the segment, but for its ends.
  template <class F>
  void along(const Segment& s, F&& f) const {
    if (vertices_.numbers.empty()) return;
    const Vec2 a = points_[s.a], b = points_[s.b];
    cells_.along(a, b, [&](std::size_t cell) {
      const auto here = vertices_.in(cell);
      if (here.size() > kMany) {
        if (const auto within = within_.find(cell); within != within_.end()) return within->second.along(s, f);
      }
      for (const Index v : here) {
        if (v == s.a || v == s.b) continue;
        const Nearest near = nearestOnSegment(points_[v], a, b);
        if (near.distance <= tolerance_) f(v, near.along);
      }
    });
  }

 private:
  VertexGrid(const std::vector<Vec2>& points, std::span<const Index> some, double tolerance, int depth)
      : points_(points), tolerance_(tolerance) {
    sort(some, depth);
  }
  void sort(std::span<const Index> vertices, int depth) {
    Box box;
    for (const Index v : vertices) box.add(points_[v]);
    if (box.empty()) return;
    cells_ = Cells(box, static_cast<double>(vertices.size()), tolerance_);
    vertices_ = Sorted(cells_.count(), [&](auto&& put) {
      for (const Index v : vertices) put(cells_.at(points_[v]), v);
    });
    for (std::size_t c = 0; c < cells_.count(); ++c) {
      const auto here = vertices_.in(c);
      if (here.size() > kMany && depth < kDeepest) within_.emplace(c, VertexGrid(points_, here, tolerance_, depth + 1));
    }
  }

  const std::vector<Vec2>& points_;
  double tolerance_;
  Cells cells_;
  Sorted vertices_;
  std::unordered_map<std::size_t, VertexGrid> within_;
};

void Linework::node() {
  merge();  // most occur twice where shapes lie side by side
  for (Segment& s : segments_) s.tags |= kCut;
  splitAtVertices(0);
  merge();
  for (Segment& s : segments_) s.tags &= ~kCut;
}

void Linework::splitAtVertices(Index firstNew) {
  // From the first on all segments have the tag.
  const VertexGrid all(points_, 0, tolerance_),
      added(points_, firstNew > 0 ? firstNew : static_cast<Index>(points_.size()), tolerance_);
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
  const Sorted byFirst(points_.size(), [&](auto&& put) {
    for (Index k = 0; k < all.size(); ++k) put(all[k].a, k);
  });
  segments_.clear();
  std::vector<Index> here;
  for (Index a = 0; a < points_.size(); ++a) {
    here.assign(byFirst.in(a).begin(), byFirst.in(a).end());
    std::ranges::sort(here, {}, [&](Index k) { return all[k].b; });
    for (const Index k : here) {
      if (!segments_.empty() && segments_.back().a == a && segments_.back().b == all[k].b) {
        segments_.back().tags |= all[k].tags;
      } else {
        segments_.push_back(all[k]);
      }
    }
  }
}

// A vertex moved by merging may make new crossings: again, until there is none. What stayed whole has only to be looked
// at for what is new.
void Linework::nodeCrossings(std::uint32_t apart) {
  constexpr int kMostRounds = 8;
  apart_ = apart;
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

// Among segments in a box, those with the tag first, cell by cell; a cell that many pass has cells of its own.
void Linework::addCrossings(std::span<const Index> among, const Box& box, int depth, std::vector<Crossing>& all) const {
  const auto place = [&](Index k) { return Segment2{points_[segments_[k].a], points_[segments_[k].b]}; };
  const auto tagged = [&](std::span<const Index> some) {
    return some.first(static_cast<std::size_t>(
        std::ranges::partition_point(some, [&](Index k) { return (segments_[k].tags & kCut) != 0; }) - some.begin()));
  };
  const Cells cells(box, static_cast<double>(among.size()), tolerance_);
  struct Passing {
    std::uint32_t cell;
    Index segment;
  };
  const auto passings =
      parallelMap<std::vector<Passing>>(among.size(), kChunk, {}, [&](std::size_t begin, std::size_t end) {
        std::vector<Passing> passing;
        passing.reserve(4 * (end - begin));
        for (std::size_t i = begin; i < end; ++i) {
          const Segment2 s = place(among[i]);
          cells.along(s.a, s.b, [&](std::size_t c) { passing.push_back({static_cast<std::uint32_t>(c), among[i]}); });
        }
        return passing;
      });
  const auto eachPassing = [&](auto&& f) {
    for (const auto& part : passings) {
      for (const Passing& p : part) f(p.cell, p.segment);
    }
  };
  // Only those that one with the tag passes are looked at, and where not all are known to keep apart.
  std::vector<char> looked(cells.count(), 0);
  std::vector<std::uint32_t> common(cells.count(), apart_);
  eachPassing([&](std::size_t cell, Index k) {
    if (segments_[k].tags & kCut) looked[cell] = 1;
    common[cell] &= segments_[k].tags;
  });
  for (std::size_t cell = 0; cell < common.size(); ++cell) {
    if (common[cell] != 0) looked[cell] = 0;
  }
  const Sorted sorted(cells.count(), [&](auto&& put) {
    eachPassing([&](std::size_t cell, Index k) {
      if (looked[cell]) put(cell, k);
    });
  });
  const auto meet = [&](Index i, Index j, std::vector<Crossing>& found) {
    const Segment &s = segments_[i], &t = segments_[j];
    if ((s.tags & t.tags & apart_) != 0 || s.a == t.a || s.a == t.b || s.b == t.a || s.b == t.b) return;
    const Segment2 own = place(i), other = place(j);
    if (!boxOf(own).overlaps(boxOf(other))) return;
    if (const auto along = crossingAlong(own.a, own.b, other.a, other.b)) found.push_back({i, j, *along});
  };
  const auto parts =
      parallelMap<std::vector<Crossing>>(cells.count(), kChunk, {}, [&](std::size_t begin, std::size_t end) {
        std::vector<Crossing> found;
        for (std::size_t c = begin; c < end; ++c) {
          const auto here = sorted.in(c);
          // Where all meet in a point dividing does not part them.
          const bool helps = depth < 2 || here.size() < among.size() / 2;
          if (here.size() > kMany && depth < kDeepest && helps) {
            Box around;
            for (const Index k : here) around.add(boxOf(place(k)));
            const Box cell = cells.boxOf(c);
            addCrossings(here,
                         {std::max(cell.minX, around.minX), std::max(cell.minY, around.minY),
                          std::min(cell.maxX, around.maxX), std::min(cell.maxY, around.maxY)},
                         depth + 1, found);
            continue;
          }
          const std::size_t cutHere = tagged(here).size();
          for (std::size_t i = 0; i < cutHere; ++i) {
            for (std::size_t j = i + 1; j < here.size(); ++j) meet(here[i], here[j], found);
          }
        }
        return found;
      });
  for (const auto& found : parts) all.insert(all.end(), found.begin(), found.end());
}

std::vector<Linework::Crossing> Linework::crossings() const {
  std::vector<Index> among;
  Box box;
  for (Index k = 0; k < segments_.size(); ++k) {
    if (!(segments_[k].tags & kCut)) continue;
    among.push_back(k);
    box.add(points_[segments_[k].a]), box.add(points_[segments_[k].b]);
  }
  for (Index k = 0; k < segments_.size(); ++k) {
    const Segment& s = segments_[k];
    if (!(s.tags & kCut) && boxOf(Segment2{points_[s.a], points_[s.b]}).overlaps(box)) among.push_back(k);
  }
  std::vector<Crossing> all;
  if (!box.empty()) addCrossings(among, box, 0, all);
  // One may be found in several cells.
  std::sort(all.begin(), all.end());
  all.erase(std::unique(all.begin(), all.end()), all.end());
  return all;
}

bool Linework::splitAtCrossings() {
  std::vector<std::vector<std::pair<double, Index>>> cuts(segments_.size());
  for (const auto& [i, j, along] : crossings()) {
    const Segment &s = segments_[i], &t = segments_[j];
    const Vec2 a = points_[s.a], b = points_[s.b];
    const Index p = addPoint(a + along * (b - a));
    if (p != s.a && p != s.b) cuts[i].emplace_back(along, p);
    if (p != t.a && p != t.b) cuts[j].emplace_back(nearestOnSegment(points_[p], points_[t.a], points_[t.b]).along, p);
  }
  std::vector<Segment> split;
  bool any = false;
  for (Index i = 0; i < segments_.size(); ++i) {
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
