// Where the chosen strip, undercut or build-up lies, on the plan.
#pragma once

#include <QPainter>

#include "canvas/view_transform.h"
#include "project/project.h"

namespace inselberg::app {

// Its outline with what is left out, or its line; test pits with their depths. Nothing of what lies under works.
void paintStage(QPainter& painter, const project::Project& project, WorksId stage, const ViewTransform& view);

}  // namespace inselberg::app
