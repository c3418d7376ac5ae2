// Where a ramp that is drawn from one works to another begins and ends.
#pragma once

#include "project/project.h"

namespace inselberg::project {

// The line from where it leaves the pad or level area that it begins on, to where it comes to the one it ends on: a
// ramp over the top itself would cut into it. Its ends lie 1 mm inside, where the top's level is. Of several works that
// hold a place the last rules; those left out do not count. An end that lies on none, or a line that never leaves it,
// stays. REQUIRES: two places or more.
works::Places betweenTops(const Ground& ground, const works::Places& line);

}  // namespace inselberg::project
