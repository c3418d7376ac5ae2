// How near the pointer must come to take hold of something.
#pragma once

#include <QPointF>
#include <cmath>

namespace inselberg::app {

inline constexpr double kGrab = 9;   // pixels
inline constexpr double kStill = 3;  // pixels: a lesser way is a click, no drag

inline double pixels(QPointF a, QPointF b) {
  return std::hypot(a.x() - b.x(), a.y() - b.y());
}

}  // namespace inselberg::app
