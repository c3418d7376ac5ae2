// The kept results: their pictures and figures, to compare the present with one, or to let one go.
#pragma once

#include <QDialog>

#include "workspace/workspace.h"

class QLabel;
class QListWidget;
class QPushButton;

namespace inselberg::app {

class KeptDialog : public QDialog {
  Q_OBJECT

 public:
  explicit KeptDialog(Workspace& workspace, QWidget* parent = nullptr);
  // The one that the present is to be compared with; null when none was asked for.
  project::KeptPtr compared() const { return compared_; }

 private:
  void refresh();
  void show();
  project::KeptPtr marked() const;
  void rename();
  void remove();

  Workspace& workspace_;
  QListWidget* list_;
  QLabel *picture_, *told_;
  QPushButton *compare_, *rename_, *remove_;
  project::KeptPtr compared_;
};

}  // namespace inselberg::app
