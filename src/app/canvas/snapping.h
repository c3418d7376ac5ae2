// What places are drawn to.
#pragma once

#include <QString>
#include <memory>
#include <optional>
#include <span>

#include "plane/geometry.h"
#include "project/features.h"
#include "workspace/view_state.h"

namespace inselberg::app {

// The grid's step that suits a scale (pixels per metre): about 20 pixels, at least 0.1 m.
double gridStep(double scale);

struct SnapQuery {
  plane::Vec2 at;
  double reach = 0;                  // metres
  std::optional<plane::Vec2> from;   // the last point drawn
  std::optional<plane::Vec2> notTo;  // what is being dragged does not snap to itself
  double grid = 1;
};

// What can be snapped to beside the works and sources that are shown.
struct SnapTo {
  const project::Project& project;
  const ground::Tin* survey = nullptr;  // whose points are corners; may be null
  std::span<const std::shared_ptr<const sheet::SheetLines>> sheets = {};
};
// The nearest place of the kinds wanted within reach: corners and crossings before sides, those before the grid.
std::optional<plane::Vec2> snapped(const SnapTo& to, const SnapKinds& kinds, const SnapQuery& query);

}  // namespace inselberg::app
