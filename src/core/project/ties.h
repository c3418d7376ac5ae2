// Works whose level follows another's.
#pragma once

#include "project/project.h"

namespace inselberg::project {

// The works follows the level of another from now on, as far above it as it is now. Its own level stays with it, so
// that it keeps its last one when the other is gone. Throws Error when either has no level of its own, or when the
// other follows it already.
ProjectPtr withTie(const Project& project, WorksId id, WorksId to);
ProjectPtr withoutTie(const Project& project, WorksId id);

// With every tied works at the level that it follows: after an edit of works. (Edits of works do so themselves.)
ProjectPtr settled(ProjectPtr project);

}  // namespace inselberg::project
