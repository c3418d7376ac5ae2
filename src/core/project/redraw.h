// A ground made anew from its own contours, as lines to be edited.
#pragma once

#include "base/progress.h"
#include "project/project.h"

namespace inselberg::project {

struct Redrawn {
  ProjectPtr project;
  GroundId ground;  // the new one, right after `of`
};

// The project with a source that holds the contours of a ground (`tin`, in metres apart of `interval`), and a ground
// built from it with its flats cured. Throws Error when the ground has no contour of that interval; Cancelled.
Redrawn withRedrawn(const Project& project, GroundId of, const ground::Tin& tin, double interval,
                    const Progress& progress);

}  // namespace inselberg::project
