// Every action by name: type a few letters, Enter runs it.
#pragma once

#include <QDialog>
#include <QList>

class QAction;
class QLineEdit;
class QListWidget;

namespace inselberg::app {

class CommandFinder : public QDialog {
  Q_OBJECT

 public:
  CommandFinder(const QList<QAction*>& actions, QWidget* parent);

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void filter(const QString& typed);
  void run();

  QList<QAction*> actions_;
  QLineEdit* field_;
  QListWidget* list_;
};

}  // namespace inselberg::app
