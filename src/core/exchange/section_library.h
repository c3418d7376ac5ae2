// Typical sections kept by a user, for all projects.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "works/section.h"

namespace inselberg::exchange {

// {"sections": {NAME: [leg...]}}, as in the design file.
std::string libraryText(const std::vector<works::NamedSection>& sections);
// In the order of their names. Throws Error with the file and the place.
std::vector<works::NamedSection> libraryFrom(std::string_view text, const std::string& file);

}  // namespace inselberg::exchange
