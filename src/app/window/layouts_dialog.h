// The sheets that a project prints: what each shows, seen as it will be.
#pragma once

#include <QDialog>
#include <functional>

#include "drawing/paper.h"
#include "jobs/worker.h"
#include "project/layout.h"
#include "workspace/workspace.h"

class QCheckBox;
class QComboBox;
class QFormLayout;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;
class QTableWidget;

namespace inselberg::app {

class LayoutPreview;
class QuantityEdit;

class LayoutsDialog : public QDialog {
  Q_OBJECT

 public:
  // What the window knows: where to centre a sheet, and the line of the section on show (none: less than two places).
  struct Now {
    plane::Vec2 centre;
    std::vector<plane::Vec2> section;
  };
  LayoutsDialog(Workspace& workspace, Now now, QWidget* parent = nullptr);
  ~LayoutsDialog() override;

 signals:
  // To a file that the window asks for.
  void writeWanted(const QString& name, const std::vector<drawing::Page>& pages);

 private:
  QWidget* makeList();
  QWidget* makeForm();
  void makePaper(QFormLayout& form, QWidget* parent);
  void makeContent(QFormLayout& form, QWidget* parent);
  const project::Layout* marked() const;
  void listSections(const project::Layout& layout);
  void alter(const QString& what, const std::function<void(project::Layout&)>& change);
  void commit(std::vector<project::Layout> layouts, const QString& what, int mark);
  void rename();
  void takeFields();
  void refresh();
  void showMarked();
  void preview();
  // Pages made as they are now, with what takes long shown; empty when that was stopped.
  std::vector<drawing::Page> pagesOf(const std::vector<project::Layout>& layouts);
  void print();
  void write(bool all);

  Workspace& workspace_;
  const Now now_;
  bool refreshing_ = false;
  std::uint64_t asked_ = 0;
  QListWidget* list_;
  LayoutPreview* preview_;
  QLineEdit* name_;
  QComboBox *paper_, *ground_, *scale_;
  QCheckBox *upright_, *shade_, *sheets_, *grid_, *legend_, *figures_;
  QComboBox* section_;
  std::vector<std::vector<plane::Vec2>> sections_;  // what it offers
  QuantityEdit *interval_, *depths_;
  QTableWidget* fields_;
  QLabel* says_;
  QPushButton *copy_, *remove_, *centre_, *print_, *write_, *writeAll_;
  Worker worker_;
};

}  // namespace inselberg::app
