#include "window/layout_preview.h"

#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

#include "canvas/paint_page.h"
#include "theme/theme.h"

namespace inselberg::app {

LayoutPreview::LayoutPreview(QWidget* parent) : QWidget(parent) {
  setObjectName("layoutPreview");
  setMinimumSize(360, 300);
  setAccessibleName(tr("The sheet as it will be printed"));
}

void LayoutPreview::showPage(drawing::Page page, const plane::Box& plan) {
  const bool other = page.width != page_.width || page.height != page_.height;
  page_ = std::move(page), plan_ = plan;
  why_.clear();
  if (other || fitted_) return fit();
  draw();
}

void LayoutPreview::say(const QString& why) {
  why_ = why;
  update();
}

void LayoutPreview::fit() {
  fitted_ = true;
  if (page_.width <= 0) return;
  constexpr double kAround = 12;
  scale_ = std::min((width() - 2 * kAround) / page_.width, (height() - 2 * kAround) / page_.height);
  corner_ = {(width() - scale_ * page_.width) / 2, (height() - scale_ * page_.height) / 2};
  draw();
}

QPointF LayoutPreview::onScreen(plane::Vec2 mm) const {
  return corner_ + scale_ * QPointF(mm.x, page_.height - mm.y);
}

QRectF LayoutPreview::frame() const {
  return {onScreen({plan_.minX, plan_.maxY}), onScreen({plan_.maxX, plan_.minY})};
}

void LayoutPreview::draw() {
  const double dots = devicePixelRatioF();
  picture_ = QPixmap(size() * dots);
  picture_.setDevicePixelRatio(dots);
  picture_.fill(theme::rule());
  QPainter painter(&picture_);
  const QRectF sheet(corner_, QSizeF(scale_ * page_.width, scale_ * page_.height));
  painter.fillRect(sheet.translated(3, 3), QColor(0, 0, 0, 40));
  painter.fillRect(sheet, Qt::white);
  painter.setClipRect(sheet);
  painter.translate(corner_);
  painter.scale(scale_, scale_);
  paintPage(painter, page_);
  update();
}

void LayoutPreview::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  if (!why_.isEmpty() || page_.width <= 0) {
    painter.fillRect(rect(), theme::rule());
    painter.setPen(theme::ink());
    painter.drawText(rect().adjusted(30, 30, -30, -30), Qt::AlignCenter | Qt::TextWordWrap, why_);
    return;
  }
  painter.drawPixmap(0, 0, picture_);
  if (!from_ || !movesPlan_) return;
  // The plan goes with the hand; what comes in from outside its frame is drawn once it rests.
  painter.setClipRect(frame());
  painter.fillRect(frame(), Qt::white);
  painter.drawPixmap(*now_ - *from_, picture_);
}

void LayoutPreview::resizeEvent(QResizeEvent*) {
  fitted_ ? fit() : draw();
}

void LayoutPreview::wheelEvent(QWheelEvent* event) {
  if (page_.width <= 0) return;
  const double by = std::clamp(scale_ * std::pow(1.2, event->angleDelta().y() / 120.0), 0.2, 40.0) / scale_;
  corner_ = event->position() + by * (corner_ - event->position());
  scale_ *= by;
  fitted_ = false;
  draw();
}

void LayoutPreview::mousePressEvent(QMouseEvent* event) {
  if (page_.width <= 0 || !why_.isEmpty()) return;
  from_ = now_ = event->position();
  movesPlan_ = event->button() == Qt::LeftButton && frame().contains(event->position());
  setCursor(Qt::ClosedHandCursor);
}

void LayoutPreview::mouseMoveEvent(QMouseEvent* event) {
  if (!from_) return;
  if (!movesPlan_) {
    corner_ += event->position() - *now_;
    fitted_ = false;
    draw();
  }
  now_ = event->position();
  update();
}

void LayoutPreview::mouseReleaseEvent(QMouseEvent* event) {
  if (!from_) return;
  const QPointF by = (event->position() - *from_) / scale_;
  from_.reset();
  unsetCursor();
  if (movesPlan_ && std::hypot(by.x(), by.y()) * scale_ > 2) Q_EMIT planMoved({by.x(), -by.y()});
  update();
}

}  // namespace inselberg::app
