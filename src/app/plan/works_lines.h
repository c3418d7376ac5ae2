// The lines of works on a plan: crests, daylight, and where batters end without it.
#pragma once

#include <QPainter>
#include <QPolygonF>

#include "canvas/view_transform.h"
#include "project/evaluate.h"

namespace inselberg::app {

QPolygonF screenLine(const std::vector<plane::Vec3>& points, bool closed, const ViewTransform& view);

// Of the grounds up to one in the order of the column; the chosen works stronger.
void paintWorksLines(QPainter& painter, const project::Evaluation& evaluation, GroundId upTo, WorksId chosen,
                     const ViewTransform& view);

}  // namespace inselberg::app
