// Taking what is drawn on plan sheets, a whole line at a click; and levels for contours that have none yet.
#pragma once

#include "canvas/canvas.h"
#include "sheet/sheet_lines.h"

namespace inselberg::app {

enum class TakenAs { contour, breakline, boundary, voids, pad };

// A click takes the line under the pointer, joined over dashes, gaps and labels; with Shift all lines of its colour and
// width. A contour gets the level of its label, else the next one: typed, or stepped with Up and Down. A pad gets the
// level that stands in it. What is taken goes to a source of the sheet's own.
class TakeTool : public Tool {
 public:
  TakeTool(Canvas& canvas, TakenAs as, double interval);

  QString hint() const override;
  void press(const Pointed& at, Qt::KeyboardModifiers modifiers) override;
  void move(const Pointed& at, bool dragging, Qt::KeyboardModifiers modifiers) override;
  bool key(int key, Qt::KeyboardModifiers modifiers) override;
  void paint(QPainter& painter) override;
  bool snaps() const override { return false; }
  bool showsSources() const override { return true; }
  bool wantsText() const override { return as_ != TakenAs::boundary && as_ != TakenAs::voids; }
  QString typed(const QString& text) override;

 private:
  struct Found {
    sheet::WholeLine line;
    project::PlanSheetPtr sheet;
    std::shared_ptr<const sheet::SheetLines> lines;
  };
  std::optional<Found> under(plane::Vec2 p) const;
  bool area() const { return as_ == TakenAs::boundary || as_ == TakenAs::voids || as_ == TakenAs::pad; }
  std::optional<double> levelFor(const Found& found) const;
  void take(const Found& found, std::vector<sheet::WholeLine> lines);
  void takePad(const Found& found);

  Canvas& canvas_;
  TakenAs as_;
  double interval_;
  std::optional<double> level_;  // of the next contour, or as typed
  std::optional<Found> hovered_;
};

// A stroke across contours sets their levels in the order it crosses them: from one that is known up or down by the
// interval. Levels that do not fit in between are questioned.
class LevelsTool : public Tool {
 public:
  LevelsTool(Canvas& canvas, double interval);

  QString hint() const override;
  void press(const Pointed& at, Qt::KeyboardModifiers modifiers) override;
  void move(const Pointed& at, bool dragging, Qt::KeyboardModifiers modifiers) override;
  void release(const Pointed& at) override;
  bool key(int key, Qt::KeyboardModifiers modifiers) override;
  bool ownsLetter(int key) const override { return key == Qt::Key_D; }
  void paint(QPainter& painter) override;
  bool snaps() const override { return false; }
  bool showsSources() const override { return true; }
  bool wantsText() const override { return true; }
  QString typed(const QString& text) override;

 private:
  Canvas& canvas_;
  double interval_;
  bool falling_ = false;
  std::optional<double> level_;  // of the first that is crossed, where none is known
  std::optional<plane::Vec2> from_, to_;
};

}  // namespace inselberg::app
