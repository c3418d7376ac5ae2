#include "tools/stage_corners.h"

#include <QCoreApplication>
#include <QPainter>

#include <algorithm>

#include "base/error.h"
#include "project/stage_paths.h"
#include "project/stage_place.h"
#include "theme/theme.h"
#include "tools/grab.h"

namespace inselberg::app {
namespace {

using plane::Vec2;

QString tr(const char* text) {
  return QCoreApplication::translate("StageCorners", text);
}

}  // namespace

std::string StageCorners::name() const {
  return project::nameOf(canvas_.workspace().project()->stages, chosen());
}

bool StageCorners::any() const {
  const auto paths = project::pathsOf(canvas_.workspace().project()->stages, chosen());
  return std::any_of(paths.begin(), paths.end(), [](const auto& path) { return !path.points.empty(); });
}

std::optional<StageCorners::Corner> StageCorners::cornerAt(QPointF screen) const {
  if (canvas_.workspace().readOnly()) return std::nullopt;
  std::optional<Corner> nearest;
  double away = kGrab;
  const auto paths = project::pathsOf(canvas_.workspace().project()->stages, chosen());
  for (std::size_t k = 0; k < paths.size(); ++k) {
    for (std::size_t i = 0; i < paths[k].points.size(); ++i) {
      const double d = pixels(canvas_.view().toScreen(paths[k].points[i]), screen);
      if (d <= away) away = d, nearest = Corner{k, i};
    }
  }
  return nearest;
}

std::optional<StageCorners::Corner> StageCorners::sideAt(Vec2 p) const {
  const double reach = kGrab / canvas_.view().scale;
  const auto paths = project::pathsOf(canvas_.workspace().project()->stages, chosen());
  for (std::size_t k = 0; k < paths.size(); ++k) {
    const auto& points = paths[k].points;
    for (std::size_t i = 0; i + (paths[k].closed ? 0 : 1) < points.size(); ++i) {
      if (plane::nearestOnSegment(p, points[i], points[(i + 1) % points.size()]).distance <= reach) return Corner{k, i};
    }
  }
  return std::nullopt;
}

bool StageCorners::press(const Pointed& at) {
  const auto corner = cornerAt(at.screen);
  if (corner) drag_ = Drag{*corner, at.mouse, canvas_.workspace().project()->stages, false};
  return corner || sideAt(at.plan);
}

bool StageCorners::hover(const Pointed& at) {
  hovered_ = cornerAt(at.screen);
  return hovered_.has_value();
}

void StageCorners::drag(const Pointed& at) {
  if (!drag_->moved && pixels(at.mouse, drag_->startMouse) < kStill) return;
  drag_->moved = true;
  Workspace& workspace = canvas_.workspace();
  const project::Project& project = *workspace.project();
  auto points = project::pathsOf(drag_->before, chosen())[drag_->corner.path].points;
  points[drag_->corner.index] = at.plan;
  try {
    workspace.setTransient(project::withStages(
        project, project::withPath(drag_->before, chosen(), drag_->corner.path, std::move(points), project.origin)));
  } catch (const Error&) {
    // The outline would cross itself: it stays at its last good place.
  }
}

void StageCorners::release() {
  if (drag_ && drag_->moved)
    canvas_.workspace().commitTransient(tr("move a corner of %1").arg(QString::fromStdString(name())));
  drag_.reset();
}

void StageCorners::cancel() {
  drag_.reset();
  canvas_.workspace().dropTransient();
}

void StageCorners::commit(std::size_t path, std::vector<Vec2> points, const QString& what) {
  Workspace& workspace = canvas_.workspace();
  const project::Project& project = *workspace.project();
  hovered_.reset();
  try {
    workspace.commit(project::withStages(
                         project, project::withPath(project.stages, chosen(), path, std::move(points), project.origin)),
                     what.arg(QString::fromStdString(name())));
  } catch (const Error& e) {
    Q_EMIT workspace.message(QString::fromUtf8(e.what()), true);
  }
}

bool StageCorners::addCorner(const Pointed& at) {
  const auto side = sideAt(at.plan);
  if (!side || canvas_.workspace().readOnly() || cornerAt(at.screen)) return false;
  auto points = project::pathsOf(canvas_.workspace().project()->stages, chosen())[side->path].points;
  const Vec2 a = points[side->index], b = points[(side->index + 1) % points.size()];
  const Vec2 on = a + plane::nearestOnSegment(at.plan, a, b).along * (b - a);
  points.insert(points.begin() + static_cast<std::ptrdiff_t>(side->index) + 1, on);
  commit(side->path, std::move(points), tr("add a corner to %1"));
  return true;
}

bool StageCorners::removeCorner() {
  if (!hovered_) return false;
  const Corner corner = *hovered_;
  const auto paths = project::pathsOf(canvas_.workspace().project()->stages, chosen());
  if (corner.path >= paths.size() || corner.index >= paths[corner.path].points.size()) return false;
  auto points = paths[corner.path].points;
  points.erase(points.begin() + static_cast<std::ptrdiff_t>(corner.index));
  commit(corner.path, std::move(points), tr("remove a corner of %1"));
  return true;
}

std::optional<Vec2> StageCorners::place() const {
  if (!drag_) return std::nullopt;
  return project::pathsOf(canvas_.workspace().project()->stages, chosen())[drag_->corner.path]
      .points[drag_->corner.index];
}

std::optional<std::pair<Vec2, Vec2>> StageCorners::lockFrom() const {
  if (!drag_) return std::nullopt;
  const project::StagePath path = project::pathsOf(drag_->before, chosen())[drag_->corner.path];
  const std::size_t i = drag_->corner.index, n = path.points.size();
  const Vec2 other = path.points[i == 0 && !path.closed ? 1 : (i + n - 1) % n];
  return std::pair(path.points[i], plane::unit(path.points[i] - other));
}

void StageCorners::paint(QPainter& painter) const {
  const auto hot = drag_ ? std::optional(drag_->corner) : hovered_;
  const auto paths = project::pathsOf(canvas_.workspace().project()->stages, chosen());
  painter.setPen(QPen(theme::ink(), 1.2));
  for (std::size_t k = 0; k < paths.size(); ++k) {
    for (std::size_t i = 0; i < paths[k].points.size(); ++i) {
      const bool isHot = hot == Corner{k, i};
      const double r = isHot ? 5.5 : 4.5;
      painter.setBrush(isHot ? theme::amber() : theme::paper());
      painter.drawRect(QRectF(canvas_.view().toScreen(paths[k].points[i]) - QPointF(r, r), QSizeF(2 * r, 2 * r)));
    }
  }
}

}  // namespace inselberg::app
