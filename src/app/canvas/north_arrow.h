// The arrow to the north in a view's corner.
#pragma once

#include <QPainter>

#include "theme/theme.h"

namespace inselberg::app {

// Around a place of the view. `bearing`: the way up, degrees clockwise from north; `upright`: how much of its height is
// seen, 1 from straight above.
inline void paintNorth(QPainter& painter, QPointF at, double bearing = 0, double upright = 1) {
  painter.save();
  painter.translate(at);
  painter.setPen(Qt::NoPen);
  painter.setBrush(theme::faded(theme::paper(), 215));
  painter.drawEllipse(QPointF(0, 0), 17, 17);
  painter.scale(1, upright);
  painter.rotate(-bearing);
  painter.setBrush(theme::ink());
  painter.drawPolygon(QPolygonF() << QPointF(0, -13) << QPointF(5, 9) << QPointF(0, 5));
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(theme::ink(), 1));
  painter.drawPolygon(QPolygonF() << QPointF(0, -13) << QPointF(-5, 9) << QPointF(0, 5));
  painter.restore();
}

}  // namespace inselberg::app
