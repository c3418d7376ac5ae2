#include "window/stages_dialog.h"

#include <QDialogButtonBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTabWidget>
#include <QTableWidget>
#include <QVBoxLayout>

#include "base/error.h"
#include "window/pits_dialog.h"

namespace inselberg::app {

using project::Stages;

StagesDialog::StagesDialog(Workspace& workspace, const QString& tab, QWidget* parent)
    : QDialog(parent), workspace_(workspace) {
  setObjectName("stagesDialog");
  setWindowTitle(tr("Stages and quantities"));
  resize(820, 380);
  auto* layout = new QVBoxLayout(this);
  tabs_ = new QTabWidget(this);
  layout->addWidget(tabs_, 1);
  lists_ = stageLists();
  for (const StageList& list : lists_) addTab(list);
  for (std::size_t i = 0; i < lists_.size(); ++i) {
    if (lists_[i].id == tab) tabs_->setCurrentIndex(static_cast<int>(i));
  }
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, this);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  layout->addWidget(buttons);
}

void StagesDialog::addTab(const StageList& list) {
  auto* page = new QWidget(this);
  auto* layout = new QVBoxLayout(page);
  auto* says = new QLabel(list.says, page);
  says->setProperty("quiet", true);
  says->setWordWrap(true);
  layout->addWidget(says);
  auto* table = new QTableWidget(page);
  table->setObjectName(list.id);
  table->setColumnCount(static_cast<int>(list.headings.size()));
  table->setHorizontalHeaderLabels(list.headings);
  table->verticalHeader()->hide();
  table->setSelectionBehavior(QAbstractItemView::SelectRows);
  if (workspace_.readOnly()) table->setEditTriggers(QAbstractItemView::NoEditTriggers);
  layout->addWidget(table, 1);
  auto* row = new QHBoxLayout;
  if (list.add) {
    auto* add = new QPushButton(tr("Add"), page);
    add->setObjectName(list.id + "Add");
    row->addWidget(add);
    connect(add, &QPushButton::clicked, this, [this, list, table] {
      changeStages(
          workspace_, [&](Stages& s) { list.add(s, *workspace_.project()); },
          tr("add to %1").arg(list.title.toLower()));
      fill(*table, list);
    });
  }
  auto* remove = new QPushButton(tr("Remove"), page);
  remove->setObjectName(list.id + "Remove");
  row->addWidget(remove);
  if (list.id == "strips") {
    auto* more = new QPushButton(tr("Test pits…"), page);
    more->setObjectName("stripsMore");
    row->addWidget(more);
    connect(more, &QPushButton::clicked, this, [this, list, table] {
      const int at = table->currentRow() >= 0 ? table->currentRow() : table->rowCount() - 1;
      if (at < 0) return;
      changeStages(
          workspace_,
          [&](Stages& s) { askForPits(s.strips.at(static_cast<std::size_t>(at)), workspace_.project()->origin, this); },
          tr("change %1").arg(list.title.toLower()));
      fill(*table, list);
    });
  }
  row->addStretch();
  layout->addLayout(row);
  connect(remove, &QPushButton::clicked, this, [this, list, table] {
    const int at = table->currentRow();
    if (at < 0) return;
    changeStages(
        workspace_, [&](Stages& s) { list.remove(s, static_cast<std::size_t>(at)); },
        tr("remove from %1").arg(list.title.toLower()));
    fill(*table, list);
  });
  connect(table, &QTableWidget::cellChanged, this, [this, list, table](int r, int c) {
    const std::string typed = table->item(r, c)->text().trimmed().toStdString();
    try {
      changeStages(
          workspace_, [&](Stages& s) { list.take(s, static_cast<std::size_t>(r), c, typed); },
          tr("change %1").arg(list.title.toLower()));
    } catch (const Error& e) {
      Q_EMIT workspace_.message(QString::fromUtf8(e.what()), true);
    }
    fill(*table, list);
  });
  tabs_->addTab(page, list.title);
  fill(*table, list);
}

void StagesDialog::fill(QTableWidget& table, const StageList& list) {
  const QSignalBlocker quiet(&table);
  const auto rows = list.rows(*workspace_.project());
  table.setRowCount(static_cast<int>(rows.size()));
  for (int r = 0; r < table.rowCount(); ++r) {
    for (int c = 0; c < table.columnCount(); ++c)
      table.setItem(r, c, new QTableWidgetItem(rows[static_cast<std::size_t>(r)].value(c)));
  }
  table.resizeColumnsToContents();
  table.horizontalHeader()->setStretchLastSection(true);
}

}  // namespace inselberg::app
