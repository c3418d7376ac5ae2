// Contours of a ground into a file.
#pragma once

#include <span>
#include <string>
#include <vector>

#include "base/progress.h"
#include "exchange/coordinate_system.h"
#include "ground/tin.h"

namespace inselberg::exchange {

// Writes the contours of the ground at every multiple of `interval` (m), whole or not at all: a drawing where the path
// ends in .dxf, with labels where contours cross the label lines (plan, relative to the origin); else GeoJSON. Returns
// how many. Throws Error, Cancelled.
std::size_t writeContours(const ground::Tin& tin, const Georeference& place, double interval,
                          std::span<const std::vector<plane::Vec2>> labelLines, const std::string& path,
                          const Progress& progress);

}  // namespace inselberg::exchange
