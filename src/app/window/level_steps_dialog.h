// Level areas as a ground: with their steps or smooth, side by side, and either taken into the project.
#pragma once

#include <QDialog>

#include "project/level_steps.h"
#include "workspace/workspace.h"

namespace inselberg::app {

class TablePage;
class LevelStepsDialog : public QDialog {
  Q_OBJECT

 public:
  // Over the surveyed ground where there is one. Throws Error when there are no level areas; Cancelled.
  explicit LevelStepsDialog(Workspace& workspace, QWidget* parent = nullptr);

 private:
  void show(const project::SteppedAndSmooth& both);
  // As a ground of its own, or as the existing one where there is none.
  void take(bool smooth);

  Workspace& workspace_;
  std::vector<project::FlatArea> areas_;
  bool surveyed_ = false;
  TablePage* table_;
};

}  // namespace inselberg::app
