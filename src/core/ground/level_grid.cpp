#include "ground/level_grid.h"

#include <algorithm>
#include <cmath>

#include "base/parallel.h"
#include "ground/tin_index.h"
#include "plane/boxes.h"

namespace inselberg::ground {

LevelGrid::LevelGrid(const Tin& tin, const plane::Box& box, int cells) : given_(box) {
  if (!tin.empty()) all_.take(tin.minLevel()), all_.take(tin.maxLevel());
  box_ = plane::common(box, tin.bounds());
  cells_.resize(1);
  if (tin.empty() || box_.empty() || box_.minY > box_.maxY) return;
  size_ = std::max({box.width() / cells, box.height() / cells, 1e-3});
  columns_ = std::max(1, static_cast<int>(std::ceil(box.width() / size_)));
  rows_ = std::max(1, static_cast<int>(std::ceil(box.height() / size_)));
  cells_.resize(static_cast<std::size_t>(columns_) * rows_);
  // By strips of rows: a triangle that lies in several is met in each.
  parallelChunks(static_cast<std::size_t>(rows_), 16, {}, [&](std::size_t begin, std::size_t end, std::size_t) {
    const int first = static_cast<int>(begin), last = static_cast<int>(end) - 1;
    plane::Box strip = box_;
    strip.minY = box_.minY + first * size_;
    if (last + 1 < rows_) strip.maxY = std::min(box_.maxY, box_.minY + (last + 1) * size_);
    if (strip.minY > strip.maxY) return;
    tin.index().touching(plane::cornersOf(strip), 1e-6, [&](Index t) {
      plane::Box over;
      Range range;
      for (const Vec3& p : tin.corners(t)) over.add(p.plan()), range.take(p.z);
      if (!over.overlaps(box_)) return;
      const int c0 = column(over.minX), c1 = column(over.maxX), r1 = std::min(last, row(over.maxY));
      for (int r = std::max(first, row(over.minY)); r <= r1; ++r) {
        for (int c = c0; c <= c1; ++c) {
          Range& cell = cells_[static_cast<std::size_t>(r) * columns_ + c];
          cell.take(range.lowest), cell.take(range.highest);
        }
      }
    });
  });
}

LevelGrid::Range LevelGrid::within(const plane::Box& part) const {
  if (part.minX < given_.minX || part.minY < given_.minY || part.maxX > given_.maxX || part.maxY > given_.maxY)
    return all_;
  Range all;
  if (box_.empty() || !box_.overlaps(part)) return all;
  const int c0 = column(part.minX - 1e-6), c1 = column(part.maxX + 1e-6), r1 = row(part.maxY + 1e-6);
  for (int r = row(part.minY - 1e-6); r <= r1; ++r) {
    for (int c = c0; c <= c1; ++c) {
      const Range& cell = cells_[static_cast<std::size_t>(r) * columns_ + c];
      all.lowest = std::min(all.lowest, cell.lowest), all.highest = std::max(all.highest, cell.highest);
    }
  }
  return all;
}

}  // namespace inselberg::ground
