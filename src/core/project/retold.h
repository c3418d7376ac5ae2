// Kept results tell seams by the names of their grounds, which may be given others.
#pragma once

#include "project/project.h"

namespace inselberg::project {

// A kept result that tells seams by the names that grounds have in one project, by those they have in another.
KeptResult retold(KeptResult kept, const Project& before, const Project& now);

}  // namespace inselberg::project
