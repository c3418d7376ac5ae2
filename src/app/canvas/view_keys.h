// The keys that move a view in plan.
#pragma once

#include <Qt>

#include "canvas/view_transform.h"

namespace inselberg::app {

// Arrows move the view, + and - zoom about its middle. False when the key is none of these.
inline bool moveByKey(ViewTransform& view, int key) {
  const double step = 60 / view.scale;
  const QPointF middle(view.size.width() / 2, view.size.height() / 2);
  switch (key) {
    case Qt::Key_Left:
      view.centre.x -= step;
      return true;
    case Qt::Key_Right:
      view.centre.x += step;
      return true;
    case Qt::Key_Up:
      view.centre.y += step;
      return true;
    case Qt::Key_Down:
      view.centre.y -= step;
      return true;
    case Qt::Key_Plus:
    case Qt::Key_Equal:
      view.zoom(1.25, middle);
      return true;
    case Qt::Key_Minus:
      view.zoom(0.8, middle);
      return true;
    default:
      return false;
  }
}

}  // namespace inselberg::app
