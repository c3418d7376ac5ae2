// What the colours of a ground mean, with the values between them, so that it reads without colour.
#pragma once

#include <QColor>
#include <QSize>
#include <QStringList>
#include <optional>
#include <vector>

#include "canvas/works_tint.h"
#include "ground/tin.h"
#include "workspace/view_state.h"

class QPainter;

namespace inselberg::app {

struct Legend {
  QStringList names;  // one below the other, each beside its cell; none: the cells stand side by side
  std::vector<QColor> cells;
  QStringList between;  // one more than cells; may be empty texts
  QStringList above;    // none, or one for each cell
  QString left, right;
  QColor leftInk, rightInk;
  int zero = -1;  // a mark between cells
  int cell = 30;  // pixels across

  // At the bottom right of a view of this size.
  void paint(QPainter& painter, QSize view) const;

 private:
  void paintNames(QPainter& painter, QSize view) const;
};

Legend depthLegend(double greatestDepth);
// Lower, within, higher.
Legend toleranceLegend(double tolerance);
Legend levelLegend(const ground::Tin& ground);
// From the plan area in each band of steepness.
Legend steepnessLegend(const SteepnessLimits& limits, const std::vector<double>& areas);

Legend worksLegend(const std::vector<WorksTint>& works);

// The legend of what is on show.
class ShownLegend {
 public:
  // `greatestDepth` takes the full colour. Nothing where the colours mean nothing.
  std::optional<Legend> of(const ViewState& state, double greatestDepth);

 private:
  ground::TinPtr steepnessOf_;
  SteepnessLimits limits_;
  std::vector<double> steepness_;  // of that ground, by these
};

}  // namespace inselberg::app
