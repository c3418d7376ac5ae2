// Strips, undercuts, build-ups, regions, materials and accuracies in the design file.
#pragma once

#include <map>
#include <string>

#include "exchange/design_places.h"
#include "project/project.h"

namespace inselberg::exchange {

// The project with what the members of the design say, in place of what it had; `works` by their names. Throws Error
// with the place in the file.
project::ProjectPtr withStagesOf(const JsonCursor& root, const project::Project& project,
                                 const std::map<std::string, WorksId>& works);

// Adds the members for all that is not left out, without works that have no name there.
void addStages(OrderedJson& root, const project::Stages& stages, const std::map<WorksId, std::string>& works,
               const Origin& origin);

}  // namespace inselberg::exchange
