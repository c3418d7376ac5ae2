#include "ground/level_grid.h"

#include <bit>
#include <cmath>
#include <limits>

#include "ground/tin_index.h"
#include "plane/boxes.h"

namespace inselberg::ground {
namespace {

constexpr double kTrianglesInCell = 4;
constexpr int kCoarser = 8;  // times as wide
constexpr int kMost = 64;    // cells across, or down, that are asked for
constexpr float kFar = std::numeric_limits<float>::infinity();
constexpr std::uint64_t kUnknown = ~std::uint64_t{0};

// Two floats, rounded outwards by two steps; the last bit of the first says whether the ground ends.
std::uint64_t packed(const LevelGrid::Range& range) {
  const auto outwards = [](double level, float to) {
    return std::bit_cast<std::uint32_t>(std::nextafter(std::nextafter(static_cast<float>(level), to), to));
  };
  const std::uint32_t lowest = (outwards(range.lowest, -kFar) & ~1u) | (range.ends ? 1u : 0u);
  return std::uint64_t{lowest} << 32 | outwards(range.highest, kFar);
}

LevelGrid::Range unpacked(std::uint64_t bits) {
  const auto low = static_cast<std::uint32_t>(bits >> 32);
  return {std::bit_cast<float>(low), std::bit_cast<float>(static_cast<std::uint32_t>(bits)), (low & 1u) != 0};
}

}  // namespace

LevelGrid::LevelGrid(const Tin& tin) : tin_(tin), box_(tin.bounds()) {
  if (tin.empty()) return;
  const double wanted = std::max(1.0, static_cast<double>(tin.triangles().size()) / kTrianglesInCell);
  const double width = box_.width(), height = box_.height();
  double size = std::max({std::sqrt(width * height / wanted), std::max(width, height) / 8000, 1e-3});
  for (;; size *= kCoarser) {
    const int columns = static_cast<int>(width / size) + 1, rows = static_cast<int>(height / size) + 1;
    layers_.push_back(
        {size, columns, rows, std::vector<std::atomic<std::uint64_t>>(static_cast<std::size_t>(columns) * rows)});
    for (auto& cell : layers_.back().cells) cell.store(kUnknown, std::memory_order_relaxed);
    if (std::max(columns, rows) <= kMost) return;
  }
}

LevelGrid::Span LevelGrid::span(const Layer& layer, const plane::Box& part) const {
  const auto place = [&](double from, double at, int count) {
    return static_cast<int>(std::clamp(std::floor((at - from) / layer.size), 0.0, count - 1.0));
  };
  return {place(box_.minX, part.minX - 1e-6, layer.columns), place(box_.minY, part.minY - 1e-6, layer.rows),
          place(box_.minX, part.maxX + 1e-6, layer.columns), place(box_.minY, part.maxY + 1e-6, layer.rows)};
}

// Whoever finds it unknown looks; that several do so at once does no harm.
LevelGrid::Range LevelGrid::cell(std::size_t layer, int c, int r) const {
  Layer& of = layers_[layer];
  auto& known = of.cells[static_cast<std::size_t>(r) * of.columns + c];
  if (const std::uint64_t bits = known.load(std::memory_order_relaxed); bits != kUnknown) return unpacked(bits);
  Range range;
  if (layer == 0) {
    const Vec2 corner{box_.minX + c * of.size, box_.minY + r * of.size};
    const plane::Box box{corner.x, corner.y, corner.x + of.size, corner.y + of.size};
    tin_.index().touching(plane::cornersOf(box), 1e-6, [&](Index t) {
      const Triangle& beside = tin_.neighbours()[t];
      const bool border = std::ranges::find(beside, kNone) != beside.end();
      for (const Vec3& p : tin_.corners(t)) range.take({p.z, p.z, border});
    });
    range.ends |= range.lowest > range.highest;
  } else {
    const Layer& finer = layers_[layer - 1];
    range = within(layer - 1, {c * kCoarser, r * kCoarser, std::min((c + 1) * kCoarser, finer.columns) - 1,
                               std::min((r + 1) * kCoarser, finer.rows) - 1});
  }
  const std::uint64_t bits = packed(range);
  known.store(bits, std::memory_order_relaxed);
  return unpacked(bits);
}

LevelGrid::Range LevelGrid::within(std::size_t layer, const Span& span) const {
  Range all;
  for (int r = span.r0; r <= span.r1; ++r) {
    for (int c = span.c0; c <= span.c1; ++c) all.take(cell(layer, c, r));
  }
  return all;
}

LevelGrid::Range LevelGrid::within(const plane::Box& part) const {
  if (layers_.empty() || !box_.overlaps(part)) return {.lowest = 1e300, .highest = -1e300, .ends = true};
  std::size_t layer = 0;
  Span cells = span(layers_[0], part);
  while (std::max(cells.c1 - cells.c0, cells.r1 - cells.r0) >= kMost) cells = span(layers_[++layer], part);
  Range range = within(layer, cells);
  range.ends |= !(box_.contains({part.minX, part.minY}) && box_.contains({part.maxX, part.maxY}));
  return range;
}

}  // namespace inselberg::ground
