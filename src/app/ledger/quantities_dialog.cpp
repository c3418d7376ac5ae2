#include "ledger/quantities_dialog.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTabWidget>
#include <QVBoxLayout>

#include "ledger/table_page.h"

namespace inselberg::app {

QuantitiesDialog::QuantitiesDialog(std::vector<report::Table> tables, std::vector<report::ScheduleItem> items,
                                   const Measures& measures, QWidget* parent)
    : QDialog(parent), tables_(std::move(tables)), items_(std::move(items)), measures_(measures) {
  setObjectName("quantitiesDialog");
  setWindowTitle(tr("Quantities"));
  resize(880, 520);
  tables_.push_back(report::inMeasures(report::scheduleTable(items_, report::ScheduleBy::works), measures_));
  orders_.resize(tables_.size());
  auto* layout = new QVBoxLayout(this);
  tabs_ = new QTabWidget(this);
  tabs_->setObjectName("quantitiesTabs");
  for (std::size_t i = 0; i + 1 < tables_.size(); ++i)
    tabs_->addTab(makePage(i), QString::fromStdString(tables_[i].title));
  tabs_->addTab(makeSchedule(), QString::fromStdString(tables_.back().title));
  tabs_->setCurrentIndex(2);  // the figures
  layout->addWidget(tabs_, 1);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, this);
  auto* copy = buttons->addButton(tr("Copy the table"), QDialogButtonBox::ActionRole);
  copy->setObjectName("copyTable");
  connect(copy, &QPushButton::clicked, this,
          [this] { pages_.at(static_cast<std::size_t>(tabs_->currentIndex()))->copy(); });
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  layout->addWidget(buttons);
}

TablePage* QuantitiesDialog::makePage(std::size_t table) {
  auto* page = new TablePage("quantitiesPage", this);
  page->horizontalHeader()->setToolTip(tr("Click a heading to sort by it"));
  connect(page->horizontalHeader(), &QHeaderView::sectionClicked, this,
          [this, table](int column) { sort(table, column); });
  pages_.push_back(page);
  fill(table);
  return page;
}

QWidget* QuantitiesDialog::makeSchedule() {
  auto* page = new QWidget(this);
  auto* column = new QVBoxLayout(page);
  column->setContentsMargins(6, 8, 6, 6);
  auto* group = new QHBoxLayout;
  auto* by = new QComboBox(page);
  by->setObjectName("scheduleBy");
  for (const report::ScheduleGrouping& grouping : report::kScheduleGroupings) by->addItem(tr(grouping.word));
  group->addWidget(new QLabel(tr("A row for each"), page));
  group->addWidget(by);
  group->addStretch();
  column->addLayout(group);
  const std::size_t last = tables_.size() - 1;
  column->addWidget(makePage(last));
  connect(by, &QComboBox::currentIndexChanged, this, [this, last](int index) {
    tables_[last] = report::inMeasures(report::scheduleTable(items_, report::kScheduleGroupings[index].by), measures_);
    orders_[last] = {};
    fill(last);
  });
  return page;
}

void QuantitiesDialog::sort(std::size_t table, int column) {
  Order& order = orders_[table];
  const auto at = static_cast<std::size_t>(column);
  // Numbers are wanted largest first.
  const auto& rows = tables_[table].rows;
  const bool numbers = !rows.empty() && at < rows.front().size() && rows.front()[at].number;
  order = {column, order.column == column ? !order.falling : numbers};
  tables_[table].sort(at, order.falling);
  fill(table);
}

void QuantitiesDialog::fill(std::size_t number) {
  TablePage* page = pages_[number];
  page->tell(tables_[number]);
  page->horizontalHeader()->setSortIndicatorShown(orders_[number].column >= 0);
  page->horizontalHeader()->setSortIndicator(orders_[number].column,
                                             orders_[number].falling ? Qt::DescendingOrder : Qt::AscendingOrder);
}

}  // namespace inselberg::app
