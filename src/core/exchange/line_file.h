// Files that hold one line and nothing else: where a section is taken.
#pragma once

#include <string>
#include <vector>

#include "plane/geometry.h"

namespace inselberg::exchange {

// The line of a file, relative to the origin, moved into the coordinate system `target` where the file tells another
// (empty: as it is). A closed one ends at its first place. Throws Error when there is none, several, another kind of
// geometry, or one without length.
std::vector<plane::Vec2> readOneLine(const std::string& path, const std::string& target, const plane::Origin& origin);

}  // namespace inselberg::exchange
