// A large picture kept packed, in tiles and at halved sizes, so that any part of it is at hand at any zoom.
#pragma once

#include <array>
#include <cstdint>
#include <span>
#include <string>
#include <vector>

namespace inselberg::sheet {

class TilePyramid {
 public:
  static constexpr int kTile = 512;
  // Packed tiles hold no more than this: beyond it the full size is let go, and the halved ones stay.
  static constexpr std::size_t kMostBytes = 200'000'000;

  TilePyramid(int width, int height);
  // The next rows from the top, three bytes (red, green, blue) for each pixel. REQUIRES: whole rows, and not more of
  // them than are left.
  void addRows(std::span<const std::uint8_t> rgb);
  bool complete() const { return levels_.front().rows == levels_.front().height; }
  std::size_t bytes() const { return bytes_; }
  // The halving (0: full size) that has at least one pixel for every `step` pixels of the full size.
  int levelFor(double step) const;

  // Looks pixels up; keeps the tiles that it unpacked. Not for two threads.
  class Look {
   public:
    Look(const TilePyramid& pyramid, int level);
    // The colour at a place of the full size (x right, y down, the first pixel's middle at 0.5, 0.5), even between
    // pixels; white outside.
    std::array<float, 3> at(double x, double y);

   private:
    const std::uint8_t* pixel(int column, int row);
    const TilePyramid& pyramid_;
    int level_;
    double scale_;
    std::vector<std::vector<std::uint8_t>> tiles_;
  };

 private:
  struct Level {
    int width = 0, height = 0, rows = 0;  // rows: how many have come
    std::vector<std::uint8_t> strip;      // those not yet packed
    std::vector<std::string> tiles;       // row by row; empty when let go
    int across() const { return (width + kTile - 1) / kTile; }
  };
  void pack(std::size_t level);

  std::vector<Level> levels_;
  std::size_t bytes_ = 0;
  int finest_ = 0;
};

}  // namespace inselberg::sheet
