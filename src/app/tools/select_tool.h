// Choosing works, and shaping the chosen one by its handles: corners, edges, the whole, the level.
#pragma once

#include "plan/plan_view.h"

namespace inselberg::app {

class SelectTool : public Tool {
 public:
  explicit SelectTool(PlanView& plan) : plan_(plan) {}

  QString hint() const override;
  void press(const Pointed& at, Qt::KeyboardModifiers modifiers) override;
  void move(const Pointed& at, bool dragging, Qt::KeyboardModifiers modifiers) override;
  void release(const Pointed& at) override;
  void doubleClick(const Pointed& at) override;
  bool key(int key, Qt::KeyboardModifiers modifiers) override;
  void paint(QPainter& painter) override;
  bool holds(const Pointed& at) const override;
  bool snaps() const override { return drag_ && drag_->part.kind == Part::corner; }
  std::optional<plane::Vec2> notTo() const override;
  std::optional<std::pair<plane::Vec2, plane::Vec2>> lockFrom() const override;

 private:
  // A part of the chosen works under the pointer.
  struct Part {
    enum Kind { none, corner, edge, whole, level } kind = none;
    std::size_t index = 0;
  };
  struct Drag {
    Part part;
    plane::Vec2 start;
    QPointF startScreen;
    works::Works before;
    bool moved = false;
  };

  Part partAt(QPointF screen) const;
  WorksId worksAt(plane::Vec2 p) const;
  std::optional<works::Works> chosen() const;
  QPointF levelHandle(const works::Works& works) const;
  // Whether the handles of an outline lie apart on the screen.
  bool hasRoom(const plane::Ring& ring) const;
  // Corners whose handles do not lie on each other.
  std::vector<std::size_t> cornersInReach(const plane::Ring& ring) const;
  void apply(const works::Works& changed);

  PlanView& plan_;
  Part hovered_;
  std::optional<Drag> drag_;
};

}  // namespace inselberg::app
