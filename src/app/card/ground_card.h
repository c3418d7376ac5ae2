// The card of a ground: what it is made of, its numbers, its doubts.
#pragma once

#include <QWidget>

#include "workspace/workspace.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QListWidgetItem;
class QPushButton;
class QVBoxLayout;

namespace inselberg::app {

class QuantityEdit;

class GroundCard : public QWidget {
  Q_OBJECT

 public:
  explicit GroundCard(Workspace& workspace, QWidget* parent = nullptr);
  void refresh();

 signals:
  void placeWanted(plane::Vec2 place);
  void importWanted(const QString& path);  // this file again

 private:
  void makeFigures(QVBoxLayout& layout);
  void makeSources(QVBoxLayout& layout);
  void makeSourceButtons(QVBoxLayout& box);
  void makeRules(QVBoxLayout& box);
  void makeName(QVBoxLayout& layout);
  void rename();
  void makeRole(QVBoxLayout& layout);
  void makeMadeOf(QVBoxLayout& layout);
  void showMadeOf(const project::Ground& recipe);
  void takeMadeOf();
  void makeDoubts(QVBoxLayout& layout);
  void connectSources();
  void connectRules();
  void setRules(const std::function<void(ground::BuildRules&)>& edit, const QString& what);
  const project::Source* markedSource() const;
  void showReport();
  QString madeFrom(const project::Ground& recipe) const;
  void refreshSourceButtons();
  void changeInfo(const std::function<void(project::SourceInfo&)>& edit, const QString& what);
  void moveSource(int by);
  void takePart(QListWidgetItem* item);
  const ground::Doubt* markedDoubt() const;
  void showDoubts(const project::EvaluatedGround* ground, bool there);
  void refreshDoubtButtons();
  void cureDoubt();
  void acceptDoubt();
  void showSources(const project::FromSources& base);

  Workspace& workspace_;
  QLineEdit* name_;
  QWidget* madeOfRow_;
  std::vector<QComboBox*> madeOf_;  // the grounds it is made of
  QLabel *problem_, *triangles_, *points_, *planArea_, *surfaceArea_, *levels_, *onGround_;
  QWidget *figures_, *sourcesBox_;
  QWidget* roleRow_;
  QComboBox* role_;
  QListWidget* sources_;
  QPushButton *removeSource_, *report_, *again_, *up_, *down_, *colour_;
  QCheckBox *shown_, *locked_;
  QCheckBox* cureFlats_;
  QComboBox* duplicates_;
  QuantityEdit* maxEdge_;
  QLabel* doubtsHeading_;
  QListWidget* doubts_;
  QWidget* doubtsBar_;
  QPushButton *cure_, *accept_;
};

}  // namespace inselberg::app
