// The project's plan sheets: how each lies, what is doubtful about it, and how it is shown.
#pragma once

#include <QDialog>

#include "workspace/workspace.h"

class QCheckBox;
class QLabel;
class QListWidget;
class QPushButton;
class QSlider;

namespace inselberg::app {

class SheetsDialog : public QDialog {
  Q_OBJECT

 public:
  // `view`: what the plan shows, for cropping to it.
  SheetsDialog(Workspace& workspace, const plane::Box& view, QWidget* parent = nullptr);

 signals:
  void placeWanted(project::SheetId sheet);
  void bringWanted();

 private:
  QWidget* makeRight();
  void refresh();
  void showMarked();
  const project::PlanSheet* marked() const;
  void alter(const QString& what, const std::function<void(project::SheetInfo&)>& change);
  void move(int by);
  void crop();
  void turn();

  Workspace& workspace_;
  const plane::Box view_;
  bool refreshing_ = false;
  QListWidget* list_;
  QLabel *says_, *doubts_;
  QSlider* opacity_;
  QCheckBox *shown_, *grey_, *locked_;
  QPushButton *place_, *turn_, *rename_, *crop_, *whole_, *higher_, *lower_, *remove_;
};

}  // namespace inselberg::app
