// The survey on the plan: points, lines and outlines of the sources that are shown.
#pragma once

#include <QPainter>
#include <span>

#include "plan/view_transform.h"
#include "project/features.h"

namespace inselberg::app {

// Draws what lies in the view; `chosen` strongly, with its vertices.
void paintSources(QPainter& painter, const project::Project& project, const ViewTransform& view,
                  std::span<const project::Feature> chosen);
// Only the chosen features.
void paintFeatures(QPainter& painter, const project::Project& project, const ViewTransform& view,
                   std::span<const project::Feature> chosen);

}  // namespace inselberg::app
