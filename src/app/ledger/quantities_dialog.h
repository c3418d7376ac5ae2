// The tables of quantities, to read, sort, group and copy.
#pragma once

#include <QDialog>

#include "report/schedule.h"

class QComboBox;
class QTabWidget;

namespace inselberg::app {

class TablePage;
class QuantitiesDialog : public QDialog {
  Q_OBJECT

 public:
  // Tables to read, with a schedule of the items as the last.
  QuantitiesDialog(std::vector<report::Table> tables, std::vector<report::ScheduleItem> items, const Measures& measures,
                   QWidget* parent = nullptr);

 private:
  TablePage* makePage(std::size_t table);
  QWidget* makeSchedule();
  void fill(std::size_t table);
  // By a column; by the same one again the other way round.
  void sort(std::size_t table, int column);

  std::vector<report::Table> tables_;
  const std::vector<report::ScheduleItem> items_;
  const Measures measures_;
  struct Order {
    int column = -1;
    bool falling = false;
  };
  std::vector<Order> orders_;
  std::vector<TablePage*> pages_;
  QTabWidget* tabs_;
};

}  // namespace inselberg::app
