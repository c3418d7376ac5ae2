// Levels on a grid of cells.
#pragma once

#include <cstddef>
#include <optional>
#include <vector>

#include "base/progress.h"
#include "ground/tin.h"

namespace inselberg::ground {

// Cell (c, r) stands for the place first + c * columnStep + r * rowStep. A level that is not a number: no data.
struct Raster {
  std::size_t columns = 0, rows = 0;
  Vec2 first, columnStep{1, 0}, rowStep{0, -1};
  std::vector<float> levels;  // row by row

  Vec2 place(std::size_t c, std::size_t r) const {
    return first + static_cast<double>(c) * columnStep + static_cast<double>(r) * rowStep;
  }
  float level(std::size_t c, std::size_t r) const { return levels[r * columns + c]; }
};

// Cells with data, and their bounds and levels.
struct RasterFigures {
  std::size_t cells = 0;
  double minLevel = 0, maxLevel = 0;
  Box bounds;
};
RasterFigures figures(const Raster& raster);

// The raster as triangles between some of its cells:
//  1. at every cell with data the triangles' level is within the tolerance of the cell's;
//  2. every cell with data that has data to both sides in a 2 by 2 block is covered; no triangle covers a cell without
//     data;
//  3. cells are added worst first (greedy insertion, M. Garland and P. Heckbert, 1995), so that triangles are few.
// Throws Error when no block of three cells has data; Cancelled.
TinParts asTriangles(const Raster& raster, double tolerance, const Progress& progress);

// The ground's levels at cell centres, `cell` m apart, lined up with multiples of `cell` in the ground's own
// coordinates (the project's origin taken off); the first row is the northernmost. Throws Error when there would be
// more than 400 million cells.
Raster sampled(const Tin& tin, double cell, const Progress& progress);

}  // namespace inselberg::ground
