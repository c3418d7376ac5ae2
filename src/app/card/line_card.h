// The card of chosen points, lines and outlines: their shape, their levels with a profile, what can be done with them.
#pragma once

#include <QWidget>
#include <functional>

#include "workspace/workspace.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QVBoxLayout;
class QTableWidget;

namespace inselberg::app {

// Gets the other line once it is clicked on the plan, and where.
using WithOtherLine = std::function<void(const project::Feature&, plane::Vec2)>;

class LineCard : public QWidget {
  Q_OBJECT

 public:
  explicit LineCard(Workspace& workspace, QWidget* parent = nullptr);
  void tellUnits();
  void refresh();

 signals:
  // The next click on the plan names another line: `what` is told to the user, `then` gets it.
  void otherWanted(const QString& what, const inselberg::app::WithOtherLine& then);

 private:
  using Change = std::function<ground::Breakline(const ground::Breakline&)>;
  void makeShaping(QVBoxLayout& layout);
  void makeLevels(QVBoxLayout& layout);
  void connectShaping();
  void connectLevels();
  QPushButton* addButton(const char* id, const QString& text, const QString& tip);
  QLineEdit* addField(const char* id, const QString& placeholder = {});
  std::optional<ground::Breakline> only() const;  // the shape, when one line is chosen
  void change(const Change& change, const QString& what);
  void edit(const std::function<project::ProjectPtr(const project::Project&)>& edit, const QString& what);
  void replaceOnly(const std::optional<ground::Breakline>& shape, const QString& what, const QString& otherwise);
  std::optional<double> typed(QLineEdit& field, const QString& what, bool length = true);
  void applyLevels();
  void showTable(const std::optional<ground::Breakline>& line);
  void levelTyped(int row);

  Workspace& workspace_;
  QLabel *heading_, *about_;
  QPushButton *reverse_, *close_, *join_, *offset_, *round_, *trim_, *extend_, *turn_, *shift_, *apply_;
  QLineEdit *offsetBy_, *radius_, *angle_, *by_, *level_;
  QComboBox* levels_;
  QTableWidget* table_;
  QWidget* profile_;
  bool filling_ = false;
};

}  // namespace inselberg::app
