// Cut and fill against the level of a works, with the level as a line to drag and the balance point.
#pragma once

#include <QWidget>
#include <vector>

#include "balance/level_balance.h"

class QCustomPlot;
class QCPItemLine;
class QCPItemTracer;
class QMouseEvent;

namespace inselberg::app {

class LevelPlot : public QWidget {
  Q_OBJECT

 public:
  explicit LevelPlot(QWidget* parent = nullptr);

  void setCurve(const std::vector<balance::LevelCost>& curve);  // empty: being computed
  bool hasCurve() const { return hasCurve_; }
  void setLevel(double level);
  // Where cut and fill meet on the curve; nothing when they do not.
  std::optional<double> balanceLevel() const { return balance_; }
  // The place of a level in the widget, and back.
  double xOf(double level) const;

  QSize sizeHint() const override { return {220, 170}; }

 signals:
  void dragged(double level);
  void released();

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  QCustomPlot* plot_;
  QCPItemLine* line_;
  QCPItemTracer* meeting_;
  std::optional<double> balance_;
  double level_ = 0;
  bool hasCurve_ = false;
  bool dragging_ = false;
};

}  // namespace inselberg::app
