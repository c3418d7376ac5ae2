#include "plan/works_lines.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "base/quantity.h"
#include "canvas/label.h"
#include "theme/theme.h"
#include "workspace/lengths.h"

namespace inselberg::app {

using plane::Vec2;

QPolygonF screenLine(const std::vector<plane::Vec3>& points, bool closed, const ViewTransform& view) {
  QPolygonF line;
  for (const plane::Vec3& p : points) line << view.toScreen(p.plan());
  if (closed && !line.isEmpty()) line << line.front();
  return line;
}

void paintWorksLines(QPainter& painter, std::span<const project::PlacedWorks> works, WorksId chosen,
                     const ViewTransform& view) {
  painter.setBrush(Qt::NoBrush);
  for (const project::PlacedWorks& w : works) {
    const bool strong = w.works->id == chosen;
    const auto draw = [&](const auto& lines, const QPen& pen) {
      painter.setPen(pen);
      for (const auto& line : lines) painter.drawPolyline(screenLine(line.points, line.closed, view));
    };
    draw(w.placement->daylight, QPen(theme::daylight(), 1.2));
    draw(w.placement->ends, QPen(theme::error(), 2, Qt::DotLine));
    draw(w.placement->crests, QPen(strong ? theme::amber() : theme::ink(), strong ? 2.4 : 1.5));
  }
}

void paintWorksLabels(QPainter& painter, const PlanPicture& picture, const ViewTransform& view,
                      std::vector<QRectF>& plates) {
  QFont font = painter.font();
  font.setPixelSize(theme::pixels(10));
  painter.setFont(font);
  const auto write = [&](const std::string& words, Vec2 at, Vec2 along) {
    const QString text = QString::fromStdString(words);
    QTransform turn = QTransform::fromTranslate(view.toScreen(at).x(), view.toScreen(at).y());
    turn.rotate(-std::atan2(along.y, along.x) * 180 / std::numbers::pi);
    const QSizeF size(painter.fontMetrics().horizontalAdvance(text) + 4, painter.fontMetrics().height() - 2);
    const QRectF plate(QPointF(-size.width() / 2, -size.height() / 2), size), taken = turn.mapRect(plate);
    if (std::any_of(plates.begin(), plates.end(), [&](const QRectF& other) { return other.intersects(taken); }))
      return false;
    plates.push_back(taken);
    painter.save();
    painter.setTransform(turn, true);
    paintOnPlate(painter, plate, text, 190);
    painter.restore();
    return true;
  };
  for (const report::SlopeLabel& label : picture.slopes) write(label.text, label.at, label.along);
  for (const CornerLevel& level : picture.corners) {
    if (!write(lengths::number(level.corner.z, 2).toStdString(), level.at, {1, 0})) continue;
    const QPointF p = view.toScreen(level.corner.plan());
    painter.setPen(QPen(theme::ink(), 1));
    painter.drawLine(p - QPointF(4, 0), p + QPointF(4, 0));
    painter.drawLine(p - QPointF(0, 4), p + QPointF(0, 4));
  }
}

}  // namespace inselberg::app
