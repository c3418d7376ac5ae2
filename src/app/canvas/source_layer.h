// The survey on the plan: points, lines and outlines of the sources that are shown.
#pragma once

#include <QPainter>
#include <span>

#include "base/progress.h"
#include "canvas/view_transform.h"
#include "project/features.h"

namespace inselberg::app {

// Draws what of the sources lies in the view; hidden ones are left out. Throws Cancelled.
void paintSources(QPainter& painter, std::span<const project::SourcePtr> sources, const ViewTransform& view,
                  const Progress& progress);
// The chosen features, strongly, with their vertices.
void paintFeatures(QPainter& painter, const project::Project& project, const ViewTransform& view,
                   std::span<const project::Feature> chosen);

}  // namespace inselberg::app
