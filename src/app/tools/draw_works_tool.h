// Drawing works of a kind: the corners of its outline, or the points of its line.
#pragma once

#include "canvas/canvas.h"

namespace inselberg::app {

class DrawWorksTool : public Tool {
 public:
  DrawWorksTool(Canvas& canvas, const works::Kind& kind);

  QString hint() const override;
  void press(const Pointed& at, Qt::KeyboardModifiers modifiers) override;
  void move(const Pointed& at, bool dragging, Qt::KeyboardModifiers modifiers) override;
  void doubleClick(const Pointed& at) override;
  bool key(int key, Qt::KeyboardModifiers modifiers) override;
  bool wantsText() const override { return true; }
  QString typed(const QString& text) override;
  void paint(QPainter& painter) override;
  std::optional<std::pair<plane::Vec2, plane::Vec2>> lockFrom() const override;

 private:
  void finish();
  std::size_t fewest() const { return outline_ ? 3 : 2; }

  Canvas& canvas_;
  const works::Kind& kind_;
  bool outline_;
  works::Places points_;
  std::optional<plane::Vec2> pointer_;
};

}  // namespace inselberg::app
