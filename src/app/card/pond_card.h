// What a pond holds: its figures, its storage against the level, and its size for a volume.
#pragma once

#include <QWidget>
#include <optional>

#include "jobs/worker.h"
#include "works/pond_storage.h"
#include "workspace/workspace.h"

class QCPItemLine;
class QCustomPlot;
class QLabel;
class QLineEdit;
class QPushButton;

namespace inselberg::app {

class PondCard : public QWidget {
  Q_OBJECT

 public:
  PondCard(Workspace& workspace, QWidget* parent = nullptr);
  ~PondCard() override;

  // Shows the chosen pond; follows its water anew when the ground has become whole.
  void refresh();
  // As it is shown; nothing while it is being followed, and for a pond that holds nothing.
  const std::optional<works::PondStorage>& storage() const { return storage_; }

 private:
  const Measures& measures() const;
  void makePlot();
  void follow(const project::EvaluationPtr& evaluation, WorksId id);
  void show(const std::optional<works::PondStorage>& storage);
  void showCurve();
  void copyTable() const;
  void size(works::SizeBy by);

  Workspace& workspace_;
  QLabel* told_;
  QCustomPlot* plot_;
  QCPItemLine *water_, *spill_;
  QPushButton* copy_;
  QLineEdit* wanted_;
  QPushButton *byLevel_, *byOutline_;
  WorksId of_;
  project::EvaluationPtr from_;  // what the storage is, or is being, told of
  std::optional<works::PondStorage> storage_;
  Worker worker_;
};

}  // namespace inselberg::app
