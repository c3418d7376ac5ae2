// The grounds along a line, and the earth between them; below the plan.
#pragma once

#include <QWidget>
#include <optional>
#include <vector>

#include "section/section_axes.h"
#include "section/sheet.h"
#include "workspace/view_state.h"

class QToolButton;

namespace inselberg::app {

class SectionView : public QWidget {
  Q_OBJECT

 public:
  SectionView(Workspace& workspace, ViewState& state, QWidget* parent = nullptr);

  // What is on show: the grounds in the order of the column, without those that cannot be made now.
  const section::Section& section() const { return section_; }
  const SectionAxes& axes() const { return axes_; }
  void fit();
  void trueScale();
  // How it is drawn on paper.
  section::SheetRules sheetRules() const;
  // The same grounds along another line.
  section::Section along(std::vector<plane::Vec2> line) const;
  // m2 from the existing to the finished ground; nothing without either.
  std::optional<section::CutFill> areas() const;

  QSize sizeHint() const override { return {640, 230}; }
  QSize minimumSizeHint() const override { return {320, 150}; }

 signals:
  void keepWanted();  // the line on show, under a name

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;
  void wheelEvent(QWheelEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  void leaveEvent(QEvent*) override;

 private:
  // A works whose finished level is at the place, with a level of its own that may be dragged.
  struct Grip {
    WorksId works;
    double level = 0;    // of the works, when it was taken hold of
    double grabbed = 0;  // where
    bool moved = false;
  };

  void take();
  // The kept lines, and which of them is on show.
  void nameLine();
  void placeButtons();
  std::optional<std::size_t> ofRole(project::Role role) const;
  std::optional<Grip> gripAt(QPointF at) const;
  void drag(QPointF at);
  // The station that is pointed at: here, or where the line comes nearest to the pointer on the plan.
  std::optional<double> pointedStation() const;
  QColor colourOf(std::size_t ground) const;
  void paintAxes(QPainter& painter);
  void paintEarth(QPainter& painter);
  void paintBetween(QPainter& painter, std::size_t earlier, std::size_t later, const QBrush& cut, const QBrush& fill);
  void paintUndercut(QPainter& painter);
  void paintGrounds(QPainter& painter);
  void paintSlopes(QPainter& painter);
  void paintPointer(QPainter& painter);
  void paintHead(QPainter& painter);

  Workspace& workspace_;
  ViewState& state_;
  section::Section section_;
  std::vector<GroundId> ids_;
  std::vector<project::Role> roles_;
  double low_ = 0, high_ = 0;  // of all levels
  SectionAxes axes_;
  bool fitted_ = false;  // by hand: what was chosen stays
  std::optional<QPointF> panFrom_;
  std::optional<Grip> grip_;
  QToolButton *lines_, *fit_, *true_, *close_;
};

}  // namespace inselberg::app
