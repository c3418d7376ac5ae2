// The line of the section on the plan: drawn by clicks, then dragged by its ends and corners, or swept across the site.
#pragma once

#include "canvas/canvas.h"
#include "workspace/view_state.h"

namespace inselberg::app {

class SectionTool : public Tool {
 public:
  SectionTool(Canvas& canvas, ViewState& state) : canvas_(canvas), state_(state) {}

  QString hint() const override;
  void press(const Pointed& at, Qt::KeyboardModifiers modifiers) override;
  void move(const Pointed& at, bool dragging, Qt::KeyboardModifiers modifiers) override;
  void release(const Pointed& at) override;
  void doubleClick(const Pointed& at) override;
  bool key(int key, Qt::KeyboardModifiers modifiers) override;
  void paint(QPainter& painter) override;
  std::optional<std::pair<plane::Vec2, plane::Vec2>> lockFrom() const override;

 private:
  // What a press there takes hold of: a place of the line, or all of it.
  struct Hold {
    std::size_t place = 0;
    bool all = false;
    plane::Vec2 from;
    std::vector<plane::Vec2> line;  // as it was
  };
  std::optional<Hold> holdAt(const Pointed& at) const;
  void finish();

  Canvas& canvas_;
  ViewState& state_;
  std::vector<plane::Vec2> drawn_;
  std::optional<plane::Vec2> pointer_;
  std::optional<Hold> hold_;
};

// The line with a tick at either end towards the side it is seen from.
void paintSectionLine(QPainter& painter, const std::vector<plane::Vec2>& line, const ViewTransform& view);
// One that is kept, with its name beyond either end.
void paintKeptLine(QPainter& painter, const project::SectionLine& line, const ViewTransform& view);

}  // namespace inselberg::app
