// The column: the grounds in order of work, drawn like a borehole log, with the seam between each and the next.
#pragma once

#include <QWidget>
#include <vector>

#include "workspace/view_state.h"

namespace inselberg::app {

class ColumnPanel : public QWidget {
  Q_OBJECT

 public:
  ColumnPanel(Workspace& workspace, ViewState& state, QWidget* parent = nullptr);

  // Where things are drawn, for events and tests; empty when not shown.
  QRect bandOf(GroundId id) const;
  QRect rowOf(WorksId id) const;
  QRect seamRectOf(const project::Between& between) const;
  QRect eyeOf(WorksId id) const;   // of works alone
  QRect partOf(WorksId id) const;  // the box that says whether it takes part

  QSize sizeHint() const override { return {200, height_}; }

 signals:
  void worksShown(WorksId id);  // double-clicked: bring it into view

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void mouseDoubleClickEvent(QMouseEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  void resizeEvent(QResizeEvent*) override;
  void leaveEvent(QEvent*) override;
  bool event(QEvent* event) override;

 private:
  struct Item {
    enum Kind { band, row, stage, seam } kind;
    QRect rect;
    GroundId ground;        // of a seam the upper one
    WorksId works;          // row; stage: a strip, undercut or build-up
    std::size_t index = 0;  // of the ground in the column; of a works in its ground
  };

  void layOut();
  // The seam as it was evaluated last; null while it has not been.
  const project::Seam* seamOf(const project::Between& between) const;
  // Whether it is counted and measured from the band right below `to` (by its place in the column).
  bool isPlain(const project::Between& between, std::size_t to) const;
  const Item* itemAt(QPoint p) const;
  const Item* entryOf(WorksId id) const;  // the row or stage; null when not shown
  bool onMark(const Item& item, QPoint p) const;
  void paintSeam(QPainter& painter, const Item& item, double greatest);
  void paintBand(QPainter& painter, const Item& item);
  void paintRow(QPainter& painter, const Item& item);
  struct Entry {
    QString icon, name;
    bool leftOut, held, chosen;
    std::optional<bool> hidden;  // what cannot be: nothing
  };
  void paintEntry(QPainter& painter, const Item& item, const Entry& entry);
  void findDropOf(WorksId works);
  void findDropOf(GroundId ground);
  QString tipOf(const Item& item, QPoint at) const;

  Workspace& workspace_;
  ViewState& state_;
  std::vector<Item> items_;
  std::vector<project::Between> seams_;  // of the project
  QPoint pressedAt_;
  WorksId dragged_;
  GroundId draggedGround_;
  int height_ = 0;     // of all there is
  int dropLine_ = -1;  // y, while a works or a ground is dragged
  std::size_t dropPlace_ = 0;
  QPoint hover_{-1, -1};
};

}  // namespace inselberg::app
