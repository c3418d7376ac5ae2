// A second plan beside the first, of the same place at the same scale: another ground, or a result that was kept.
#pragma once

#include <QPixmap>
#include <QWidget>
#include <optional>

#include "canvas/view_transform.h"
#include "plan/plan_pictures.h"
#include "workspace/view_state.h"

class QComboBox;
class QToolButton;

namespace inselberg::app {

class SecondPlan : public QWidget {
  Q_OBJECT

 public:
  SecondPlan(Workspace& workspace, ViewState& state, QWidget* parent = nullptr);
  ~SecondPlan() override;

  // Shows the place that the first plan shows.
  void follow(const ViewTransform& view);
  // The ground on show; nothing while a kept result is.
  std::optional<GroundId> ground() const { return ground_; }
  const ViewTransform& view() const { return view_; }
  bool settled() const { return pictures_.settled(); }

  QSize minimumSizeHint() const override { return {240, 240}; }

 signals:
  // It was moved or zoomed: where both are to look.
  void moved(const ViewTransform& view);

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;
  void showEvent(QShowEvent*) override;
  void wheelEvent(QWheelEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void leaveEvent(QEvent*) override;
  void keyPressEvent(QKeyEvent*) override;

 private:
  void fillList();
  void choose(int row);
  void request();
  void paintKept(QPainter& painter);
  void paintHere(QPainter& painter);

  Workspace& workspace_;
  ViewState& state_;
  QComboBox* list_;
  QToolButton* close_;
  ViewTransform view_;
  std::optional<GroundId> ground_;
  std::uint64_t kept_ = 0;  // the id of the result on show; 0: none
  QPixmap keptPicture_;
  std::optional<QPointF> panFrom_;
  PlanPictures pictures_;
};

}  // namespace inselberg::app
