// The design file: a whole design as text, to keep, compare, generate and run without a screen (docs/design-file.md).
#pragma once

#include <functional>
#include <string>
#include <string_view>

#include "project/project.h"

namespace inselberg::exchange {

// Reads a design into a project that has a survey: named sections, and works at the end of the finished ground. Members
// that are not known, names that are given twice, values of another form or out of their limits throw Error with their
// place ("FILE: works[2] \"A\", section[0].to_ground.fill: ..."), text that is no JSON with line and column.
// `bringInGround` adds the ground of a file beside the design to the project, under the name it has in the design; it
// is asked for grounds that the project has not.
using BringInGround = std::function<project::ProjectPtr(const project::Project&, const std::string& name)>;
project::ProjectPtr withDesign(const project::Project& project, std::string_view text, const std::string& file,
                               const BringInGround& bringInGround);

// The design of the project's finished ground, laid out for reading. What takes no part is not in it.
std::string designOf(const project::Project& project);

}  // namespace inselberg::exchange
