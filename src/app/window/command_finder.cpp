#include "window/command_finder.h"

#include <QAction>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLineEdit>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>

#include "theme/theme.h"

namespace inselberg::app {

CommandFinder::CommandFinder(const Commands& commands, const QHash<QString, QAction*>& actions, QWidget* parent)
    : QDialog(parent), commands_(commands), actions_(actions) {
  setWindowTitle(tr("Find a command"));
  resize(640, 420);
  auto* layout = new QVBoxLayout(this);
  field_ = new QLineEdit(this);
  field_->setPlaceholderText(tr("What do you want to do?"));
  list_ = new QTreeWidget(this);
  list_->setColumnCount(3);
  list_->setHeaderLabels({tr("Command"), tr("Key"), tr("Where it is")});
  list_->setRootIsDecorated(false);
  list_->setUniformRowHeights(true);
  list_->header()->setStretchLastSection(true);
  layout->addWidget(field_);
  layout->addWidget(list_);
  field_->installEventFilter(this);
  connect(field_, &QLineEdit::textChanged, this, &CommandFinder::filter);
  connect(field_, &QLineEdit::returnPressed, this, &CommandFinder::run);
  connect(list_, &QTreeWidget::itemActivated, this, &CommandFinder::run);
  connect(list_, &QTreeWidget::itemClicked, this, &CommandFinder::run);
  filter({});
}

// The best answers on top; those that cannot be run now are shown, but not taken.
void CommandFinder::filter(const QString& typed) {
  list_->clear();
  std::vector<std::pair<int, const Command*>> answers;
  for (const Command& command : commands_) {
    if (command.id == "find") continue;
    if (const int r = rank(command, typed); r > 0) answers.emplace_back(r, &command);
  }
  std::stable_sort(answers.begin(), answers.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
  for (const auto& [r, command] : answers) {
    const QAction* action = actions_[command->id];
    auto* item = new QTreeWidgetItem(list_, {QString(action->text()).remove("…"),
                                             command->key.toString(QKeySequence::NativeText), placeOf(*command)});
    item->setData(0, Qt::UserRole, command->id);
    item->setForeground(2, theme::muted());
    if (!action->isEnabled()) item->setFlags(Qt::NoItemFlags);
  }
  for (int c = 0; c < 2; ++c) list_->resizeColumnToContents(c);
  for (int i = 0; i < list_->topLevelItemCount(); ++i) {
    if (list_->topLevelItem(i)->isDisabled()) continue;
    list_->setCurrentItem(list_->topLevelItem(i));
    break;
  }
}

void CommandFinder::run() {
  const auto* item = list_->currentItem();
  if (!item || item->isDisabled()) return;
  QAction* action = actions_[item->data(0, Qt::UserRole).toString()];
  accept();
  action->trigger();
}

bool CommandFinder::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() != QEvent::KeyPress) return QDialog::eventFilter(watched, event);
  const int key = static_cast<QKeyEvent*>(event)->key();
  if (key != Qt::Key_Up && key != Qt::Key_Down) return QDialog::eventFilter(watched, event);
  int row = list_->indexOfTopLevelItem(list_->currentItem());
  do {
    row += key == Qt::Key_Down ? 1 : -1;
  } while (row >= 0 && row < list_->topLevelItemCount() && list_->topLevelItem(row)->isDisabled());
  if (row >= 0 && row < list_->topLevelItemCount()) list_->setCurrentItem(list_->topLevelItem(row));
  return true;
}

}  // namespace inselberg::app
