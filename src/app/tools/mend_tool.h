// Mending the triangles of a ground built from sources: one press each, kept through every rebuild.
#pragma once

#include "canvas/canvas.h"

namespace inselberg::app {

enum class Mending { swapEdge, deleteTriangle, deletePoint, addPoint };

class MendTool : public Tool {
 public:
  MendTool(Canvas& canvas, Mending kind) : canvas_(canvas), kind_(kind) {}

  QString hint() const override;
  void press(const Pointed& at, Qt::KeyboardModifiers modifiers) override;
  void move(const Pointed& at, bool dragging, Qt::KeyboardModifiers modifiers) override;
  bool key(int key, Qt::KeyboardModifiers modifiers) override;
  void paint(QPainter& painter) override;
  bool snaps() const override { return false; }
  bool wantsText() const override { return kind_ == Mending::addPoint; }
  QString typed(const QString& text) override;

 private:
  // The ground that is mended: the chosen one when it is built from sources, else the survey's.
  GroundId target() const;
  std::optional<ground::Mend> under(plane::Vec2 p) const;

  Canvas& canvas_;
  Mending kind_;
  std::optional<plane::Vec2> pointer_;
  std::optional<double> level_;
};

}  // namespace inselberg::app
