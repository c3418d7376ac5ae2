// What the design is asked to keep to, typed.
#pragma once

#include <QDialog>

#include "workspace/workspace.h"

class QFormLayout;

namespace inselberg::app {

class LimitsDialog : public QDialog {
  Q_OBJECT

 public:
  explicit LimitsDialog(Workspace& workspace, QWidget* parent = nullptr);

 private:
  // A row that can be left out: its number is 0 then.
  void addRow(QFormLayout& form, const char* name, const QString& text, works::Field field, double usual,
              double project::Limits::*member);

  Workspace& workspace_;
};

}  // namespace inselberg::app
