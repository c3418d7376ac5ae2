// Finding what of a source lies near a place, without a walk over all of it.
#pragma once

#include <cstdint>
#include <vector>

#include "plane/geometry.h"

namespace inselberg::project {

struct SourceData;
enum class FeatureKind;

// A grid of cells over the points, and the sides of lines and outlines (outer rings), of one source.
class SourceIndex {
 public:
  struct Entry {
    FeatureKind kind;
    std::uint32_t index;   // of the feature, among those of its kind
    std::uint32_t vertex;  // where the side begins
  };

  explicit SourceIndex(const SourceData& data);

  // Calls f(entry) for every point and side that may touch the box; the same one may come several times.
  template <class F>
  void touching(const plane::Box& box, F&& f) const {
    if (entries_.empty()) return;
    const int c0 = column(box.minX), c1 = column(box.maxX), r0 = row(box.minY), r1 = row(box.maxY);
    for (int r = r0; r <= r1; ++r) {
      for (int c = c0; c <= c1; ++c) {
        const std::size_t cell =
            static_cast<std::size_t>(r) * static_cast<std::size_t>(columns_) + static_cast<std::size_t>(c);
        for (std::size_t i = starts_[cell]; i < starts_[cell + 1]; ++i) f(entries_[i]);
      }
    }
  }

 private:
  int column(double x) const { return clamped((x - bounds_.minX) / size_, columns_); }
  int row(double y) const { return clamped((y - bounds_.minY) / size_, rows_); }
  static int clamped(double v, int n) { return v >= n ? n - 1 : v > 0 ? static_cast<int>(v) : 0; }

  plane::Box bounds_;
  double size_ = 1;
  int columns_ = 1, rows_ = 1;
  std::vector<std::size_t> starts_;
  std::vector<Entry> entries_;
};

}  // namespace inselberg::project
