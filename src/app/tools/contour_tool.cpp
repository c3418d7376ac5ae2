#include "tools/contour_tool.h"

#include <QCoreApplication>
#include <QPainter>

#include "canvas/label.h"
#include "theme/theme.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

using plane::Vec2;

QString tr(const char* text) {
  return QCoreApplication::translate("ContourTool", text);
}

QString levelText(double level) {
  return lengths::number(level, 2);
}

}  // namespace

QString ContourTool::hint() const {
  return tr("Click a contour to take it out as a line of its own, in no ground. Esc ends.");
}

const ground::Contour* ContourTool::beside(Vec2 p) {
  const Workspace& workspace = canvas_.workspace();
  const auto* ground = workspace.evaluation()->ground(workspace.chosenGround());
  const ground::TinPtr tin = ground ? ground->tin : nullptr;
  if (tin != of_) {
    of_ = tin;
    lines_ = tin ? ground::contours(*tin, ground::contourLevels(*tin, interval_), {}) : std::vector<ground::Contour>();
  }
  const ground::Contour* found = nullptr;
  double least = 10 / canvas_.view().scale;  // pixels
  for (const ground::Contour& line : lines_) {
    const std::size_t n = line.points.size();
    for (std::size_t i = 0; i + (line.closed ? 0 : 1) < n; ++i) {
      const double d = plane::nearestOnSegment(p, line.points[i], line.points[(i + 1) % n]).distance;
      if (d < least) least = d, found = &line;
    }
  }
  return found;
}

void ContourTool::move(const Pointed& at, bool, Qt::KeyboardModifiers) {
  hovered_ = beside(at.plan);
  canvas_.showCursor(hovered_ ? Qt::PointingHandCursor : Qt::ArrowCursor);
}

void ContourTool::press(const Pointed& at, Qt::KeyboardModifiers) {
  Workspace& workspace = canvas_.workspace();
  const ground::Contour* contour = beside(at.plan);
  if (!contour || workspace.readOnly()) return;
  ground::Breakline line;
  line.closed = contour->closed, line.contour = true;
  for (const Vec2 p : contour->points) line.vertices.push_back({p.x, p.y, contour->level});
  const std::string name = "Contour " + levelText(contour->level).toStdString() + " of " +
                           workspace.project()->ground(workspace.chosenGround())->name;
  project::SourceInfo info;
  info.name = name;
  project::SourceData data;
  data.breaklines = {std::move(line)};
  workspace.commit(project::withLooseSource(*workspace.project(), std::move(info), std::move(data)),
                   tr("take out the contour %1").arg(levelText(contour->level)));
  Q_EMIT workspace.message(
      tr("%1 is a line of its own now: no ground is built from it until you say so on a ground's card.")
          .arg(QString::fromStdString(name)),
      false);
}

bool ContourTool::key(int key, Qt::KeyboardModifiers) {
  if (key != Qt::Key_Escape) return false;
  canvas_.finishTool();
  return true;
}

void ContourTool::paint(QPainter& painter) {
  if (!hovered_) return;
  QPolygonF line;
  for (const Vec2 p : hovered_->points) line << canvas_.view().toScreen(p);
  if (line.isEmpty()) return;
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(theme::amber(), 2.4));
  hovered_->closed ? painter.drawPolygon(line) : painter.drawPolyline(line);
  const QPointF middle = line[line.size() / 2];
  paintLabel(painter, levelText(hovered_->level), middle + QPointF(10, -22), canvas_.view().size.width());
}

}  // namespace inselberg::app
