// What looks wrong about data that was read without a fault: what a careful person would notice at a glance.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "exchange/imported.h"

namespace inselberg::exchange {

// One sentence for each oddity, the gravest first: an extent or relief out of proportion, levels at exactly zero among
// others that are not, lines without levels, points in one place, data far from `site` (bounds of what the project has,
// in easting and northing), easting and northing that fit the site only when exchanged.
std::vector<std::string> oddities(const Imported& imported, const std::optional<plane::Box>& site);

}  // namespace inselberg::exchange
