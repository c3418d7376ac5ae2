// Source data as compressed bytes (docs/file-format.md, "bulk").
#pragma once

#include <span>
#include <string>

#include "project/source.h"

namespace inselberg::store {

// What the data is called in the file: a hash of it, the same since version 1.
Hash nameOf(const project::SourceData& data);

std::string pack(const project::SourceData& data);

// Throws std::runtime_error for bytes that are not what pack made, or unpack out of all proportion (memory follows what
// is there, not what is claimed).
project::SourceData unpack(std::span<const char> bytes);

}  // namespace inselberg::store
