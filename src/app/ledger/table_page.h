// A table of the report in the window, and on the clipboard.
#pragma once

#include <QTableWidget>

#include "report/tables.h"

namespace inselberg::app {

// Read only, with its total where it has one; numbers stand to the right, and tell more digits to the pointer.
class TablePage : public QTableWidget {
  Q_OBJECT

 public:
  explicit TablePage(const char* name, QWidget* parent);

  void tell(report::Table table);
  const report::Table& table() const { return table_; }
  // As text between tabs.
  void copy() const;

 private:
  report::Table table_;
};

}  // namespace inselberg::app
