// Choosing works, and shaping the chosen one, or the chosen strip, undercut or build-up, by its handles.
#pragma once

#include "canvas/canvas.h"
#include "tools/stage_corners.h"
#include "works/handles.h"
#include "works/leg_handles.h"

namespace inselberg::app {

class SelectTool : public Tool {
 public:
  explicit SelectTool(Canvas& canvas) : canvas_(canvas), stage_(canvas) {}

  QString hint() const override;
  void press(const Pointed& at, Qt::KeyboardModifiers modifiers) override;
  void move(const Pointed& at, bool dragging, Qt::KeyboardModifiers modifiers) override;
  void release(const Pointed& at) override;
  void doubleClick(const Pointed& at) override;
  bool key(int key, Qt::KeyboardModifiers modifiers) override;
  bool wantsText() const override;
  QString typed(const QString& text) override;
  void paint(QPainter& painter) override;
  bool holds(const Pointed& at) const override;
  bool snaps() const override { return stage_.dragging() || (drag_ && drag_->handle.grip == works::Grip::corner); }
  std::optional<plane::Vec2> notTo() const override;
  std::optional<std::pair<plane::Vec2, plane::Vec2>> lockFrom() const override;

 private:
  // A leg of a section being dragged, or under the pointer.
  struct LegDrag {
    works::LegHandle handle;
    works::Works before;
    bool moved = false;
  };
  struct Drag {
    works::Handle handle;
    plane::Vec2 start;
    QPointF startMouse;
    works::Works before;
    bool moved = false;
  };
  // A handle in sight, and where it is on the screen.
  struct Shown {
    works::Handle handle;
    QPointF at;
  };

  std::optional<works::Works> chosen() const;
  // The same where the pointer may move it: it is not held in place.
  std::optional<works::Works> movable() const;
  // The handles of the chosen works that lie apart on the screen.
  std::vector<Shown> shownHandles(const works::Shape& shape) const;
  std::optional<works::Handle> handleAt(QPointF screen) const;
  // Those of the chosen works' sections, as it is placed.
  std::vector<works::LegHandle> legHandles() const;
  std::optional<works::LegHandle> legAt(QPointF screen) const;
  void dragLeg(plane::Vec2 to);
  void paintLegs(QPainter& painter);
  // Whether the works is large enough on the screen to hold its handles.
  bool hasRoom(const works::Shape& shape) const;
  bool nudge(int key, Qt::KeyboardModifiers modifiers);
  void removeCornerOf(const works::Works& works);
  void commit(const works::Works& changed, const QString& what);

  Canvas& canvas_;
  std::optional<works::Handle> hovered_;
  std::optional<Drag> drag_;
  std::optional<QPointF> pressedBeside_;  // where nothing is: a click lets go, but the plan may be moved by it
  std::optional<works::LegHandle> hoveredLeg_;
  std::optional<LegDrag> legDrag_;
  StageCorners stage_;
};

}  // namespace inselberg::app
