#include "tools/draw_pad_tool.h"

#include <QCoreApplication>
#include <QPainter>
#include <cmath>

#include "base/error.h"
#include "base/quantity.h"
#include "plan/label.h"
#include "theme/theme.h"

namespace inselberg::app {
namespace {

using plane::Vec2;

QString tr(const char* text) {
  return QCoreApplication::translate("DrawPadTool", text);
}

}  // namespace

QString DrawPadTool::hint() const {
  if (corners_.empty()) return tr("Click the first corner of the pad. Esc ends.");
  if (corners_.size() < 3) return tr("Click the next corner. Backspace takes one back, Esc ends.");
  return tr("Click the next corner; Enter, a double-click or the first corner closes the outline.");
}

void DrawPadTool::press(const Pointed& at, Qt::KeyboardModifiers) {
  if (corners_.size() >= 3) {
    const QPointF first = plan_.view().toScreen(corners_.front());
    if (std::hypot(first.x() - at.screen.x(), first.y() - at.screen.y()) < 10) {
      close();
      return;
    }
  }
  if (!corners_.empty() && plane::distance(corners_.back(), at.plan) * plan_.view().scale < 1) return;
  corners_.push_back(at.plan);
}

void DrawPadTool::move(const Pointed& at, bool, Qt::KeyboardModifiers) {
  pointer_ = at.plan;
  plan_.setCursor(Qt::CrossCursor);
}

void DrawPadTool::doubleClick(const Pointed&) {
  close();
}

bool DrawPadTool::key(int key, Qt::KeyboardModifiers) {
  switch (key) {
    case Qt::Key_Return:
    case Qt::Key_Enter:
      close();
      return true;
    case Qt::Key_Backspace:
      if (!corners_.empty()) corners_.pop_back();
      return true;
    case Qt::Key_Escape:
      if (corners_.empty()) {
        Q_EMIT plan_.toolFinished();
      } else {
        corners_.clear();
      }
      return true;
    default:
      return false;
  }
}

void DrawPadTool::close() {
  Workspace& workspace = plan_.workspace();
  plane::Polygon polygon;
  try {
    polygon = plane::sound({corners_, {}}, workspace.project()->origin);
  } catch (const Error& e) {
    Q_EMIT workspace.message(tr("The pad cannot be closed: %1").arg(e.what()), true);
    return;
  }
  // The level to start from: the mean of the ground at the corners, to the nearest 5 cm.
  const project::Project& project = *workspace.project();
  const GroundId onto = project.finished();
  double sum = 0;
  int covered = 0;
  if (const auto* g = workspace.evaluation()->ground(onto); g && g->tin) {
    for (const Vec2 p : polygon.outer) {
      if (const auto z = g->tin->levelAt(p)) sum += *z, ++covered;
    }
  }
  if (covered == 0) {
    Q_EMIT workspace.message(tr("The pad lies off the ground. Draw it where there is ground."), true);
    corners_.clear();
    return;
  }
  works::Pad pad{std::move(polygon.outer), std::round(sum / covered * 20) / 20, {}};
  const WorksId id{project.nextId};
  std::size_t pads = 1;
  for (const auto& g : project.column) pads += g->works.size();
  const QString name = tr("Pad %1").arg(pads);
  workspace.commit(project::withNewWorks(project, onto, name.toStdString(), std::move(pad)), tr("draw %1").arg(name));
  corners_.clear();
  workspace.chooseWorks(id);
  Q_EMIT plan_.toolFinished();
}

std::optional<std::pair<Vec2, Vec2>> DrawPadTool::lockFrom() const {
  if (corners_.empty()) return std::nullopt;
  if (corners_.size() == 1) return std::pair(corners_.front(), Vec2{1, 0});
  return std::pair(corners_.back(), plane::unit(corners_.back() - corners_[corners_.size() - 2]));
}

void DrawPadTool::paint(QPainter& painter) {
  if (corners_.empty()) return;
  const ViewTransform& view = plan_.view();
  QPolygonF line;
  for (const Vec2 p : corners_) line << view.toScreen(p);
  if (pointer_) line << view.toScreen(*pointer_);
  painter.setPen(Qt::NoPen);
  painter.setBrush(QColor(217, 164, 0, 40));
  if (line.size() > 2) painter.drawPolygon(line);
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(theme::amber, 2));
  painter.drawPolyline(line);
  if (line.size() > 2) {
    painter.setPen(QPen(theme::amber, 1.2, Qt::DashLine));
    painter.drawLine(line.back(), line.front());
  }
  painter.setPen(QPen(theme::ink, 1.2));
  painter.setBrush(theme::paper);
  for (const Vec2 p : corners_) painter.drawRect(QRectF(view.toScreen(p) - QPointF(4, 4), QSizeF(8, 8)));
  if (!pointer_) return;
  const QString length = QString::fromStdString(formatNumber(plane::distance(corners_.back(), *pointer_), 2)) + " m";
  paintLabel(painter, length, view.toScreen(*pointer_) + QPointF(14, -12), plan_.width());
}

}  // namespace inselberg::app
