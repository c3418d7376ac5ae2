// Cells hold about two triangles' area each. A triangle is listed in the cells its shape touches row by row, not in all
// cells of its box, so that long thin triangles stay cheap. Two passes: count, then fill.
#include "ground/tin_index.h"

#include <tbb/task_arena.h>

#include <array>
#include <utility>

#include "base/parallel.h"

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

template <class F>
void TinIndex::cellsOf(const Tin& tin, Index t, F&& f) const {
  const Triangle& c = tin.triangles()[t];
  rows(std::array{tin.plan(c[0]), tin.plan(c[1]), tin.plan(c[2])}, kMargin, [&](int r, int c0, int c1) {
    const std::size_t base = static_cast<std::size_t>(r) * columns_;
    for (int column = c0; column <= c1; ++column) f(base + column);
  });
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
  // Shared out among the cores; in each cell the triangles stand in their order. Isolated, since whoever asks for an
  // index may itself be one of many that do so at once.
  const std::size_t chunk = std::max<std::size_t>(triangles.size() / 4 + 1, 20'000);
  std::vector<std::vector<Index>> cursors(chunkCount(triangles.size(), chunk), std::vector<Index>(cells_));
  const auto visit = [&](auto&& f) {
    parallelChunks(triangles.size(), chunk, {}, [&](std::size_t begin, std::size_t end, std::size_t k) {
      for (Index t = static_cast<Index>(begin); t < end; ++t) {
        cellsOf(tin, t, [&](std::size_t cell) { f(t, cursors[k][cell]); });
      }
    });
  };
  auto grid = std::make_shared<Grid>();
  tbb::this_task_arena::isolate([&] {
    visit([](Index, Index& count) { ++count; });
    Index all = 0;
    grid->starts.reserve(cells_ + 1);
    for (std::size_t cell = 0; cell < cells_; ++cell) {
      grid->starts.push_back(all);
      for (auto& part : cursors) all += std::exchange(part[cell], all);
    }
    grid->starts.push_back(all);
    grid->entries.resize(all);
    visit([&](Index t, Index& cursor) { grid->entries[cursor++] = t; });
  });
  grid_ = std::move(grid);
}

TinIndex::TinIndex(const Tin& tin, const Tin& other, std::span<const Index> changed) : TinIndex(other.index()) {
  constexpr std::size_t kMost = 400;  // more are slower to go through than a grid is to copy
  count_ = static_cast<Index>(tin.triangles().size());
  besides_.insert(besides_.end(), changed.begin(), changed.end());
  std::sort(besides_.begin(), besides_.end());
  besides_.erase(std::unique(besides_.begin(), besides_.end()), besides_.end());
  while (!besides_.empty() && besides_.back() >= count_) besides_.pop_back();
  if (besides_.size() > kMost) fillAnew(tin, other, std::exchange(besides_, {}));
}

// Cells that a changed triangle touches, or did, are filled anew. (A cell may list a triangle that lay there two
// grounds ago: it is one more that may hold a place.)
void TinIndex::fillAnew(const Tin& tin, const Tin& other, std::span<const Index> changed) {
  const auto before = static_cast<Index>(other.triangles().size());
  std::vector<char> isChanged(std::max(count_, before), 0), touched(cells_, 0);
  std::vector<Index> cursors(cells_, 0);
  const auto leave = [&](Index t) {
    isChanged[t] = 1;
    if (t < before) cellsOf(other, t, [&](std::size_t cell) { touched[cell] = 1; });
  };
  for (const Index t : changed) leave(t);
  for (Index t = count_; t < before; ++t) leave(t);
  for (const Index t : changed) cellsOf(tin, t, [&](std::size_t cell) { touched[cell] = 1, ++cursors[cell]; });
  const Grid& from = *grid_;  // the other's yet
  // Calls f(triangle) for those in a cell that stay there.
  const auto staying = [&](std::size_t cell, auto&& f) {
    for (Index i = from.starts[cell]; i < from.starts[cell + 1]; ++i) {
      if (from.entries[i] < before && !isChanged[from.entries[i]]) f(from.entries[i]);
    }
  };
  auto grid = std::make_shared<Grid>();
  grid->starts.resize(cells_ + 1);
  Index all = 0;
  for (std::size_t cell = 0; cell < cells_; ++cell) {
    grid->starts[cell] = all;
    if (!touched[cell]) {
      all += from.starts[cell + 1] - from.starts[cell];
      continue;
    }
    staying(cell, [&](Index) { ++all; });
    all += std::exchange(cursors[cell], all);
  }
  grid->starts[cells_] = all;
  grid->entries.reserve(all);
  for (std::size_t cell = 0; cell < cells_;) {
    std::size_t end = cell;
    while (end < cells_ && !touched[end]) ++end;
    grid->entries.insert(grid->entries.end(), from.entries.begin() + from.starts[cell],
                         from.entries.begin() + from.starts[end]);
    for (cell = end; cell < cells_ && touched[cell]; ++cell) {
      staying(cell, [&](Index t) { grid->entries.push_back(t); });
      grid->entries.resize(grid->starts[cell + 1]);
    }
  }
  for (const Index t : changed) cellsOf(tin, t, [&](std::size_t cell) { grid->entries[cursors[cell]++] = t; });
  grid_ = std::move(grid);
}

}  // namespace inselberg::ground
