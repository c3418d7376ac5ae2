#include "gather/thumbnail.h"

#include <QPainter>

#include "base/quantity.h"
#include "plan/view_transform.h"
#include "theme/theme.h"

namespace inselberg::app {

void Thumbnail::setData(const exchange::Imported* shown) {
  data_ = shown;
  update();
}

void Thumbnail::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setPen(theme::rule);
  painter.setBrush(QColor(0xFC, 0xFB, 0xF8));
  painter.drawRect(rect().adjusted(0, 0, -1, -1));
  const plane::Box box = data_ ? data_->bounds() : plane::Box{};
  if (box.empty()) {
    painter.setPen(theme::muted);
    painter.drawText(rect(), Qt::AlignCenter, tr("nothing to show"));
    return;
  }
  ViewTransform view;
  view.size = size();
  view.fit(box, 16);
  // More than this many marks look the same.
  constexpr std::size_t kMost = 40000;
  const std::size_t faceStep = data_->modelTriangles.size() / kMost + 1;
  painter.setPen(QPen(theme::granite, 0.5));
  for (std::size_t i = 0; i < data_->modelTriangles.size(); i += faceStep) {
    QPolygonF face;
    for (const auto v : data_->modelTriangles[i]) face << view.toScreen(data_->modelPoints[v].plan());
    painter.drawPolygon(face);
  }
  painter.setPen(Qt::NoPen);
  painter.setBrush(theme::granite);
  const std::size_t step = data_->points.size() / kMost + 1;
  for (std::size_t i = 0; i < data_->points.size(); i += step) {
    const QPointF p = view.toScreen(data_->points[i].plan());
    painter.drawRect(QRectF(p.x() - 0.9, p.y() - 0.9, 1.8, 1.8));
  }
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(theme::loam, 1.3));
  for (const auto& line : data_->lines) {
    QPolygonF shape;
    for (const auto& p : line.vertices) shape << view.toScreen(p.plan());
    if (line.closed && !shape.isEmpty()) shape << shape.front();
    painter.drawPolyline(shape);
  }
  painter.setPen(QPen(theme::ink, 1.6, Qt::DashLine));
  for (const auto& area : data_->areas) {
    const auto ring = [&](const plane::Ring& r) {
      QPolygonF shape;
      for (const auto p : r) shape << view.toScreen(p);
      painter.drawPolygon(shape);
    };
    ring(area.polygon.outer);
    for (const auto& hole : area.polygon.holes) ring(hole);
  }
  painter.setPen(theme::muted);
  painter.drawText(rect().adjusted(6, 0, -6, -4), Qt::AlignBottom | Qt::AlignLeft,
                   tr("%1 × %2 m")
                       .arg(QString::fromStdString(formatNumber(box.width(), 0)),
                            QString::fromStdString(formatNumber(box.height(), 0))));
}

}  // namespace inselberg::app
