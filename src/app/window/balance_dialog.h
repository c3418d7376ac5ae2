// Works shifted together so that the earth of the site comes out even.
#pragma once

#include <QDialog>

#include "workspace/workspace.h"

class QLabel;
class QListWidget;
class QPushButton;

namespace inselberg::app {

class QuantityEdit;

class BalanceDialog : public QDialog {
  Q_OBJECT

 public:
  explicit BalanceDialog(Workspace& workspace, QWidget* parent = nullptr);

 private:
  void balance();
  void tellNow();
  QuantityEdit* field(const char* name, works::Measure measure, double least, double most, double step, double value);
  std::vector<WorksId> checked() const;

  Workspace& workspace_;
  QListWidget* works_;
  QuantityEdit *surplus_, *within_, *most_;
  QLabel* result_;
  QPushButton* go_;
};

}  // namespace inselberg::app
