// What the colours of the plan mean.
#pragma once

#include <QColor>
#include <QSize>
#include <QStringList>
#include <vector>

#include "ground/tin.h"

class QPainter;

namespace inselberg::app {

struct Legend {
  std::vector<QColor> cells;
  QStringList between;  // one more than cells; may be empty texts
  QStringList above;    // none, or one for each cell
  QString left, right;
  QColor leftInk, rightInk;
  int zero = -1;  // a mark between cells
  int cell = 30;  // pixels across

  // At the bottom right of a view of this size.
  void paint(QPainter& painter, QSize view) const;
};

Legend depthLegend(double greatestDepth);
Legend levelLegend(const ground::Tin& ground);
// From the plan area in each band of steepness.
Legend steepnessLegend(const std::vector<double>& areas);

}  // namespace inselberg::app
