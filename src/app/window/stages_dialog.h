// The stages of earthwork, typed: strips, undercuts, build-ups, regions, materials and how sure the survey is.
#pragma once

#include <QDialog>

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
  // A list of items as a table: how a row is shown, and how a typed cell is taken (it throws Error for what cannot be).
  struct List {
    QString id, title, says;
    QStringList headings;
    std::function<std::vector<QStringList>(const project::Stages&)> rows;
    std::function<void(project::Stages&, std::size_t row, int column, const std::string& typed)> take;
    std::function<void(project::Stages&, std::size_t row)> remove;
    std::function<void(project::Stages&)> add;  // none: it is drawn
    QString moreText = {};                      // of a button for more of the marked row
    std::function<void(project::Stages&, std::size_t row)> more = {};
  };
  List strips();
  void askForPits(works::Strip& strip);
  List undercuts() const;
  List buildUps() const;
  List regions() const;
  List materials() const;
  List accuracy() const;
  QString where(const std::vector<WorksId>& works, bool line) const;
  void addTab(const List& list);
  void fill(QTableWidget& table, const List& list);
  void change(const std::function<void(project::Stages&)>& edit, const QString& what);

  Workspace& workspace_;
  QTabWidget* tabs_;
  std::vector<List> lists_;
  std::vector<QTableWidget*> tables_;
};

}  // namespace inselberg::app
