// The stages of earthwork, typed: strips, undercuts, build-ups, regions, materials and how sure the survey is.
#pragma once

#include <QDialog>

#include "card/stage_lists.h"
#include "workspace/workspace.h"

class QTabWidget;
class QTableWidget;

namespace inselberg::app {

class StagesDialog : public QDialog {
  Q_OBJECT

 public:
  // Opens at a tab: "strips", "undercuts", "buildUps", "regions", "materials" or "accuracy".
  StagesDialog(Workspace& workspace, const QString& tab, QWidget* parent = nullptr);

 private:
  void addTab(const StageList& list);
  void fill(QTableWidget& table, const StageList& list);

  Workspace& workspace_;
  QTabWidget* tabs_;
  std::vector<StageList> lists_;
  std::vector<QTableWidget*> tables_;
};

}  // namespace inselberg::app
