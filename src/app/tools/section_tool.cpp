#include "tools/section_tool.h"

#include <QCoreApplication>
#include <QPainter>

#include "theme/theme.h"

namespace inselberg::app {
namespace {

using plane::Vec2;

constexpr double kReach = 8;  // pixels

QString tr(const char* text) {
  return QCoreApplication::translate("SectionTool", text);
}

}  // namespace

QString SectionTool::hint() const {
  if (!drawn_.empty())
    return tr("Click the next place of the section; double-click or Enter ends it. Right angles: R. Esc takes back.");
  if (state_.hasSection())
    return tr("Drag the line to sweep it across the site, or its ends. Click elsewhere to begin another. Esc ends.");
  return tr("Click where the section begins. Esc ends.");
}

std::optional<SectionTool::Hold> SectionTool::holdAt(const Pointed& at) const {
  const auto& line = state_.sectionLine();
  if (!state_.hasSection() || !drawn_.empty()) return std::nullopt;
  const double reach = kReach / canvas_.view().scale;
  const Vec2 mouse = canvas_.view().toPlan(at.mouse);
  for (std::size_t i = 0; i < line.size(); ++i) {
    if (plane::distance(line[i], mouse) <= reach) return Hold{i, false, mouse, line};
  }
  for (std::size_t i = 1; i < line.size(); ++i) {
    if (plane::nearestOnSegment(mouse, line[i - 1], line[i]).distance <= reach) return Hold{0, true, mouse, line};
  }
  return std::nullopt;
}

void SectionTool::press(const Pointed& at, Qt::KeyboardModifiers) {
  hold_ = holdAt(at);
  if (hold_) return;
  if (drawn_.empty() || plane::distance(drawn_.back(), at.plan) > 1e-6) drawn_.push_back(at.plan);
}

void SectionTool::move(const Pointed& at, bool dragging, Qt::KeyboardModifiers) {
  pointer_ = at.plan;
  if (hold_ && dragging) {
    std::vector<Vec2> line = hold_->line;
    if (hold_->all) {
      const Vec2 by = canvas_.view().toPlan(at.mouse) - hold_->from;
      for (Vec2& p : line) p = p + by;
    } else {
      line[hold_->place] = at.plan;
    }
    state_.takeSection(std::move(line));
  }
  const auto hold = hold_ ? hold_ : holdAt(at);
  canvas_.showCursor(!hold ? Qt::CrossCursor : hold->all ? Qt::SizeAllCursor : Qt::PointingHandCursor);
  canvas_.repaintMarks();
}

void SectionTool::release(const Pointed&) {
  hold_.reset();
}

void SectionTool::doubleClick(const Pointed&) {
  finish();
}

void SectionTool::finish() {
  if (drawn_.size() >= 2) state_.takeSection(drawn_);
  if (drawn_.size() != 1) drawn_.clear();
  canvas_.repaintMarks();
}

bool SectionTool::key(int key, Qt::KeyboardModifiers) {
  if (key == Qt::Key_Return || key == Qt::Key_Enter) {
    finish();
    return true;
  }
  if (key == Qt::Key_Backspace && !drawn_.empty()) {
    drawn_.pop_back();
    return true;
  }
  if (key != Qt::Key_Escape) return false;
  if (drawn_.empty()) {
    canvas_.finishTool();
  } else {
    drawn_.clear();
  }
  return true;
}

std::optional<std::pair<Vec2, Vec2>> SectionTool::lockFrom() const {
  if (drawn_.empty()) return std::nullopt;
  const bool first = drawn_.size() < 2;
  return std::pair(drawn_.back(), first ? Vec2{1, 0} : plane::unit(drawn_.back() - drawn_[drawn_.size() - 2]));
}

void SectionTool::paint(QPainter& painter) {
  const ViewTransform& view = canvas_.view();
  painter.setBrush(theme::amber());
  painter.setPen(QPen(theme::ink(), 1.2));
  if (drawn_.empty()) {
    for (const Vec2 p : state_.sectionLine()) painter.drawEllipse(view.toScreen(p), 4, 4);
    return;
  }
  QPolygonF line;
  for (const Vec2 p : drawn_) line << view.toScreen(p);
  if (pointer_) line << view.toScreen(*pointer_);
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(theme::ink(), 1.8, Qt::DashLine));
  painter.drawPolyline(line);
}

void paintSectionLine(QPainter& painter, const std::vector<Vec2>& line, const ViewTransform& view) {
  QPolygonF shown;
  for (const Vec2 p : line) shown << view.toScreen(p);
  painter.setBrush(Qt::NoBrush);
  for (const auto& [colour, width] : {std::pair{theme::paper(), 4.0}, {theme::ink(), 1.6}}) {
    painter.setPen(QPen(colour, width, width < 2 ? Qt::DashDotLine : Qt::SolidLine));
    painter.drawPolyline(shown);
  }
  // It is seen from its right hand towards its left, so that it runs from left to right.
  painter.setPen(QPen(theme::ink(), 2.2));
  const auto tick = [&](QPointF at, QPointF along) {
    const double length = std::hypot(along.x(), along.y());
    if (length > 0) painter.drawLine(at, at + QPointF(along.y(), -along.x()) * (12 / length));
  };
  tick(shown.front(), shown[1] - shown[0]);
  tick(shown.back(), shown.back() - shown[shown.size() - 2]);
}

void paintKeptLine(QPainter& painter, const project::SectionLine& line, const ViewTransform& view) {
  QPolygonF shown;
  for (const Vec2 p : line.line) shown << view.toScreen(p);
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(theme::muted(), 1.1, Qt::DashDotLine));
  painter.drawPolyline(shown);
  const QString name = QString::fromStdString(line.name);
  const QSizeF size(painter.fontMetrics().horizontalAdvance(name) + 8, painter.fontMetrics().height() + 2);
  const auto beyond = [&](QPointF end, QPointF next) {
    const double length = std::hypot(end.x() - next.x(), end.y() - next.y());
    if (!(length > 0)) return;
    QRectF plate({}, size);
    plate.moveCenter(end + (end - next) * ((4 + std::max(size.width(), size.height()) / 2) / length));
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::faded(theme::paper(), 210));
    painter.drawRoundedRect(plate, 3, 3);
    painter.setPen(theme::ink());
    painter.drawText(plate, Qt::AlignCenter, name);
  };
  beyond(shown.front(), shown[1]);
  beyond(shown.back(), shown[shown.size() - 2]);
}

}  // namespace inselberg::app
