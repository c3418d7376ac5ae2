// Reading a ground: the slope between two clicks, the way water runs from one, and the land it comes from.
#pragma once

#include "canvas/canvas.h"
#include "ground/catchment.h"
#include "ground/water_legs.h"

namespace inselberg::app {

enum class Measuring { slope, water, catchment };

class MeasureTool : public Tool {
 public:
  MeasureTool(Canvas& canvas, Measuring kind) : canvas_(canvas), kind_(kind) {}

  QString hint() const override;
  void press(const Pointed& at, Qt::KeyboardModifiers modifiers) override;
  void move(const Pointed& at, bool dragging, Qt::KeyboardModifiers modifiers) override;
  bool key(int key, Qt::KeyboardModifiers modifiers) override;
  void paint(QPainter& painter) override;
  std::optional<std::pair<plane::Vec2, plane::Vec2>> lockFrom() const override;

  // What is on show: distance, level difference, fall in % and as H:V.
  QString reading() const;

 private:
  const ground::Tin* tin() const;
  void findCatchment(plane::Vec2 place);

  Canvas& canvas_;
  Measuring kind_;
  std::optional<plane::Vec2> from_, to_, pointer_;
  std::vector<ground::WaterPath> water_;  // its way down, then past full hollows
  ground::Catchment catchment_;
};

}  // namespace inselberg::app
