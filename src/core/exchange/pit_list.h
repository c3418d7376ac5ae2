// Test pits from a point list.
#pragma once

#include <string>
#include <vector>

#include "plane/geometry.h"

namespace inselberg::exchange {

// Easting and northing as in the file, and the depth found there: the column named depth or thickness, else that of
// levels. Throws Error for a file that cannot be read whole, has no pits, or a depth below 0.
std::vector<plane::Vec3> readPits(const std::string& path);

}  // namespace inselberg::exchange
