// A short text on a light plate over the plan: a length, a reading, a level.
#pragma once

#include <QPainter>

#include "theme/theme.h"

namespace inselberg::app {

// The text in the middle of its plate; `opacity` of that, to 255, and how round its corners are.
inline void paintOnPlate(QPainter& painter, const QRectF& plate, const QString& text, int opacity, double round = 2) {
  painter.setPen(Qt::NoPen);
  painter.setBrush(theme::faded(theme::paper(), opacity));
  painter.drawRoundedRect(plate, round, round);
  painter.setPen(theme::ink());
  painter.drawText(plate, Qt::AlignCenter | Qt::TextDontClip, text);
}

// `topLeft` is where the text starts; the plate is a little larger. It is moved left as far as it would pass `right`.
inline void paintLabel(QPainter& painter, const QString& text, QPointF topLeft, double right) {
  QRectF box = painter.fontMetrics().boundingRect(text);
  box.moveTopLeft(topLeft);
  box.moveLeft(std::min(box.left(), right - box.width() - 14));
  paintOnPlate(painter, box.adjusted(-4, -2, 4, 2), text, 220, 3);
}

}  // namespace inselberg::app
