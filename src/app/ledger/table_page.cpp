#include "ledger/table_page.h"

#include <QApplication>
#include <QClipboard>
#include <QHeaderView>

#include "base/quantity.h"

namespace inselberg::app {

TablePage::TablePage(const char* name, QWidget* parent) : QTableWidget(parent) {
  setObjectName(name);
  setEditTriggers(QAbstractItemView::NoEditTriggers);
  verticalHeader()->hide();
  setShowGrid(false);
}

void TablePage::tell(report::Table table) {
  table_ = std::move(table);
  const bool total = table_.hasTotal();
  clear();
  setRowCount(static_cast<int>(table_.rows.size()) + (total ? 1 : 0));
  setColumnCount(static_cast<int>(table_.columns.size()));
  const auto put = [&](int r, int c, const report::Cell& cell, bool bold) {
    const int decimals = table_.columns[static_cast<std::size_t>(c)].decimals;
    auto* item =
        new QTableWidgetItem(QString::fromStdString(cell.number ? formatNumber(*cell.number, decimals) : cell.text));
    if (cell.number) item->setToolTip(QString::fromStdString(formatNumber(*cell.number, 6)));
    item->setTextAlignment((cell.number ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
    QFont own = font();
    own.setBold(bold);
    item->setFont(own);
    setItem(r, c, item);
  };
  QStringList headings;
  for (const report::Column& column : table_.columns) headings << QString::fromStdString(column.title);
  setHorizontalHeaderLabels(headings);
  for (std::size_t r = 0; r < table_.rows.size(); ++r) {
    for (std::size_t c = 0; c < table_.rows[r].size(); ++c)
      put(static_cast<int>(r), static_cast<int>(c), table_.rows[r][c], false);
  }
  for (int c = 0; total && c < columnCount(); ++c) {
    const auto column = static_cast<std::size_t>(c);
    if (c == 0) put(rowCount() - 1, c, tr("Total").toStdString(), true);
    if (table_.columns[column].summed) put(rowCount() - 1, c, table_.total(column), true);
  }
  horizontalHeader()->setSectionResizeMode(QHeaderView::Interactive);
  resizeColumnsToContents();
  horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
}

void TablePage::copy() const {
  QApplication::clipboard()->setText(QString::fromStdString(report::asTabs(table_)));
}

}  // namespace inselberg::app
