// Drawing a pad by clicking its corners.
#pragma once

#include "plan/plan_view.h"

namespace inselberg::app {

class DrawPadTool : public Tool {
 public:
  explicit DrawPadTool(PlanView& plan) : plan_(plan) {}

  QString hint() const override;
  void press(const Pointed& at, Qt::KeyboardModifiers modifiers) override;
  void move(const Pointed& at, bool dragging, Qt::KeyboardModifiers modifiers) override;
  void doubleClick(const Pointed& at) override;
  bool key(int key, Qt::KeyboardModifiers modifiers) override;
  void paint(QPainter& painter) override;
  std::optional<std::pair<plane::Vec2, plane::Vec2>> lockFrom() const override;

 private:
  void close();

  PlanView& plan_;
  plane::Ring corners_;
  std::optional<plane::Vec2> pointer_;
};

}  // namespace inselberg::app
