// Taking a contour out of the ground as a line of its own.
#pragma once

#include <vector>

#include "canvas/canvas.h"
#include "ground/contours.h"

namespace inselberg::app {

class ContourTool : public Tool {
 public:
  // Contours every so many metres.
  ContourTool(Canvas& canvas, double interval) : canvas_(canvas), interval_(interval) {}

  QString hint() const override;
  void press(const Pointed& at, Qt::KeyboardModifiers modifiers) override;
  void move(const Pointed& at, bool dragging, Qt::KeyboardModifiers modifiers) override;
  bool key(int key, Qt::KeyboardModifiers modifiers) override;
  void paint(QPainter& painter) override;
  bool snaps() const override { return false; }
  bool showsSources() const override { return true; }

 private:
  // The contour beside a place, of the chosen ground; null when there is none.
  const ground::Contour* beside(plane::Vec2 p);

  Canvas& canvas_;
  double interval_;
  ground::TinPtr of_;  // what `lines_` are the contours of
  std::vector<ground::Contour> lines_;
  const ground::Contour* hovered_ = nullptr;
};

}  // namespace inselberg::app
