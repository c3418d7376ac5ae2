// How much of the area between two grounds is cut or filled how deep.
#pragma once

#include "quantity/volume.h"

namespace inselberg::quantity {

// Of depths from `low` to `high` (fill above 0, cut below).
struct DepthBand {
  double low = 0, high = 0;  // m
  double area = 0;           // m2 plan
  double volume = 0;         // m3 of earth over that area, from one ground to the other
};

// Bands of `step`, from the deepest cut to the deepest fill; those between them that are empty included, and none where
// the grounds are alike. Exact: areas add up to those of cut and fill, volumes to cut and fill. REQUIRES: step > 0.
// Throws Error for more than 1000 bands, Cancelled.
std::vector<DepthBand> depthBands(const ground::Tin& from, const ground::Tin& to,
                                  const std::vector<plane::Polygon>& region, double step, const Progress& progress);

}  // namespace inselberg::quantity
