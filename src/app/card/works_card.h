// The card of a works: its fields, what it costs, and its cut and fill against the level.
#pragma once

#include <QWidget>
#include <map>

#include "jobs/worker.h"
#include "workspace/workspace.h"

class QComboBox;
class QFormLayout;
class QLabel;
class QLineEdit;
class QPushButton;
class QTimer;
class QVBoxLayout;

namespace inselberg::app {

class FieldForm;
class LevelPlot;
class LongSection;
class PondCard;

class WorksCard : public QWidget {
  Q_OBJECT

 public:
  WorksCard(Workspace& workspace, QWidget* parent = nullptr);
  ~WorksCard() override;

  // Shows the chosen works.
  void refresh();

 private:
  void makeFigures(QVBoxLayout& layout);
  void makePlot(QVBoxLayout& layout);
  void makeLongSection(QVBoxLayout& layout);
  std::optional<works::Works> chosen() const;
  FieldForm& formOf(const works::Kind& kind);
  void change(const works::Works& changed, const QString& what);
  void rename();
  void showFigures(const works::Works& works);
  quantity::Uncertainty sureOf(WorksId id);
  // Asks for the curve when what it depends on has changed.
  void refreshCurve();
  void tellFailed(const std::string& why);
  void showFound();
  void makeTie(QVBoxLayout& layout);
  void showTie(const works::Works& works);
  void makeWords(QVBoxLayout& layout);
  void showWords(const works::Works& works);
  void computeCurve();

  Workspace& workspace_;
  QLabel* kindName_;
  QLineEdit* name_;
  QVBoxLayout* forms_;
  std::map<const works::Kind*, FieldForm*> formOf_;  // made when first shown
  QWidget* tieRow_;
  QComboBox* tie_;
  QComboBox *material_, *phase_;
  QLabel *held_, *found_;
  QLabel *cutCost_, *fillCost_, *surplus_, *footprint_, *unmeasured_;
  QPushButton* balance_;
  LevelPlot* plot_;
  PondCard* pond_;
  LongSection* along_;
  QLabel* plotNote_;
  QTimer* curveTimer_;
  Hash curveOf_;
  ground::TinPtr curveUnder_;  // held, so that its address stays its own
  Worker worker_;
};

}  // namespace inselberg::app
