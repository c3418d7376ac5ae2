// The card of a strip, undercut or build-up: what it is, typed, and what it comes to.
#pragma once

#include <QWidget>

#include "card/stage_lists.h"
#include "project/stage_place.h"
#include "workspace/workspace.h"

class QFormLayout;
class QLabel;
class QLineEdit;
class QPushButton;

namespace inselberg::app {

class StageCard : public QWidget {
  Q_OBJECT

 public:
  explicit StageCard(Workspace& workspace, QWidget* parent = nullptr);
  // Shows the chosen one.
  void refresh();

 signals:
  void pitsWanted(WorksId strip);
  void depthsWanted();  // of the seam that it makes, on the plan

 private:
  void makeForm(std::size_t list);
  void take(int column);
  void showFigures(const project::StagePlace& at);

  Workspace& workspace_;
  std::vector<StageList> lists_;
  QLabel* heading_;
  QLabel* figures_;
  QPushButton *pits_, *depths_;
  std::vector<QWidget*> forms_;                 // for each kind
  std::vector<std::vector<QLineEdit*>> edits_;  // for each kind, by column
};

}  // namespace inselberg::app
