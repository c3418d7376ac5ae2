// How much of a ground is how steep.
#pragma once

#include <span>
#include <vector>

#include "ground/tin.h"

namespace inselberg::ground {

// Plan area (m2) of the triangles in each band of steepness (m of rise per m of plan): below the first limit, from each
// limit to below the next, and from the last on; one more value than limits. REQUIRES: limits ascend.
std::vector<double> areaBySteepness(const Tin& tin, std::span<const double> limits);

// The band a steepness lies in: how many limits it has reached.
std::size_t bandOf(double steepness, std::span<const double> limits);

}  // namespace inselberg::ground
