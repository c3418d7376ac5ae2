// The volume between two grounds by three methods side by side, and how much of one lies within a tolerance of the
// other.
#pragma once

#include <QDialog>

#include "quantity/second_opinion.h"
#include "workspace/workspace.h"

class QLabel;

namespace inselberg::app {

class TablePage;
class QuantityEdit;
class RegionBox;

class SecondOpinionDialog : public QDialog {
  Q_OBJECT

 public:
  // REQUIRES: both grounds are there.
  SecondOpinionDialog(Workspace& workspace, const project::Between& between, QWidget* parent = nullptr);
  // It is accepted when what lies within this, m, is to be shown on the plan.
  double tolerance() const;

 private:
  void compute();
  void show(const quantity::SecondOpinion& opinion, const quantity::Tolerance& shares);
  QuantityEdit* field(const char* name, double most, double value);

  Workspace& workspace_;
  const project::EvaluationPtr evaluation_;  // the grounds and regions that were chosen among
  ground::TinPtr from_, to_;
  QString fromName_, toName_;
  RegionBox* region_;
  QuantityEdit *cell_, *spacing_, *tolerance_;
  TablePage* table_;
  QLabel* shares_;
};

}  // namespace inselberg::app
