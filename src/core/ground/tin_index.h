// A grid of cells over a Tin that lists the triangles touching each cell: point location and overlap queries that work
// whatever the shape of the border.
#pragma once

#include <algorithm>
#include <cmath>
#include <memory>
#include <span>
#include <vector>

#include "ground/tin.h"

namespace inselberg::ground {

class TinIndex {
 public:
  explicit TinIndex(const Tin& tin);
  // For a ground within the bounds of another that triangles `changed` alone are not as in the other's list: few are
  // gone through besides what the other's grid has, for many that is copied where they are not.
  TinIndex(const Tin& tin, const Tin& other, std::span<const Index> changed);

  // Calls f(triangle) for every triangle that may hold p; at least all that do.
  template <class F>
  void near(Vec2 p, F&& f) const {
    if (!reach_.contains(p)) return;
    const int c = std::clamp(column(p.x), 0, columns_ - 1), r = std::clamp(row(p.y), 0, rows_ - 1);
    each(r, c, c, f);
    for (const Index t : besides_) f(t);
  }

  // Calls f(triangle) for every triangle that may touch the convex shape with these corners (one, two or more), grown
  // by `margin`. The same triangle may come several times.
  template <class F>
  void touching(std::span<const Vec2> convex, double margin, F&& f) const {
    rows(convex, margin, [&](int r, int c0, int c1) { each(r, c0, c1, f); });
    for (const Index t : besides_) f(t);
  }
  // Whether its cells are small enough for so many triangles.
  bool suits(std::size_t triangles) const { return triangles <= 4 * cells_; }

  std::size_t bytes() const { return (grid_->starts.size() + grid_->entries.size()) * sizeof(Index); }

 private:
  // Adding two before cutting off the fraction makes it round down from -2 on.
  int column(double x) const { return static_cast<int>(std::clamp((x - minX_) * perSize_ + 2, 0.0, 1e9)) - 2; }
  int row(double y) const { return static_cast<int>(std::clamp((y - minY_) * perSize_ + 2, 0.0, 1e9)) - 2; }

  template <class F>
  void each(int r, int c0, int c1, F&& f) const {
    const std::size_t base = static_cast<std::size_t>(r) * columns_;
    const Index* entries = grid_->entries.data();
    for (Index i = grid_->starts[base + c0], end = grid_->starts[base + c1 + 1]; i < end; ++i) {
      if (entries[i] < count_) f(entries[i]);
    }
  }

  // Calls f(row, firstColumn, lastColumn) for the cells the grown convex shape touches.
  template <class F>
  void rows(std::span<const Vec2> convex, double margin, F&& f) const {
    if (cells_ == 0) return;
    double low = convex[0].y, high = convex[0].y;
    for (const Vec2 p : convex) low = std::min(low, p.y), high = std::max(high, p.y);
    const int r0 = std::max(0, row(low - margin)), r1 = std::min(rows_ - 1, row(high + margin));
    if (r1 - r0 <= 1) {  // the box is close enough
      double x0 = convex[0].x, x1 = x0;
      for (const Vec2 p : convex) x0 = std::min(x0, p.x), x1 = std::max(x1, p.x);
      const int c0 = std::max(0, column(x0 - margin)), c1 = std::min(columns_ - 1, column(x1 + margin));
      for (int r = r0; r <= r1 && c0 <= c1; ++r) f(r, c0, c1);
      return;
    }
    for (int r = r0; r <= r1; ++r) {
      double x0 = 0, x1 = 0;
      span(convex, minY_ + r * size_ - margin, minY_ + (r + 1) * size_ + margin, x0, x1);
      const int c0 = std::max(0, column(x0 - margin)), c1 = std::min(columns_ - 1, column(x1 + margin));
      if (c0 <= c1) f(r, c0, c1);
    }
  }

  // Calls f(cell) for the cells the triangle touches.
  template <class F>
  void cellsOf(const Tin& tin, Index t, F&& f) const;
  void fillAnew(const Tin& tin, const Tin& other, std::span<const Index> changed);

  // The range of x of the convex shape within yLow..yHigh; empty (x0 > x1) when it does not reach there.
  static void span(std::span<const Vec2> convex, double yLow, double yHigh, double& x0, double& x1);

  Box reach_;  // the bounds, and the tolerance of a place beside them
  double minX_ = 0, minY_ = 0, size_ = 1, perSize_ = 1;
  int columns_ = 0, rows_ = 0;
  std::size_t cells_ = 0;
  struct Grid {
    std::vector<Index> starts;
    std::vector<Index> entries;
  };
  std::shared_ptr<const Grid> grid_ = std::make_shared<Grid>();
  std::vector<Index> besides_;
  Index count_ = kNone;
};

}  // namespace inselberg::ground
