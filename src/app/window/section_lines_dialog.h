// The section lines that are kept: to show one, rename it, or let it go.
#pragma once

#include <QDialog>

#include "workspace/view_state.h"

class QListWidget;
class QPushButton;

namespace inselberg::app {

class SectionLinesDialog : public QDialog {
  Q_OBJECT

 public:
  SectionLinesDialog(Workspace& workspace, ViewState& state, QWidget* parent);

 private:
  void refresh();
  // Where the marked one stands among them; their number when none is.
  std::size_t marked() const;
  void rename();
  void remove();

  Workspace& workspace_;
  ViewState& state_;
  QListWidget* list_;
  QPushButton *show_, *rename_, *remove_;
};

}  // namespace inselberg::app
