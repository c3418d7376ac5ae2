// From plan to screen and back. Screen y runs down.
#pragma once

#include <QPointF>
#include <QSizeF>
#include <algorithm>

#include "plane/geometry.h"

namespace inselberg::app {

struct ViewTransform {
  plane::Vec2 centre;     // plan position in the middle of the view
  double scale = 1;       // pixels per metre
  QSizeF size{100, 100};  // pixels
  bool operator==(const ViewTransform&) const = default;

  QPointF toScreen(plane::Vec2 p) const {
    return {size.width() / 2 + (p.x - centre.x) * scale, size.height() / 2 - (p.y - centre.y) * scale};
  }
  plane::Vec2 toPlan(QPointF q) const {
    return {centre.x + (q.x() - size.width() / 2) / scale, centre.y - (q.y() - size.height() / 2) / scale};
  }
  plane::Box visible() const {
    plane::Box box;
    box.add(toPlan({0, 0}));
    box.add(toPlan({size.width(), size.height()}));
    return box;
  }
  // Zooms by a factor with the plan position under `at` staying there.
  void zoom(double factor, QPointF at) {
    const plane::Vec2 fixed = toPlan(at);
    scale = std::clamp(scale * factor, 1e-3, 1e4);
    const plane::Vec2 moved = toPlan(at);
    centre = centre + (fixed - moved);
  }
  void fit(const plane::Box& box, double margin) {
    if (box.empty()) return;
    centre = box.centre();
    scale = std::clamp(std::min((size.width() - 2 * margin) / std::max(box.width(), 1e-3),
                                (size.height() - 2 * margin) / std::max(box.height(), 1e-3)),
                       1e-3, 1e7);
  }
};

}  // namespace inselberg::app
