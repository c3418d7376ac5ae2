// The tables of quantities, to read and to copy.
#pragma once

#include <QDialog>

#include "report/tables.h"

namespace inselberg::app {

class QuantitiesDialog : public QDialog {
  Q_OBJECT

 public:
  explicit QuantitiesDialog(std::vector<report::Table> tables, QWidget* parent = nullptr);

 private:
  QWidget* pageOf(const report::Table& table);

  std::vector<report::Table> tables_;
};

}  // namespace inselberg::app
