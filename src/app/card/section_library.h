// The user's own typical sections, in a file beside the program's settings.
#pragma once

#include <QString>
#include <vector>

#include "works/section.h"

namespace inselberg::app {

QString libraryPath();
// None while there is no file. Throws Error when it cannot be read.
std::vector<works::NamedSection> userSections();
// Adds the section, or puts it in place of the one of its name. Throws Error when it cannot be written; the file is
// then as it was.
void keepSection(const works::NamedSection& section);

}  // namespace inselberg::app
