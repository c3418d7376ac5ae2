#include "ledger/quantities_dialog.h"

#include <QApplication>
#include <QClipboard>
#include <QDialogButtonBox>
#include <QHeaderView>
#include <QPushButton>
#include <QTabWidget>
#include <QTableWidget>
#include <QVBoxLayout>

#include "base/quantity.h"

namespace inselberg::app {

QuantitiesDialog::QuantitiesDialog(std::vector<report::Table> tables, QWidget* parent)
    : QDialog(parent), tables_(std::move(tables)) {
  setObjectName("quantitiesDialog");
  setWindowTitle(tr("Quantities"));
  resize(860, 420);
  auto* layout = new QVBoxLayout(this);
  auto* tabs = new QTabWidget(this);
  tabs->setObjectName("quantitiesTabs");
  for (const report::Table& table : tables_) tabs->addTab(pageOf(table), QString::fromStdString(table.title));
  tabs->setCurrentIndex(2);  // the figures
  layout->addWidget(tabs, 1);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, this);
  auto* copy = buttons->addButton(tr("Copy the table"), QDialogButtonBox::ActionRole);
  copy->setObjectName("copyTable");
  connect(copy, &QPushButton::clicked, this, [this, tabs] {
    QApplication::clipboard()->setText(
        QString::fromStdString(report::asTabs(tables_.at(static_cast<std::size_t>(tabs->currentIndex())))));
  });
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  layout->addWidget(buttons);
}

QWidget* QuantitiesDialog::pageOf(const report::Table& table) {
  const bool total = table.hasTotal();
  auto* page = new QTableWidget(static_cast<int>(table.rows.size()) + (total ? 1 : 0),
                                static_cast<int>(table.columns.size()), this);
  page->setEditTriggers(QAbstractItemView::NoEditTriggers);
  page->verticalHeader()->hide();
  page->setShowGrid(false);
  const auto put = [&](int r, int c, const report::Cell& cell, bool bold) {
    const int decimals = table.columns[static_cast<std::size_t>(c)].decimals;
    auto* item =
        new QTableWidgetItem(QString::fromStdString(cell.number ? formatNumber(*cell.number, decimals) : cell.text));
    if (cell.number) item->setToolTip(QString::fromStdString(formatNumber(*cell.number, 6)));
    item->setTextAlignment((cell.number ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
    QFont font = page->font();
    font.setBold(bold);
    item->setFont(font);
    page->setItem(r, c, item);
  };
  QStringList headings;
  for (const report::Column& column : table.columns) headings << QString::fromStdString(column.title);
  page->setHorizontalHeaderLabels(headings);
  for (std::size_t r = 0; r < table.rows.size(); ++r) {
    for (std::size_t c = 0; c < table.rows[r].size(); ++c)
      put(static_cast<int>(r), static_cast<int>(c), table.rows[r][c], false);
  }
  for (int c = 0; total && c < page->columnCount(); ++c) {
    const auto column = static_cast<std::size_t>(c);
    if (c == 0) put(page->rowCount() - 1, c, tr("Total").toStdString(), true);
    if (table.columns[column].summed) put(page->rowCount() - 1, c, table.total(column), true);
  }
  page->resizeColumnsToContents();
  page->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
  return page;
}

}  // namespace inselberg::app
