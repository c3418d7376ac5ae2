// The ledger: totals always visible along the bottom, pulled up to the full table, with a kept baseline to compare
// with, and the readout of the pointer.
#pragma once

#include <QWidget>
#include <optional>

#include "plan/plan_renderer.h"
#include "report/ledger.h"
#include "window/workspace.h"

class QLabel;
class QProgressBar;
class QTableWidget;
class QTimer;
class QToolButton;

namespace inselberg::app {

class LedgerPanel : public QWidget {
  Q_OBJECT

 public:
  explicit LedgerPanel(Workspace& workspace, QWidget* parent = nullptr);

  void setOpen(bool open);
  bool isOpen() const;
  // Keeps the present figures as the baseline; again without: forgets it.
  void toggleBaseline();
  bool hasBaseline() const { return baseline_.has_value(); }
  // What the pointer is on.
  void point(plane::Vec2 place, bool inside);

 signals:
  void openChanged(bool open);
  void baselineChanged(bool kept);
  void litWanted(Lit part);  // a figure was clicked
  void doubtsWanted();
  void worksWanted(WorksId id);

 private:
  void refresh();
  void refreshReadout();
  void fillTable(const report::Ledger& ledger);

  Workspace& workspace_;
  QTableWidget* table_;
  QToolButton *pull_, *cut_, *fill_, *surplus_, *doubts_;
  QLabel *unmeasured_, *readout_;
  QProgressBar* progress_;
  QToolButton* stop_;
  QTimer* slow_;
  std::optional<report::Ledger> baseline_;
  std::optional<plane::Vec2> pointer_;
};

}  // namespace inselberg::app
