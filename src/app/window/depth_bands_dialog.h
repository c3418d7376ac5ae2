// How much is cut and filled how deep: as bars and as a table.
#pragma once

#include <QDialog>

#include "quantity/depth_bands.h"
#include "workspace/workspace.h"

class QCustomPlot;
class QLabel;

namespace inselberg::app {

class TablePage;
class QuantityEdit;
class RegionBox;

class DepthBandsDialog : public QDialog {
  Q_OBJECT

 public:
  // REQUIRES: both grounds are there.
  DepthBandsDialog(Workspace& workspace, const project::Between& between, QWidget* parent = nullptr);

 private:
  void compute();
  void show();

  Workspace& workspace_;
  const project::EvaluationPtr evaluation_;  // the grounds and regions that were chosen among
  ground::TinPtr from_, to_;
  std::vector<quantity::DepthBand> bands_;
  RegionBox* region_;
  QuantityEdit* step_;
  QCustomPlot* plot_;
  TablePage* table_;
  QLabel* note_;
};

}  // namespace inselberg::app
