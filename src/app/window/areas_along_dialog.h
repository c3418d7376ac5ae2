// Cut and fill area of sections square to the section's line, drawn and listed along it.
#pragma once

#include <QDialog>

#include "section/section.h"
#include "workspace/workspace.h"

class QCustomPlot;
class QLabel;

namespace inselberg::app {

class TablePage;
class QuantityEdit;
class SectionView;

class AreasAlongDialog : public QDialog {
  Q_OBJECT

 public:
  // REQUIRES: the view shows a section with an earlier and a later ground.
  AreasAlongDialog(Workspace& workspace, const SectionView& view, QWidget* parent = nullptr);

  // The line of the section that was asked for by a double click; empty: none.
  const std::vector<plane::Vec2>& wanted() const { return wanted_; }

 private:
  void compute();
  void show();

  Workspace& workspace_;
  const SectionView& view_;
  std::vector<section::CrossLine> cross_;
  std::vector<section::AreaAlong> areas_;
  std::vector<plane::Vec2> wanted_;
  QuantityEdit *spacing_, *width_;
  QCustomPlot* plot_;
  TablePage* table_;
  QLabel* note_;
};

}  // namespace inselberg::app
