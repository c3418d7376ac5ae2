// Choosing points, lines and outlines of the sources, and changing them with the mouse.
#pragma once

#include "canvas/canvas.h"
#include "project/features.h"

namespace inselberg::app {

// A click chooses (Shift: one more), a drag over nothing chooses what lies inside a box (with Alt: inside the line
// drawn). A vertex is dragged on its own, a chosen feature as a whole (Ctrl: a copy of it). A double-click on a side
// puts a vertex there, Delete takes the one under the pointer out, or all that is chosen. X splits under the pointer.
class EditLineTool : public Tool {
 public:
  explicit EditLineTool(Canvas& canvas) : canvas_(canvas) {}

  // The next click names the other line: for trimming, extending, or taking levels from.
  using WithOther = std::function<void(const project::Feature& other, plane::Vec2 place)>;
  void pickOther(const QString& what, const WithOther& then);

  QString hint() const override;
  void press(const Pointed& at, Qt::KeyboardModifiers modifiers) override;
  void move(const Pointed& at, bool dragging, Qt::KeyboardModifiers modifiers) override;
  void release(const Pointed& at) override;
  void doubleClick(const Pointed& at) override;
  bool key(int key, Qt::KeyboardModifiers modifiers) override;
  void paint(QPainter& painter) override;
  bool snaps() const override { return drag_ && drag_->kind == Drag::vertex; }
  std::optional<plane::Vec2> notTo() const override;
  bool showsSources() const override { return true; }

 private:
  struct Drag {
    enum Kind { vertex, whole, box, lasso } kind = box;
    plane::Vec2 start;
    QPointF startMouse;
    project::Feature feature;
    std::size_t index = 0;
    project::ProjectPtr before;
    bool copy = false, moved = false;
  };

  std::optional<project::Met> meet(plane::Vec2 p) const;
  bool isChosen(const project::Feature& f) const;
  void choose(std::vector<project::Feature> list);
  void change(const std::function<project::ProjectPtr(const project::Project&)>& edit, const QString& what);

  Canvas& canvas_;
  std::optional<project::Met> hovered_;
  std::optional<Drag> drag_;
  std::optional<project::Feature> clicked_;  // locked, chosen when the press was no drag
  plane::Ring lasso_;
  QPointF pointer_;
  QString picking_;
  WithOther then_;
};

}  // namespace inselberg::app
