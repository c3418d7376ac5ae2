#include "plan/stage_lines.h"

#include "canvas/label.h"
#include "project/stage_place.h"
#include "theme/theme.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

QPolygonF shown(const std::vector<plane::Vec2>& places, const ViewTransform& view) {
  QPolygonF points;
  for (const plane::Vec2 p : places) points << view.toScreen(p);
  return points;
}

void paintPits(QPainter& painter, const std::vector<plane::Vec3>& pits, const ViewTransform& view) {
  for (const plane::Vec3& pit : pits) {
    const QPointF at = view.toScreen(pit.plan());
    painter.setPen(QPen(theme::paper(), 1.5));
    painter.setBrush(theme::loam());
    painter.drawRect(QRectF(at - QPointF(4, 4), QSizeF(8, 8)));
    paintLabel(painter, lengths::number(pit.z, 2), at + QPointF(8, -8), painter.viewport().width());
  }
}

}  // namespace

void paintStage(QPainter& painter, const project::Project& project, WorksId stage, const ViewTransform& view) {
  const auto at = project::placeOf(project.stages, stage);
  if (!at) return;
  painter.setPen(QPen(theme::amber(), 2));
  painter.setBrush(Qt::NoBrush);
  if (at->kind == project::StageKind::undercut) {
    painter.drawPolyline(shown(project.stages.undercuts[at->place].line, view));
  } else if (at->kind == project::StageKind::buildUp) {
    painter.drawPolygon(shown(project.stages.buildUps[at->place].outline, view));
  } else {
    const works::Strip& strip = project.stages.strips[at->place];
    painter.drawPolygon(shown(strip.outline, view));
    painter.setPen(QPen(theme::amber(), 1.5, Qt::DashLine));
    for (const plane::Ring& ring : strip.except) painter.drawPolygon(shown(ring, view));
    paintPits(painter, strip.pits, view);
  }
}

}  // namespace inselberg::app
