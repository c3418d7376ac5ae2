// Land left over between works, and filling it.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "project/evaluate.h"

namespace inselberg::project {

// Land that works enclose together and none of them by itself, less than 5 m wide (twice its area by its length round),
// of more than 1 m2.
struct Gap {
  plane::Polygon outline;
  std::vector<std::string> between;  // the names of the works
};
std::vector<Gap> gapsBetween(const std::vector<PlacedWorks>& works);
ground::Doubts doubtsOfGaps(const std::vector<Gap>& gaps, const plane::Origin& origin);

// Where a gap is told.
plane::Vec2 placeOf(const Gap& gap);

// The gaps of a ground, or the one told at a place, each filled with a works of its own that passes from edge to edge,
// named after the works around; the project as it is when there is none.
ProjectPtr withGapsFilled(const Project& project, const EvaluatedGround& ground, std::optional<plane::Vec2> at = {});

}  // namespace inselberg::project
