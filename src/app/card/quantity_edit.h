// A field for one quantity: typed in any form the core reads, nudged with the arrow keys.
#pragma once

#include <QLineEdit>

namespace inselberg::app {

class QuantityEdit : public QLineEdit {
  Q_OBJECT

 public:
  enum class Kind { level, slope };  // metres; H of H:1

  // `step` is one nudge (Up and Down; a tenth of it with Shift).
  QuantityEdit(Kind kind, double step, QWidget* parent = nullptr);

  // Shows the value, unless something is being typed.
  void setValue(double value);
  double value() const { return value_; }

 signals:
  void edited(double value);  // Enter, leaving the field, or a nudge; only for a value that differs

 protected:
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void take();
  void show();

  Kind kind_;
  double step_;
  double value_ = 0;
};

}  // namespace inselberg::app
