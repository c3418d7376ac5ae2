#include "project/source_index.h"

#include <algorithm>
#include <cmath>

#include "project/each_side.h"

namespace inselberg::project {
SourceIndex::SourceIndex(const SourceData& data) {
  std::size_t n = 0;
  eachSide(data, [&](const Entry&, plane::Vec2 a, plane::Vec2 b) {
    bounds_.add(a), bounds_.add(b);
    ++n;
  });
  if (n == 0) return;
  // About two sides to a cell; never more cells than that, however long the bounds.
  const double area = std::max(bounds_.width(), 1e-3) * std::max(bounds_.height(), 1e-3);
  size_ = std::max({std::sqrt(2 * area / static_cast<double>(n)), bounds_.width() / static_cast<double>(n),
                    bounds_.height() / static_cast<double>(n), 1e-3});
  columns_ = static_cast<int>(bounds_.width() / size_) + 1;
  rows_ = static_cast<int>(bounds_.height() / size_) + 1;
  const auto eachCell = [&](plane::Vec2 a, plane::Vec2 b, auto&& f) {
    const int r0 = row(std::min(a.y, b.y)), r1 = row(std::max(a.y, b.y));
    for (int r = r0; r <= r1; ++r) {
      double x0 = std::min(a.x, b.x), x1 = std::max(a.x, b.x);
      if (r0 != r1) {  // the part of the side within this row of cells
        const auto at = [&](double y) { return a.x + std::clamp((y - a.y) / (b.y - a.y), 0.0, 1.0) * (b.x - a.x); };
        const double u = at(bounds_.minY + r * size_), v = at(bounds_.minY + (r + 1) * size_);
        x0 = std::min(u, v) - 1e-6 * size_, x1 = std::max(u, v) + 1e-6 * size_;
      }
      for (int c = column(x0), c1 = column(x1); c <= c1; ++c)
        f(static_cast<std::size_t>(r) * static_cast<std::size_t>(columns_) + static_cast<std::size_t>(c));
    }
  };
  starts_.assign(static_cast<std::size_t>(columns_) * static_cast<std::size_t>(rows_) + 1, 0);
  eachSide(data, [&](const Entry&, plane::Vec2 a, plane::Vec2 b) {
    eachCell(a, b, [&](std::size_t cell) { ++starts_[cell + 1]; });
  });
  for (std::size_t i = 1; i < starts_.size(); ++i) starts_[i] += starts_[i - 1];
  entries_.resize(starts_.back());
  std::vector<std::size_t> at(starts_.begin(), starts_.end() - 1);
  eachSide(data, [&](const Entry& entry, plane::Vec2 a, plane::Vec2 b) {
    eachCell(a, b, [&](std::size_t cell) { entries_[at[cell]++] = entry; });
  });
}

}  // namespace inselberg::project
