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
        const Triangle& c = triangles[t];
        const std::array<Vec2, 3> shape{tin.plan(c[0]), tin.plan(c[1]), tin.plan(c[2])};
        rows(shape, kMargin, [&](int r, int c0, int c1) {
          const std::size_t base = static_cast<std::size_t>(r) * columns_;
          for (int column = c0; column <= c1; ++column) f(t, cursors[k][base + column]);
        });
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

TinIndex::TinIndex(const TinIndex& other, std::span<const Index> changed, Index count) : TinIndex(other) {
  besides_.insert(besides_.end(), changed.begin(), changed.end());
  std::sort(besides_.begin(), besides_.end());
  besides_.erase(std::unique(besides_.begin(), besides_.end()), besides_.end());
  while (!besides_.empty() && besides_.back() >= count) besides_.pop_back();
  count_ = count;
}

TinIndex::TinIndex(const Tin& tin, const TinIndex& other, const Kept& kept, Index firstNew) : TinIndex(other) {
  besides_.clear();
  count_ = kNone;
  struct Entry {
    std::size_t cell;
    Index triangle;
  };
  std::vector<Entry> added;
  const auto add = [&](Index t) {
    const Triangle& c = tin.triangles()[t];
    rows(std::array{tin.plan(c[0]), tin.plan(c[1]), tin.plan(c[2])}, kMargin, [&](int r, int c0, int c1) {
      const std::size_t base = static_cast<std::size_t>(r) * columns_;
      for (int column = c0; column <= c1; ++column) added.push_back({base + column, t});
    });
  };
  for (const Index t : other.besides_) {
    if (kept.numbers[t] != kNone) add(kept.numbers[t]);
  }
  for (Index t = firstNew; t < tin.triangles().size(); ++t) add(t);
  std::stable_sort(added.begin(), added.end(), [](const Entry& a, const Entry& b) { return a.cell < b.cell; });
  auto grid = std::make_shared<Grid>();
  grid->starts.reserve(cells_ + 1);
  grid->entries.reserve(other.grid_->entries.size() + added.size());
  auto next = added.begin();
  for (std::size_t cell = 0; cell < cells_; ++cell) {
    grid->starts.push_back(static_cast<Index>(grid->entries.size()));
    for (Index i = other.grid_->starts[cell]; i < other.grid_->starts[cell + 1]; ++i) {
      const Index t = other.grid_->entries[i];
      if (t < other.count_ && kept.numbers[t] != kNone) grid->entries.push_back(kept.numbers[t]);
    }
    for (; next != added.end() && next->cell == cell; ++next) grid->entries.push_back(next->triangle);
  }
  grid->starts.push_back(static_cast<Index>(grid->entries.size()));
  grid_ = std::move(grid);
}

}  // namespace inselberg::ground
