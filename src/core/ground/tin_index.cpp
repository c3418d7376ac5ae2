// Cells hold about two triangles' area each. A triangle is listed in the cells its shape touches row by row, not in all
// cells of its box, so that long thin triangles stay cheap. Two passes: count, then fill.
#include "ground/tin_index.h"

#include <array>

namespace inselberg::ground {
namespace {
constexpr double kMargin = 2e-7;  // covers the tolerance of Tin::locate
}

void TinIndex::span(std::span<const Vec2> convex, double yLow, double yHigh, double& x0, double& x1) {
  x0 = std::numeric_limits<double>::infinity();
  x1 = -x0;
  const auto take = [&](double x) { x0 = std::min(x0, x), x1 = std::max(x1, x); };
  for (std::size_t i = 0, j = convex.size() - 1; i < convex.size(); j = i++) {
    const Vec2 a = convex[j], b = convex[i];
    if (b.y >= yLow && b.y <= yHigh) take(b.x);
    for (const double y : {yLow, yHigh}) {
      if ((a.y < y) != (b.y < y)) take(a.x + (y - a.y) / (b.y - a.y) * (b.x - a.x));
    }
  }
}

TinIndex::TinIndex(const Tin& tin) {
  const auto triangles = tin.triangles();
  if (triangles.empty()) return;
  const Box& box = tin.bounds();
  reach_ = box.grown(kMargin);
  const double wanted = std::max<double>(1, static_cast<double>(triangles.size()) / 2);
  const double width = std::max(box.width(), 1e-6), height = std::max(box.height(), 1e-6);
  size_ = std::max({std::sqrt(width * height / wanted), std::max(width, height) / 8000, 1e-6});
  perSize_ = 1 / size_;
  minX_ = box.minX;
  minY_ = box.minY;
  columns_ = column(box.maxX) + 1;
  rows_ = row(box.maxY) + 1;
  cells_ = static_cast<std::size_t>(columns_) * rows_;
  auto grid = std::make_shared<Grid>();
  std::vector<Index>& starts = grid->starts;
  starts.assign(cells_ + 1, 0);
  const auto visit = [&](auto&& f) {
    for (Index t = 0; t < triangles.size(); ++t) {
      const Triangle& c = triangles[t];
      const std::array<Vec2, 3> shape{tin.plan(c[0]), tin.plan(c[1]), tin.plan(c[2])};
      rows(shape, kMargin, [&](int r, int c0, int c1) { f(t, static_cast<std::size_t>(r) * columns_, c0, c1); });
    }
  };
  visit([&](Index, std::size_t base, int c0, int c1) {
    for (int c = c0; c <= c1; ++c) ++starts[base + c + 1];
  });
  for (std::size_t i = 1; i <= cells_; ++i) starts[i] += starts[i - 1];
  grid->entries.resize(starts[cells_]);
  // Fill backwards from the ends, so that starts itself is the cursor.
  for (std::size_t i = cells_; i > 0; --i) starts[i] = starts[i - 1];
  visit([&](Index t, std::size_t base, int c0, int c1) {
    for (int c = c0; c <= c1; ++c) grid->entries[starts[base + c + 1]++] = t;
  });
  grid_ = std::move(grid);
}

TinIndex::TinIndex(const TinIndex& other, std::span<const Index> changed, Index count) : TinIndex(other) {
  besides_.insert(besides_.end(), changed.begin(), changed.end());
  std::sort(besides_.begin(), besides_.end());
  besides_.erase(std::unique(besides_.begin(), besides_.end()), besides_.end());
  while (!besides_.empty() && besides_.back() >= count) besides_.pop_back();
  count_ = count;
}

}  // namespace inselberg::ground
