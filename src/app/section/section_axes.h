// From stations and levels to the screen and back.
#pragma once

#include <QPointF>
#include <QRectF>
#include <algorithm>
#include <cmath>

namespace inselberg::app {

struct SectionAxes {
  QRectF area;              // of the plot, pixels
  double station = 0;       // at its left, m
  double level = 0;         // at its bottom, m
  double scale = 1;         // pixels for a metre along
  double exaggeration = 1;  // pixels for a metre up, in metres along

  double up() const { return scale * exaggeration; }
  QPointF toScreen(double s, double z) const {
    return {area.left() + (s - station) * scale, area.bottom() - (z - level) * up()};
  }
  double stationAt(double x) const { return station + (x - area.left()) / scale; }
  double levelAt(double y) const { return level + (area.bottom() - y) / up(); }

  // All of it, at the roundest exaggeration that leaves room above and below.
  void fit(double length, double low, double high) {
    scale = area.width() / std::max(length, 1e-3);
    station = 0;
    const double room = 0.8 * area.height() / (std::max(high - low, 0.2) * scale);
    exaggeration = 0.1;
    for (const double e : {0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0}) {
      if (e <= room) exaggeration = e;
    }
    level = (low + high) / 2 - area.height() / up() / 2;
  }
  // About a place that stays where it is.
  void zoom(double factor, QPointF at) {
    const double s = stationAt(at.x()), z = levelAt(at.y());
    scale = std::clamp(scale * factor, 1e-3, 1e4);
    station = s - (at.x() - area.left()) / scale;
    level = z - (area.bottom() - at.y()) / up();
  }
  void exaggerate(double to, double y) {
    const double z = levelAt(y);
    exaggeration = std::clamp(to, 0.1, 1000.0);
    level = z - (area.bottom() - y) / up();
  }
};

}  // namespace inselberg::app
