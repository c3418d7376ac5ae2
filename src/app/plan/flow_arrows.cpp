#include "plan/flow_arrows.h"

#include <QPainter>
#include <cmath>

#include "base/quantity.h"
#include "theme/theme.h"

namespace inselberg::app {
namespace {

constexpr double kSpacing = 36;           // pixels
constexpr int kEvery = 3;                 // arrows from one figure to the next, along and across
constexpr double kFlat = 0.002;           // m of fall per m
constexpr double kSteep = 0.2;            // from here on arrows are no longer
constexpr double kShort = 8, kLong = 26;  // pixels

void paintArrow(QPainter& painter, QPointF middle, QPointF way, double length) {
  const QPointF tip = middle + length / 2 * way, start = middle - length / 2 * way;
  const QPointF across(-way.y(), way.x());
  painter.drawLine(start, tip - 3 * way);
  painter.drawPolygon(QPolygonF() << tip << tip - 6 * way + 2.8 * across << tip - 6 * way - 2.8 * across);
}

}  // namespace

void paintFlow(QPainter& painter, const SurfaceAt& surface, const ViewTransform& view) {
  painter.setPen(QPen(theme::water(), 1.3));
  QFont font = painter.font();
  font.setPixelSize(theme::pixels(9));
  painter.setFont(font);
  // The grid is the plan's, so that arrows stay where they are when it is moved.
  const double step = kSpacing / view.scale;
  const plane::Box box = view.visible();
  const auto column = static_cast<long>(std::floor(box.minX / step)),
             row = static_cast<long>(std::floor(box.minY / step));
  for (long i = column; static_cast<double>(i) * step < box.maxX; ++i) {
    for (long j = row; static_cast<double>(j) * step < box.maxY; ++j) {
      const plane::Vec2 p{(static_cast<double>(i) + 0.5) * step, (static_cast<double>(j) + 0.5) * step};
      const auto plane = surface(p);
      if (!plane) continue;
      const double steep = plane::norm(plane->gradient);
      const QPointF at = view.toScreen(p);
      if (steep < kFlat) {
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(at, 2.5, 2.5);
        continue;
      }
      painter.setBrush(theme::water());
      // Down on the screen is south.
      const QPointF way(-plane->gradient.x / steep, plane->gradient.y / steep);
      const double length = kShort + (kLong - kShort) * std::min(1.0, steep / kSteep);
      paintArrow(painter, at, way, length);
      if (i % kEvery == 0 && j % kEvery == 0)
        painter.drawText(at + QPointF(5, -5), QString::fromStdString(formatNumber(100 * steep, steep < 0.1 ? 1 : 0)));
    }
  }
}

}  // namespace inselberg::app
