// How many copies of a works, and where.
#pragma once

#include <QDialog>
#include <vector>

#include "plane/geometry.h"

class QDoubleSpinBox;
class QLabel;
class QSpinBox;

namespace inselberg::app {

class RowsDialog : public QDialog {
  Q_OBJECT

 public:
  // `across`: how far apart copies lie clear of each other, to begin with; m.
  RowsDialog(const QString& name, double across, QWidget* parent);

  // How far each copy is moved; the works itself is none of them.
  std::vector<plane::Vec2> shifts() const;

 private:
  void tell();

  QSpinBox *along_, *rows_;
  QDoubleSpinBox *spacing_, *bearing_, *rowSpacing_;
  QLabel* told_;
};

}  // namespace inselberg::app
