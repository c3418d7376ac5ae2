// Reading a file whatever its format.
#pragma once

#include <string>

#include "base/progress.h"
#include "exchange/imported.h"

namespace inselberg::exchange {

enum class Format { points, geoJson, dxf, landXml, project };

// By the name's ending, else by how the file begins. Throws Error when neither tells.
Format formatOf(const std::string& path);

// Reads points, lines, areas or a ground model; a project file is an Error (it is opened, not imported).
// Throws Cancelled.
Imported readAny(const std::string& path, const Progress& progress = {});

}  // namespace inselberg::exchange
