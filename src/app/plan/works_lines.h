// The lines of works on a plan: crests, daylight, and where batters end without it.
#pragma once

#include <QPainter>
#include <QPolygonF>
#include <span>

#include "canvas/view_transform.h"
#include "plan/plan_renderer.h"
#include "project/evaluate.h"

namespace inselberg::app {

QPolygonF screenLine(const std::vector<plane::Vec3>& points, bool closed, const ViewTransform& view);

// Of the works that are shown; the chosen works stronger.
void paintWorksLines(QPainter& painter, std::span<const project::PlacedWorks> works, WorksId chosen,
                     const ViewTransform& view);

// The slopes of batters and the levels of corners that a picture has, where no other words stand; the places they take
// are added to those.
void paintWorksLabels(QPainter& painter, const PlanPicture& picture, const ViewTransform& view,
                      std::vector<QRectF>& plates);

}  // namespace inselberg::app
