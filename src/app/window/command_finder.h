// Every command by name, by its menu or step, or by other words people use for it: type a few letters, Enter runs it.
#pragma once

#include <QDialog>
#include <QHash>

#include "window/command.h"

class QAction;
class QLineEdit;
class QTreeWidget;

namespace inselberg::app {

class CommandFinder : public QDialog {
  Q_OBJECT

 public:
  // `actions` by the commands' ids.
  CommandFinder(const Commands& commands, const QHash<QString, QAction*>& actions, QWidget* parent);

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void filter(const QString& typed);
  void run();

  const Commands& commands_;
  const QHash<QString, QAction*>& actions_;
  QLineEdit* field_;
  QTreeWidget* list_;
};

}  // namespace inselberg::app
