#include "window/command_finder.h"

#include <QAction>
#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QVBoxLayout>

namespace inselberg::app {

CommandFinder::CommandFinder(const QList<QAction*>& actions, QWidget* parent) : QDialog(parent), actions_(actions) {
  setWindowTitle(tr("Find a command"));
  resize(460, 340);
  auto* layout = new QVBoxLayout(this);
  field_ = new QLineEdit(this);
  field_->setPlaceholderText(tr("What do you want to do?"));
  list_ = new QListWidget(this);
  layout->addWidget(field_);
  layout->addWidget(list_);
  field_->installEventFilter(this);
  connect(field_, &QLineEdit::textChanged, this, &CommandFinder::filter);
  connect(field_, &QLineEdit::returnPressed, this, &CommandFinder::run);
  connect(list_, &QListWidget::itemActivated, this, &CommandFinder::run);
  connect(list_, &QListWidget::itemClicked, this, &CommandFinder::run);
  filter({});
}

// Commands that hold every typed word, those that begin with the first word on top.
void CommandFinder::filter(const QString& typed) {
  list_->clear();
  const QStringList words = typed.toLower().split(' ', Qt::SkipEmptyParts);
  for (const bool begins : {true, false}) {
    for (int i = 0; i < actions_.size(); ++i) {
      const QString name = actions_[i]->property("fullName").toString(), low = name.toLower();
      const bool all = std::all_of(words.begin(), words.end(), [&](const QString& w) { return low.contains(w); });
      if (!all || begins != (words.isEmpty() || low.startsWith(words.front()))) continue;
      const QString key = actions_[i]->shortcut().toString(QKeySequence::NativeText);
      auto* item = new QListWidgetItem(key.isEmpty() ? name : name + "   (" + key + ")", list_);
      item->setData(Qt::UserRole, i);
      if (!actions_[i]->isEnabled()) item->setFlags(Qt::NoItemFlags);
    }
  }
  for (int i = 0; i < list_->count(); ++i) {
    if (!(list_->item(i)->flags() & Qt::ItemIsEnabled)) continue;
    list_->setCurrentRow(i);
    break;
  }
}

void CommandFinder::run() {
  auto* item = list_->currentItem();
  if (!item || !(item->flags() & Qt::ItemIsEnabled)) return;
  QAction* action = actions_[item->data(Qt::UserRole).toInt()];
  accept();
  action->trigger();
}

bool CommandFinder::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() == QEvent::KeyPress) {
    const int key = static_cast<QKeyEvent*>(event)->key();
    if (key == Qt::Key_Up || key == Qt::Key_Down) {
      int row = list_->currentRow();
      do {
        row += key == Qt::Key_Down ? 1 : -1;
      } while (row >= 0 && row < list_->count() && !(list_->item(row)->flags() & Qt::ItemIsEnabled));
      if (row >= 0 && row < list_->count()) list_->setCurrentRow(row);
      return true;
    }
  }
  return QDialog::eventFilter(watched, event);
}

}  // namespace inselberg::app
