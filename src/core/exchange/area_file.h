// Files that hold areas and nothing else: outlines, boundaries, regions.
#pragma once

#include <string>
#include <vector>

#include "exchange/imported.h"

namespace inselberg::exchange {

// All areas of a file, moved into the coordinate system `target` where the file tells another (empty: as they are). Not
// yet sound. Throws Error when there is none, or another kind of geometry.
std::vector<ImportedArea> readAreas(const std::string& path, const std::string& target);

// The single area of a file; throws Error as above, and when there are several.
ImportedArea readOneArea(const std::string& path, const std::string& target);

}  // namespace inselberg::exchange
