#include "sheet/tile_pyramid.h"

#include <tbb/parallel_for.h>
#include <zstd.h>

#include <algorithm>
#include <cmath>

#include "base/error.h"

namespace inselberg::sheet {

TilePyramid::TilePyramid(int width, int height) {
  levels_.push_back({width, height, 0, {}, {}});
  while (levels_.back().width > kTile || levels_.back().height > kTile) {
    const Level& last = levels_.back();
    levels_.push_back({(last.width + 1) / 2, (last.height + 1) / 2, 0, {}, {}});
  }
}

void TilePyramid::addRows(std::span<const std::uint8_t> rgb) {
  const auto add = [this](std::size_t k, std::span<const std::uint8_t> rows, auto& self) -> void {
    Level& level = levels_[k];
    const std::size_t row = std::size_t{3} * level.width;
    while (!rows.empty()) {
      const std::size_t room = row * kTile - level.strip.size(), now = std::min(room, rows.size());
      level.strip.insert(level.strip.end(), rows.begin(), rows.begin() + static_cast<std::ptrdiff_t>(now));
      rows = rows.subspan(now);
      level.rows += static_cast<int>(now / row);
      if (level.strip.size() < row * kTile && level.rows < level.height) continue;
      if (k + 1 < levels_.size()) {
        // Two by two to one; a last row or column that has no partner counts twice.
        const int height = static_cast<int>(level.strip.size() / row);
        const Level& next = levels_[k + 1];
        std::vector<std::uint8_t> halved(std::size_t{3} * next.width * static_cast<std::size_t>((height + 1) / 2));
        tbb::parallel_for(0, (height + 1) / 2, [&](int r) {
          const std::uint8_t* upper = &level.strip[row * static_cast<std::size_t>(2 * r)];
          const std::uint8_t* lower = &level.strip[row * static_cast<std::size_t>(std::min(2 * r + 1, height - 1))];
          std::uint8_t* to = &halved[std::size_t{3} * next.width * static_cast<std::size_t>(r)];
          for (int c = 0; c < next.width; ++c) {
            const int left = 6 * c, right = 3 * std::min(2 * c + 1, level.width - 1);
            for (int b = 0; b < 3; ++b)
              *to++ = static_cast<std::uint8_t>(
                  (upper[left + b] + upper[right + b] + lower[left + b] + lower[right + b] + 2) / 4);
          }
        });
        pack(k);
        self(k + 1, halved, self);
      } else {
        pack(k);
      }
    }
  };
  add(0, rgb, add);
}

void TilePyramid::pack(std::size_t k) {
  Level& level = levels_[k];
  const std::size_t row = std::size_t{3} * level.width;
  const int height = static_cast<int>(level.strip.size() / row);
  if (static_cast<int>(k) >= finest_) {
    const std::size_t first = level.tiles.size();
    level.tiles.resize(first + static_cast<std::size_t>(level.across()));
    tbb::parallel_for(0, level.across(), [&](int t) {
      const int left = t * kTile, width = std::min(kTile, level.width - left);
      std::vector<std::uint8_t> tile;
      tile.reserve(std::size_t{3} * width * height);
      for (int r = 0; r < height; ++r) {
        const auto from = level.strip.begin() + static_cast<std::ptrdiff_t>(row * r + std::size_t{3} * left);
        tile.insert(tile.end(), from, from + 3 * width);
      }
      std::string packed(ZSTD_compressBound(tile.size()), '\0');
      packed.resize(ZSTD_compress(packed.data(), packed.size(), tile.data(), tile.size(), 1));
      packed.shrink_to_fit();
      level.tiles[first + static_cast<std::size_t>(t)] = std::move(packed);
    });
    for (std::size_t t = first; t < level.tiles.size(); ++t) bytes_ += level.tiles[t].size();
  }
  level.strip.clear();
  while (bytes_ > kMostBytes && finest_ + 1 < static_cast<int>(levels_.size())) {
    for (const std::string& tile : levels_[finest_].tiles) bytes_ -= tile.size();
    levels_[finest_++].tiles = {};
  }
}

int TilePyramid::levelFor(double step) const {
  int level = 0;
  while (level + 1 < static_cast<int>(levels_.size()) && (level < finest_ || std::ldexp(1.0, level + 1) <= step))
    ++level;
  return level;
}

TilePyramid::Look::Look(const TilePyramid& pyramid, int level)
    : pyramid_(pyramid), level_(level), scale_(std::ldexp(1.0, -level)), tiles_(pyramid.levels_[level].tiles.size()) {}

const std::uint8_t* TilePyramid::Look::pixel(int column, int row) {
  const Level& level = pyramid_.levels_[level_];
  const std::size_t t = std::size_t(row / kTile) * level.across() + column / kTile;
  const int left = column / kTile * kTile, top = row / kTile * kTile;
  const int width = std::min(kTile, level.width - left), height = std::min(kTile, level.height - top);
  std::vector<std::uint8_t>& tile = tiles_[t];
  if (tile.empty()) {
    tile.resize(std::size_t{3} * width * height);
    const std::string& packed = level.tiles[t];
    if (ZSTD_decompress(tile.data(), tile.size(), packed.data(), packed.size()) != tile.size())
      throw Error("a picture cannot be unpacked", "open it again");
  }
  return &tile[std::size_t{3} * ((row - top) * width + (column - left))];
}

std::array<float, 3> TilePyramid::Look::at(double x, double y) {
  const Level& level = pyramid_.levels_[level_];
  const Level& full = pyramid_.levels_.front();
  if (x < 0 || y < 0 || x >= full.width || y >= full.height) return {255, 255, 255};
  const double u = std::clamp(x * scale_ - 0.5, 0.0, level.width - 1.0);
  const double v = std::clamp(y * scale_ - 0.5, 0.0, level.height - 1.0);
  const int c = static_cast<int>(u), r = static_cast<int>(v);
  const int c2 = std::min(c + 1, level.width - 1), r2 = std::min(r + 1, level.height - 1);
  const auto fu = static_cast<float>(u - c), fv = static_cast<float>(v - r);
  const std::uint8_t *a = pixel(c, r), *b = pixel(c2, r), *d = pixel(c, r2), *e = pixel(c2, r2);
  std::array<float, 3> colour{};
  for (std::size_t i = 0; i < 3; ++i)
    colour[i] =
        (1 - fv) * ((1 - fu) * float(a[i]) + fu * float(b[i])) + fv * ((1 - fu) * float(d[i]) + fu * float(e[i]));
  return colour;
}

}  // namespace inselberg::sheet
