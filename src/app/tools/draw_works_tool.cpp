#include "tools/draw_works_tool.h"

#include <QCoreApplication>
#include <QPainter>
#include <algorithm>
#include <array>
#include <cmath>

#include "base/error.h"
#include "base/quantity.h"
#include "canvas/label.h"
#include "plane/bearing.h"
#include "plane/place_text.h"
#include "theme/theme.h"

namespace inselberg::app {
namespace {

using plane::Vec2;

QString tr(const char* text) {
  return QCoreApplication::translate("DrawWorksTool", text);
}

// "40 x 25" or "40 x 25 at 30": the other corners of a rectangle, its first side on the bearing, or east, and the
// second to the right of it. Nothing when the text is none.
std::optional<std::array<Vec2, 3>> rectangleFrom(Vec2 corner, const QString& text) {
  const auto at = text.indexOf("at");
  const QStringList sides = text.left(at < 0 ? text.size() : at).split('x', Qt::KeepEmptyParts, Qt::CaseInsensitive);
  if (sides.size() != 2) return std::nullopt;
  const auto along = parseLength(sides[0].trimmed().toStdString(), std::nullopt);
  const auto across = parseLength(sides[1].trimmed().toStdString(), std::nullopt);
  const auto bearing = at < 0 ? std::optional(90.0) : parseNumber(text.mid(at + 2).toStdString());
  if (!along || !across || !bearing || *along <= 0 || *across <= 0) return std::nullopt;
  const Vec2 u = *along * plane::towards(*bearing), v = *across * plane::towards(*bearing + 90);
  return std::array{corner + u, corner + u + v, corner + v};
}

}  // namespace

DrawWorksTool::DrawWorksTool(Canvas& canvas, const works::Kind& kind) : canvas_(canvas), kind_(kind), outline_(true) {
  for (const works::Field& field : kind.fields()) {
    if (!isPlaces(field.measure)) continue;
    outline_ = field.measure == works::Measure::outline;
    return;
  }
}

QString DrawWorksTool::hint() const {
  const QString kind = QString::fromStdString(kind_.label).toLower();
  if (points_.empty())
    return (outline_ ? tr("Click the first corner of the %1. Esc ends.") : tr("Click where the %1 begins. Esc ends."))
        .arg(kind);
  if (points_.size() < fewest())
    return outline_ ? tr("Click the next corner, or type its distance, or 40 x 25 for a rectangle. Backspace takes one "
                         "back, Esc ends.")
                    : tr("Click the next point, or type its distance. Backspace takes one back, Esc ends.");
  return outline_ ? tr("Click the next corner; Enter, a double-click or the first corner closes the outline.")
                  : tr("Click the next point; Enter or a double-click ends the line.");
}

void DrawWorksTool::press(const Pointed& at, Qt::KeyboardModifiers) {
  if (outline_ && points_.size() >= fewest()) {
    const QPointF first = canvas_.view().toScreen(points_.front());
    if (std::hypot(first.x() - at.screen.x(), first.y() - at.screen.y()) < 10) {
      finish();
      return;
    }
  }
  if (!points_.empty() && plane::distance(points_.back(), at.plan) * canvas_.view().scale < 1) return;
  points_.push_back(at.plan);
}

void DrawWorksTool::move(const Pointed& at, bool, Qt::KeyboardModifiers) {
  pointer_ = at.plan;
  canvas_.showCursor(Qt::CrossCursor);
}

void DrawWorksTool::doubleClick(const Pointed&) {
  finish();
}

bool DrawWorksTool::key(int key, Qt::KeyboardModifiers) {
  switch (key) {
    case Qt::Key_Return:
    case Qt::Key_Enter:
      finish();
      return true;
    case Qt::Key_Backspace:
      if (!points_.empty()) points_.pop_back();
      return true;
    case Qt::Key_Escape:
      if (points_.empty()) {
        canvas_.finishTool();
      } else {
        points_.clear();
      }
      return true;
    default:
      return false;
  }
}

// A place in the forms that survey lines take; a rectangle; or a length alone, towards the pointer.
QString DrawWorksTool::typed(const QString& text) {
  const auto last = points_.empty() ? std::optional<Vec2>() : points_.back();
  auto place = plane::parsePlace(text.trimmed().toStdString(), canvas_.workspace().project()->origin, last);
  if (!place && last && pointer_ && !(*pointer_ == *last)) {
    const auto length = parseLength(text.trimmed().toStdString(), std::nullopt);
    if (length && *length > 0) place = *last + *length * plane::unit(*pointer_ - *last);
  }
  if (!place && outline_ && points_.size() == 1) {
    if (const auto others = rectangleFrom(points_.front(), text.trimmed())) {
      points_.insert(points_.end(), others->begin(), others->end());
      finish();
      return {};
    }
  }
  if (!place)
    return last ? tr("Write a length like 25 towards the pointer, 25 at 120 (length at bearing), +5 -3, a place like "
                     "412010 6187020, or of a rectangle 40 x 25 at 30 (its sides, the first at a bearing).")
                : tr("Write a place like 412010 6187020.");
  points_.push_back(*place);
  return {};
}

void DrawWorksTool::finish() {
  Workspace& workspace = canvas_.workspace();
  const project::Project& project = *workspace.project();
  const GroundId onto = project.finished();
  const auto* ground = workspace.evaluation()->ground(onto);
  const QString kind = QString::fromStdString(kind_.label);
  if (points_.size() < fewest()) {
    Q_EMIT workspace.message(
        outline_ ? tr("An outline needs three corners at least.") : tr("A line needs two points at least."), true);
    return;
  }
  try {
    works::Shape shape = works::begun(kind_, points_, project.origin);
    if (!ground || !ground->tin) throw Error("there is no ground here yet", "import a survey first");
    shape = works::startedOn(shape, *ground->tin);
    // What sets in another ground takes the first there is.
    if (works::groundNamed(shape)) {
      const auto other = std::find_if(project.column.begin(), project.column.end(),
                                      [&](const auto& g) { return g->id != onto && g->id != project.surveyed(); });
      if (other == project.column.end())
        throw Error("the project has no other ground to set in", "import its model as a ground of its own first");
      shape = works::withGround(shape, {(*other)->name, nullptr});
    }
    std::size_t alike = 1;
    for (const auto& g : project.column) {
      for (const auto& w : g->works) alike += &w->shape.kind() == &kind_ ? 1 : 0;
    }
    const WorksId id{project.nextId};
    const QString name = QString("%1 %2").arg(kind).arg(alike);
    workspace.commit(project::withNewWorks(project, onto, name.toStdString(), std::move(shape)),
                     tr("draw %1").arg(name));
    points_.clear();
    workspace.chooseWorks(id);
    canvas_.finishTool();
  } catch (const Error& e) {
    Q_EMIT workspace.message(tr("The %1 is not finished: %2").arg(kind.toLower(), QString::fromUtf8(e.what())), true);
  }
}

std::optional<std::pair<Vec2, Vec2>> DrawWorksTool::lockFrom() const {
  if (points_.empty()) return std::nullopt;
  if (points_.size() == 1) return std::pair(points_.front(), Vec2{1, 0});
  return std::pair(points_.back(), plane::unit(points_.back() - points_[points_.size() - 2]));
}

void DrawWorksTool::paint(QPainter& painter) {
  if (points_.empty()) return;
  const ViewTransform& view = canvas_.view();
  QPolygonF line;
  for (const Vec2 p : points_) line << view.toScreen(p);
  if (pointer_) line << view.toScreen(*pointer_);
  painter.setPen(Qt::NoPen);
  painter.setBrush(theme::faded(theme::amber(), 40));
  if (outline_ && line.size() > 2) painter.drawPolygon(line);
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(theme::amber(), 2));
  painter.drawPolyline(line);
  if (outline_ && line.size() > 2) {
    painter.setPen(QPen(theme::amber(), 1.2, Qt::DashLine));
    painter.drawLine(line.back(), line.front());
  }
  painter.setPen(QPen(theme::ink(), 1.2));
  painter.setBrush(theme::paper());
  for (const Vec2 p : points_) painter.drawRect(QRectF(view.toScreen(p) - QPointF(4, 4), QSizeF(8, 8)));
  if (!pointer_) return;
  const QString length = QString::fromStdString(formatNumber(plane::distance(points_.back(), *pointer_), 2)) + " m";
  paintLabel(painter, length, view.toScreen(*pointer_) + QPointF(14, -12), canvas_.view().size.width());
}

}  // namespace inselberg::app
