// How much of a ground is how steep.
#pragma once

#include <span>
#include <vector>

#include "ground/tin.h"

namespace inselberg::ground {

// m per m: a limit is reached by what lacks no more of it. So what is built at 2:1 is as steep as 50 %, although
// rounding makes each of its triangles a little steeper or less.
inline constexpr double kSteepnessRounding = 1e-4;

// Plan area (m2) of the triangles in each band of steepness (m of rise per m of plan): below the first limit, from each
// limit to below the next, and from the last on; one more value than limits. REQUIRES: limits ascend.
std::vector<double> areaBySteepness(const Tin& tin, std::span<const double> limits);

// The band a steepness lies in: how many limits it has reached.
std::size_t bandOf(double steepness, std::span<const double> limits);

}  // namespace inselberg::ground
