// In which units quantities are told, and how they are rounded.
#pragma once

#include <QDialog>

#include "workspace/workspace.h"

class QComboBox;
class QLabel;

namespace inselberg::app {

class MeasuresDialog : public QDialog {
  Q_OBJECT

 public:
  explicit MeasuresDialog(Workspace& workspace, QWidget* parent = nullptr);

 private:
  void take();
  void showExample();

  Workspace& workspace_;
  QComboBox *units_, *rounding_;
  QLabel* example_;
};

}  // namespace inselberg::app
