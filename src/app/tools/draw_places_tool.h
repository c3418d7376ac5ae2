// Drawing an outline by its corners, or a line by its points: of works of a kind, a region, a strip.
#pragma once

#include <functional>

#include "canvas/canvas.h"

namespace inselberg::app {

struct ToDraw {
  QString name;                         // "pad"
  bool outline = true;                  // else a line
  std::optional<project::AreaUse> use;  // of the areas that it lies beside
  // Takes what was drawn, and the level that was typed for it, into the project; what it throws is told, and drawing
  // goes on.
  std::function<void(const works::Places&, std::optional<double> level)> done;
  bool levelled = false;  // "z 74.5" gives it a level
};
// Works as they are offered, onto the finished ground; chosen when they are drawn, and the tool is laid down. A level
// area takes the level that was typed, or the mean of the two contours it lies between; the tool stays for the next
// one.
ToDraw worksToDraw(Canvas& canvas, const works::Offer& offer);

// Clicks set points; typing opens a line for places, lengths and rectangles. W: follow the border of a neighbour, or a
// line of the survey, between two clicks on it.
class DrawPlacesTool : public Tool {
 public:
  DrawPlacesTool(Canvas& canvas, ToDraw what);

  QString hint() const override;
  void press(const Pointed& at, Qt::KeyboardModifiers modifiers) override;
  void move(const Pointed& at, bool dragging, Qt::KeyboardModifiers modifiers) override;
  void doubleClick(const Pointed& at) override;
  bool key(int key, Qt::KeyboardModifiers modifiers) override;
  bool wantsText() const override { return true; }
  QString typed(const QString& text) override;
  void paint(QPainter& painter) override;
  std::optional<std::pair<plane::Vec2, plane::Vec2>> lockFrom() const override;
  bool ownsLetter(int key) const override { return key == Qt::Key_W; }
  std::optional<project::AreaUse> covering() const override { return what_.use; }

 private:
  void finish();
  std::size_t fewest() const { return what_.outline ? 3 : 2; }
  works::Places wayTo(plane::Vec2 place) const;  // the points that a click there adds

  Canvas& canvas_;
  ToDraw what_;
  works::Places points_;
  bool follow_ = false;
  std::optional<double> level_;  // typed, for this and the next
  std::optional<plane::Vec2> pointer_;
};

}  // namespace inselberg::app
