// The ledger: totals always visible along the bottom, pulled up to the full table, with a kept baseline to compare
// with, and the readout of the pointer.
#pragma once

#include <QWidget>
#include <optional>

#include "report/ledger.h"
#include "workspace/view_state.h"

class QBoxLayout;
class QLabel;
class QProgressBar;
class QTableWidget;
class QTimer;
class QToolButton;

namespace inselberg::app {

class LedgerPanel : public QWidget {
  Q_OBJECT

 public:
  LedgerPanel(Workspace& workspace, ViewState& state, QWidget* parent = nullptr);

  void setOpen(bool open);
  bool isOpen() const;
  // Keeps the present figures as the baseline; again without: forgets it.
  void toggleBaseline();
  // Compares the present with a kept result.
  void compareWith(project::KeptResult kept);
  bool hasBaseline() const { return baseline_.has_value(); }

 signals:
  void openChanged(bool open);
  void baselineChanged(bool kept);
  void doubtsWanted();

 private:
  void refresh();
  void refreshReadout();
  void makeTable(QBoxLayout& layout);
  void makeBar(QBoxLayout& layout);
  void fillTable(const report::Ledger& ledger);
  void tellHow();
  QStringList cellsOf(const report::LedgerRow& row, const report::Quantities* quantities) const;
  QStringList detailOf(const report::LedgerRow& row, const report::Quantities* quantities) const;
  // Lights up what a figure is made of; the same figure again puts the map away.
  void light(Lit part, std::optional<project::Between> between = {});

  Workspace& workspace_;
  ViewState& state_;
  QTableWidget* table_;
  QToolButton *pull_, *strip_, *cut_, *fill_, *surplus_, *doubts_;
  QLabel *unmeasured_, *readout_;
  QProgressBar* progress_;
  QToolButton* stop_;
  QTimer* slow_;
  QLabel* how_;                          // how the figures of the chosen row were made
  int asked_ = -1;                       // that row; -1: none
  std::vector<report::LedgerRow> rows_;  // of the table
  std::optional<project::KeptResult> baseline_;
  project::ProjectPtr names_;  // the project by whose names the baseline tells seams
};

}  // namespace inselberg::app
