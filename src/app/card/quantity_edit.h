// A field for one quantity: typed in any form the core reads, nudged with the arrow keys.
#pragma once

#include <QLineEdit>

#include "works/field.h"

namespace inselberg::app {

class QuantityEdit : public QLineEdit {
  Q_OBJECT

 public:
  // REQUIRES: the field is a number. One nudge (Up and Down) is its step, with Shift a tenth of it.
  explicit QuantityEdit(works::Field field, QWidget* parent = nullptr);

  // Shows the value, unless something is being typed.
  void setValue(double value);
  double value() const { return value_; }

 signals:
  void edited(double value);         // Enter, leaving the field, or a nudge; only for a value that differs
  void refused(const QString& why);  // what was typed is no such quantity, or out of its limits

 protected:
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void take();
  void show();
  void setWrong(bool wrong);

  works::Field field_;
  double value_ = 0;
};

}  // namespace inselberg::app
