// A view that is drawn and dragged on, and the tool in hand. Tools know nothing of the view but this.
#pragma once

#include <QPointF>
#include <QString>
#include <Qt>
#include <optional>
#include <utility>

#include "canvas/view_transform.h"
#include "project/areas.h"
#include "workspace/workspace.h"

class QPainter;

namespace inselberg::app {

class Canvas {
 public:
  virtual ~Canvas() = default;
  virtual Workspace& workspace() = 0;
  virtual const ViewTransform& view() const = 0;
  virtual void showCursor(Qt::CursorShape shape) = 0;
  // Paints the tool's marks anew.
  virtual void repaintMarks() = 0;
  // The tool in hand has done its work.
  virtual void finishTool() = 0;
};

// Where the pointer is, after snapping.
struct Pointed {
  QPointF mouse;   // where the mouse itself is
  QPointF screen;  // of `plan`
  plane::Vec2 plan;
  bool snapped = false;
};

// What the mouse and keyboard do on a canvas. A tool paints its own marks over the picture.
class Tool {
 public:
  virtual ~Tool() = default;
  virtual QString hint() const { return {}; }  // what to do next, painted on the canvas
  virtual void press(const Pointed&, Qt::KeyboardModifiers) {}
  virtual void move(const Pointed&, bool, Qt::KeyboardModifiers) {}  // the bool: while dragging
  virtual void release(const Pointed&) {}
  virtual void doubleClick(const Pointed&) {}
  virtual bool key(int, Qt::KeyboardModifiers) { return false; }  // true: taken
  // Letters that mean something to this tool: they are no commands of the window while it is in hand.
  virtual bool ownsLetter(int) const { return false; }
  virtual void paint(QPainter&) {}
  // True when a press here would take hold of something (so that the picture is not dragged instead).
  virtual bool holds(const Pointed&) const { return true; }
  // The place the right-angle lock measures from, and the direction it is square to.
  virtual std::optional<std::pair<plane::Vec2, plane::Vec2>> lockFrom() const { return std::nullopt; }
  // A corner that is being dragged snaps to others, not to itself.
  virtual std::optional<plane::Vec2> notTo() const { return std::nullopt; }
  // Whether places are snapped at all now.
  virtual bool snaps() const { return true; }
  // Whether the sources' points and lines are shown while this tool is in hand.
  virtual bool showsSources() const { return false; }
  // The use of the areas whose coverage of the site matters while it is in hand.
  virtual std::optional<project::AreaUse> covering() const { return std::nullopt; }
  // A tool that takes typed text: what is typed on the canvas opens a line for it. The answer is what is wrong with it.
  virtual bool wantsText() const { return false; }
  virtual QString typed(const QString&) { return {}; }
};

}  // namespace inselberg::app
