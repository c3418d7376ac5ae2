// The typical sections of a project: drawn, named, changed for all works that use them.
#pragma once

#include <QDialog>

#include "workspace/workspace.h"

class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;

namespace inselberg::app {

class SectionDrawing;

// Each change is a step that can be undone, and is at once on the plan.
class SectionsDialog : public QDialog {
  Q_OBJECT

 public:
  SectionsDialog(Workspace& workspace, QWidget* parent);

 private:
  std::string chosen() const;
  void refresh(const std::string& choose);
  void show(const std::string& name);
  void add();
  void remove();
  void rename();
  void takeText();
  void takeDrawing();
  void change(const works::Section& legs);
  // Behind the drawing, beside the chosen works where that uses the section, else beside the first that does.
  void showGround(const std::string& name);
  void keepInLibrary();
  void offerLibrary();

  Workspace& workspace_;
  QListWidget* list_;
  QLineEdit* name_;
  QLineEdit* legs_;
  SectionDrawing* drawing_;
  QLabel* users_;
  QLabel* wrong_;
  QPushButton *remove_, *keep_, *take_;
};

}  // namespace inselberg::app
