// The plan: the ground as a picture, the works on it, and the tool in hand.
#pragma once

#include <QPointer>
#include <QWidget>
#include <memory>
#include <optional>
#include <vector>

#include "canvas/canvas.h"
#include "canvas/legend.h"
#include "canvas/snapping.h"
#include "canvas/view_transform.h"
#include "plan/plan_pictures.h"
#include "workspace/view_state.h"

class QLineEdit;
class QPushButton;

namespace inselberg::app {

class PlanView : public QWidget, public Canvas {
  Q_OBJECT

 public:
  PlanView(Workspace& workspace, ViewState& state, QWidget* parent = nullptr);
  ~PlanView() override;

  Workspace& workspace() override { return workspace_; }
  const ViewTransform& view() const override { return view_; }
  void showCursor(Qt::CursorShape shape) override;
  void repaintMarks() override { update(); }
  void finishTool() override { Q_EMIT toolFinished(); }

  void setTool(std::unique_ptr<Tool> tool);
  Tool& tool() { return *tool_; }

  void fit();
  // So many pixels of its top lie under something: what it writes there stands below.
  void coverTop(int pixels);
  void showPlace(plane::Vec2 p);
  // Looks at the place in the middle of another view, at its scale.
  void look(const ViewTransform& view);
  // True when the picture on show is of the latest evaluation and view.
  bool settled() const;

  QSize minimumSizeHint() const override { return {320, 240}; }

 signals:
  void toolFinished();
  void moved(const ViewTransform& view);  // or perhaps not: what it shows may have changed only
  void importWanted();

 protected:
  bool event(QEvent*) override;
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;
  void wheelEvent(QWheelEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void mouseDoubleClickEvent(QMouseEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  void leaveEvent(QEvent*) override;
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  Pointed pointedAt(QPointF screen);
  void requestPicture();
  void paintWorks(QPainter& painter);
  void paintFall(QPainter& painter, const works::Shape& shape, const works::Fall& fall);
  void paintHachures(QPainter& painter);
  void paintFurniture(QPainter& painter);
  void paintLegend(QPainter& painter);
  void paintSpill(QPainter& painter);
  void paintEmpty(QPainter& painter);
  void paintDoubts(QPainter& painter);
  void paintSnapping(QPainter& painter);
  void paintSection(QPainter& painter);
  void paintDepths(QPainter& painter);
  void paintCoverage(QPainter& painter, const project::Coverage& coverage);
  void paintPlate(QPainter& painter, const QString& text);
  std::optional<project::AreaUse> covering() const;
  bool startsEntry(const QKeyEvent& event) const;
  void openEntry(const QString& start);
  // Whether there is anything to see: a ground, or a sheet.
  bool hasPicture() const { return state_.shownGround() || !workspace_.project()->sheets.empty(); }
  bool showsSources() const { return state_.shown().sources || tool_->showsSources(); }

  Workspace& workspace_;
  ViewState& state_;
  ViewTransform view_;
  bool fitted_ = false;
  QLineEdit* entry_;  // where places and levels are typed
  std::unique_ptr<Tool> tool_;
  std::optional<Pointed> pointer_;
  std::optional<QPointF> panFrom_;
  bool pressed_ = false;
  project::ProjectPtr drawn_;  // whose label lines and sources were asked for last
  ShownLegend legend_;
  QPushButton* start_;          // where there is no ground yet
  int covered_ = 0;             // pixels of the top that something lies over
  double plateTop_ = 12;        // of the next plate at the top right
  std::vector<QRectF> plates_;  // of words that lie over the picture
  PlanPictures pictures_;
};

}  // namespace inselberg::app
