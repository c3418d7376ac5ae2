// The typical sections of a project: drawn, named, changed for all works that use them.
#pragma once

#include <QDialog>

#include "workspace/view_state.h"

class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;

namespace inselberg::app {

class SectionDrawing;

// Each change is a step that can be undone, and is at once on the plan. The window beside it stays in use: what is
// changed there is followed, and the ground behind a section is that where the pointer is.
class SectionsDialog : public QDialog {
  Q_OBJECT

 public:
  SectionsDialog(Workspace& workspace, ViewState& state, QWidget* parent);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void connectToWindow();
  std::string chosen() const;
  void refresh(const std::string& choose);
  void showSection(const std::string& name);
  void add();
  void remove();
  void rename();
  void takeText();
  void takeDrawing();
  void change(const works::Section& legs);
  // The project has changed.
  void follow();
  // Behind the drawing, beside the works that use the section: where the pointer was last, before it is anywhere in the
  // middle of the longest side of the chosen one, or of the first.
  void showGround(const std::string& name);
  void keepInLibrary();
  void offerLibrary();

  Workspace& workspace_;
  ViewState& state_;
  std::optional<plane::Vec2> near_;  // where the pointer was last
  QListWidget* list_;
  QLineEdit* name_;
  QLineEdit* legs_;
  SectionDrawing* drawing_;
  QLabel* users_;
  QLabel* wrong_;
  QPushButton *add_, *remove_, *keep_, *take_;
};

}  // namespace inselberg::app
