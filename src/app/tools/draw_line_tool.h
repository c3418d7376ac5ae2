// Drawing points, breaklines, contours, boundaries, voids and lines of contour labels, by clicks and by typing.
#pragma once

#include "canvas/canvas.h"
#include "project/features.h"
#include "tools/sheet_tracer.h"

namespace inselberg::app {

enum class Drawn { point, breakline, contour, boundary, voids, labels };

// Clicks set places; typing opens a line for places ("412010 6187020", "+5 -3", "25 at 120") and levels ("z 71.5",
// "z ground", "z none"). A: the next stretch is an arc that goes on from the one before. W: follow the line that two
// clicks lie on. T: follow the dark line of the sheet beneath between clicks. A contour takes the next level at each
// new line; Up and Down step it.
class DrawLineTool : public Tool {
 public:
  DrawLineTool(Canvas& canvas, Drawn kind, double interval);

  QString hint() const override;
  void press(const Pointed& at, Qt::KeyboardModifiers modifiers) override;
  void move(const Pointed& at, bool dragging, Qt::KeyboardModifiers modifiers) override;
  void doubleClick(const Pointed& at) override;
  bool key(int key, Qt::KeyboardModifiers modifiers) override;
  bool ownsLetter(int key) const override { return key == Qt::Key_A || key == Qt::Key_W || key == Qt::Key_T; }
  void paint(QPainter& painter) override;
  std::optional<std::pair<plane::Vec2, plane::Vec2>> lockFrom() const override;
  bool showsSources() const override { return kind_ != Drawn::labels; }
  bool wantsText() const override { return true; }
  QString typed(const QString& text) override;

 private:
  bool levelled() const { return !area() && kind_ != Drawn::labels; }
  bool area() const { return kind_ == Drawn::boundary || kind_ == Drawn::voids; }
  void add(plane::Vec2 place);
  std::vector<plane::Vec3> stretchTo(plane::Vec2 place) const;  // the vertices a click there would add
  double levelFor(plane::Vec2 place) const;
  std::vector<plane::Vec2> tracedTo(plane::Vec2 place);
  void finish(bool closed);

  Canvas& canvas_;
  Drawn kind_;
  double interval_;
  std::vector<plane::Vec3> vertices_;
  std::vector<std::size_t> marks_;  // how many vertices there were before each click
  std::optional<plane::Vec2> pointer_;
  std::optional<double> level_;  // typed, or the contour's
  bool fromGround_ = false, arc_ = false, follow_ = false, trace_ = false;
  double closeness_ = 1;  // of the stretch that was traced last
  std::unique_ptr<SheetTracer> tracer_;
};

}  // namespace inselberg::app
