// The card of a pad: its numbers, what it costs, and its cut and fill against the level.
#pragma once

#include <QWidget>
#include <functional>

#include "jobs/worker.h"
#include "window/workspace.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QTimer;

namespace inselberg::app {

class QuantityEdit;
class LevelPlot;

class PadCard : public QWidget {
  Q_OBJECT

 public:
  PadCard(Workspace& workspace, QWidget* parent = nullptr);
  ~PadCard() override;

  // Shows the chosen pad.
  void refresh();
  // Asks for the curve when what it depends on has changed.
  void refreshCurve();

 private:
  std::optional<works::Works> chosen() const;
  void change(const QString& what, const std::function<void(works::Pad&)>& edit);
  void computeCurve();

  Workspace& workspace_;
  QLineEdit* name_;
  QuantityEdit *level_, *cut_, *fill_;
  QComboBox* corners_;
  QLabel *cutCost_, *fillCost_, *surplus_, *footprint_, *unmeasured_;
  QPushButton* balance_;
  LevelPlot* plot_;
  QLabel* plotNote_;
  QTimer* curveTimer_;
  Hash curveOf_;
  ground::TinPtr curveUnder_;  // held, so that its address stays its own
  Worker worker_;
};

}  // namespace inselberg::app
