// A ground as the relief draws it: corners once, triangles in several degrees of detail, by tiles.
#pragma once

#include <cstdint>
#include <vector>

#include "base/progress.h"
#include "ground/tin.h"

namespace inselberg::app {

struct ReliefMesh {
  struct Corner {
    float x, y, z;              // m from the middle
    float east, north, upward;  // normal, of length 1
    float depth;                // above the ground beneath; 0 where there is none
  };
  // The triangles of one degree of detail, sorted by tiles.
  struct Detail {
    double cell = 0;  // corners nearer to each other than about this have become one, m; 0: all are there
    std::vector<std::uint32_t> corners;
    std::vector<std::uint32_t> starts;  // of each tile in `corners`, and the end
  };
  struct Tile {
    plane::Box box;
    double low = 0, high = 0;
  };

  plane::Vec3 middle;
  double greatestDepth = 0;  // of all corners, above or below
  std::vector<Corner> corners;
  std::vector<Detail> details;  // from all there is to the coarsest
  std::vector<Tile> tiles;
  std::size_t bytes() const;
};

// Walls get faces of their own. `beneath` may be null. REQUIRES a ground that is not empty. Throws Cancelled.
ReliefMesh reliefMesh(const ground::Tin& tin, const ground::Tin* beneath, const plane::Vec3& middle,
                      const Progress& progress);

// The degree of detail for each tile: as coarse as looks the same at `pixel` pixels, `perPixel` metres to a pixel in
// each tile; coarser still, everywhere alike, until no more than `most` triangles are drawn.
std::vector<std::uint8_t> chooseDetail(const ReliefMesh& mesh, const std::vector<double>& perPixel, double pixel,
                                       std::size_t most);

}  // namespace inselberg::app
