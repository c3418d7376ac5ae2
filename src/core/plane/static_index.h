// A static tree over points or segments: which of them lie near a place or along a segment.
//
// Method. Items are split at the median of their middles along the longer side, again and again, down to leaves of a
// few; every node keeps the box of its items. The split follows the items, not the plane, so one stray item far away or
// a dense cluster costs nothing. A search by a segment goes into the nodes the segment itself comes near, not into all
// in its box, so a long oblique one stays cheap.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>
#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

#include "base/parallel.h"
#include "plane/geometry.h"

namespace inselberg::plane {

struct Segment2 {
  Vec2 a, b;
};

// 0 where they cross; either may be a point.
inline double distanceBetween(const Segment2& s, const Segment2& t) {
  if (crossingAlong(s.a, s.b, t.a, t.b)) return 0;
  return std::min({nearestOnSegment(s.a, t.a, t.b).distance, nearestOnSegment(s.b, t.a, t.b).distance,
                   nearestOnSegment(t.a, s.a, s.b).distance, nearestOnSegment(t.b, s.a, s.b).distance});
}

inline Box boxOf(Vec2 p) {
  return {p.x, p.y, p.x, p.y};
}
inline Box boxOf(const Segment2& s) {
  return {std::min(s.a.x, s.b.x), std::min(s.a.y, s.b.y), std::max(s.a.x, s.b.x), std::max(s.a.y, s.b.y)};
}

// Whether the segment comes within `margin` of the box, measured along the axes and square to the segment: true for all
// that do, and for few that do not.
inline bool comesNear(const Segment2& s, const Box& box, double margin) {
  const Box own = boxOf(s);
  if (own.minX > box.maxX + margin || own.maxX < box.minX - margin || own.minY > box.maxY + margin ||
      own.maxY < box.minY - margin)
    return false;
  const Vec2 d = s.b - s.a, middle = box.centre() - s.a;
  const double reach = std::abs(d.x) * (box.height() / 2 + margin) + std::abs(d.y) * (box.width() / 2 + margin);
  // The slack covers rounding where coordinates are large.
  return std::abs(cross(d, middle)) <=
         reach * (1 + 1e-12) + 1e-12 * (std::abs(d.x * middle.y) + std::abs(d.y * middle.x));
}

// Items are numbered in the order they were given.
template <class Item>
class StaticIndex {
 public:
  using Index = std::uint32_t;

  StaticIndex() = default;
  explicit StaticIndex(std::span<const Item> items) {
    if (items.empty()) return;
    entries_.reserve(items.size());
    for (Index i = 0; i < items.size(); ++i) entries_.push_back({items[i], i});
    std::size_t leaves = 1;
    while (leaves * kLeaf < items.size()) leaves *= 2;
    boxes_.resize(2 * leaves);
    build(0, 0, entries_.size());
  }

  std::size_t size() const { return entries_.size(); }

  // Calls f(number) for every item that may come within `margin` of the segment; at least for all that do.
  template <class F>
  void near(const Segment2& segment, double margin, F&& f) const {
    if (entries_.empty()) return;
    struct Open {
      std::size_t node, begin, end;
    };
    std::array<Open, 64> stack;  // deeper than any tree of 2^32 items
    std::size_t open = 0;
    stack[open++] = {0, 0, entries_.size()};
    while (open > 0) {
      const auto [node, begin, end] = stack[--open];
      if (!comesNear(segment, boxes_[node], margin)) continue;
      if (end - begin <= kLeaf) {
        for (std::size_t i = begin; i < end; ++i) {
          if (comesNear(segment, boxOf(entries_[i].item), margin)) f(entries_[i].number);
        }
        continue;
      }
      const std::size_t middle = (begin + end) / 2;
      stack[open++] = {2 * node + 2, middle, end};
      stack[open++] = {2 * node + 1, begin, middle};
    }
  }
  template <class F>
  void near(Vec2 p, double margin, F&& f) const {
    near(Segment2{p, p}, margin, std::forward<F>(f));
  }

 private:
  static constexpr std::size_t kLeaf = 8;
  struct Entry {
    Item item;
    Index number;
  };

  void build(std::size_t node, std::size_t begin, std::size_t end) {
    Box box, middles;
    for (std::size_t i = begin; i < end; ++i) {
      const Box own = boxOf(entries_[i].item);
      box.add(own);
      middles.add(own.centre());
    }
    boxes_[node] = box;
    if (end - begin <= kLeaf) return;
    const std::size_t middle = (begin + end) / 2;
    const bool wide = middles.width() >= middles.height();
    std::nth_element(entries_.begin() + static_cast<std::ptrdiff_t>(begin),
                     entries_.begin() + static_cast<std::ptrdiff_t>(middle),
                     entries_.begin() + static_cast<std::ptrdiff_t>(end), [wide](const Entry& x, const Entry& y) {
                       const Vec2 a = boxOf(x.item).centre(), b = boxOf(y.item).centre();
                       return wide ? a.x < b.x : a.y < b.y;
                     });
    const auto left = [&] { build(2 * node + 1, begin, middle); };
    const auto right = [&] { build(2 * node + 2, middle, end); };
    if (end - begin > 20'000) {
      parallelInvoke(left, right);
    } else {
      left();
      right();
    }
  }

  std::vector<Entry> entries_;
  std::vector<Box> boxes_;  // node i has its parts at 2i + 1 and 2i + 2
};

using PointIndex = StaticIndex<Vec2>;
using SegmentIndex = StaticIndex<Segment2>;

}  // namespace inselberg::plane
