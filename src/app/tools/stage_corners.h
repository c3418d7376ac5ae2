// The corners of the chosen strip, undercut or build-up: dragged, added and removed.
#pragma once

#include "canvas/canvas.h"

namespace inselberg::app {

class StageCorners {
 public:
  explicit StageCorners(Canvas& canvas) : canvas_(canvas) {}

  // Whether what is chosen has any: what lies below works takes its place from these.
  bool any() const;
  // Whether a corner or a side lies there.
  bool holds(const Pointed& at) const { return cornerAt(at.screen) || sideAt(at.plan); }
  // Each answers whether there was a corner to take; a press also whether there is a side, which is left as it is, and
  // `addCorner` whether there was a side alone.
  bool press(const Pointed& at);
  bool hover(const Pointed& at);
  bool addCorner(const Pointed& at);
  bool removeCorner();

  bool dragging() const { return drag_.has_value(); }
  void drag(const Pointed& at);
  void release();
  // Puts it back where it was.
  void cancel();

  // Of the one that is dragged: where it is now, and the place the right-angle lock measures from with its direction.
  std::optional<plane::Vec2> place() const;
  std::optional<std::pair<plane::Vec2, plane::Vec2>> lockFrom() const;

  void paint(QPainter& painter) const;

 private:
  struct Corner {
    std::size_t path, index;
    bool operator==(const Corner&) const = default;
  };
  struct Drag {
    Corner corner;
    QPointF startMouse;
    project::Stages before;
    bool moved = false;
  };

  WorksId chosen() const { return canvas_.workspace().chosenStage(); }
  std::string name() const;
  std::optional<Corner> cornerAt(QPointF screen) const;
  // The corner that the side begins at.
  std::optional<Corner> sideAt(plane::Vec2 p) const;
  void commit(std::size_t path, std::vector<plane::Vec2> points, const QString& what);

  Canvas& canvas_;
  std::optional<Corner> hovered_;
  std::optional<Drag> drag_;
};

}  // namespace inselberg::app
