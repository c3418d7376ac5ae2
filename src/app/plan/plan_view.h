// The plan: the ground as a picture, the works on it, and the tool in hand.
#pragma once

#include <QPointer>
#include <QWidget>
#include <memory>
#include <optional>
#include <unordered_map>
#include <vector>

#include "jobs/worker.h"
#include "plan/hachures.h"
#include "plan/plan_renderer.h"
#include "plan/snapping.h"
#include "plan/view_transform.h"
#include "window/workspace.h"

class QLineEdit;
class QPushButton;

namespace inselberg::app {

class PlanView;

// Where the pointer is, after snapping.
struct Pointed {
  QPointF screen;
  plane::Vec2 plan;
  bool snapped = false;
};

// What the mouse and keyboard do on the plan. A tool paints its own marks over the picture.
class Tool {
 public:
  virtual ~Tool() = default;
  virtual QString hint() const = 0;  // what to do next, painted on the plan
  virtual void press(const Pointed&, Qt::KeyboardModifiers) {}
  virtual void move(const Pointed&, bool dragging, Qt::KeyboardModifiers) = 0;
  virtual void release(const Pointed&) {}
  virtual void doubleClick(const Pointed&) {}
  virtual bool key(int, Qt::KeyboardModifiers) { return false; }  // true: taken
  virtual void paint(QPainter&) {}
  // True when a press here would take hold of something (so that the plan is not dragged instead).
  virtual bool holds(const Pointed&) const { return true; }
  // The place the right-angle lock measures from, and the direction it is square to.
  virtual std::optional<std::pair<plane::Vec2, plane::Vec2>> lockFrom() const { return std::nullopt; }
  // A corner that is being dragged snaps to others, not to itself.
  virtual std::optional<plane::Vec2> notTo() const { return std::nullopt; }
  // Whether places are snapped at all now.
  virtual bool snaps() const { return true; }
  // Whether the sources' points and lines are shown while this tool is in hand.
  virtual bool showsSources() const { return false; }
  // A tool that takes typed text: what is typed on the plan opens a line for it. The answer is what is wrong with it.
  virtual bool wantsText() const { return false; }
  virtual QString typed(const QString&) { return {}; }
};

class PlanView : public QWidget {
  Q_OBJECT

 public:
  explicit PlanView(Workspace& workspace, QWidget* parent = nullptr);
  ~PlanView() override;

  Workspace& workspace() { return workspace_; }
  const ViewTransform& view() const { return view_; }

  void setTool(std::unique_ptr<Tool> tool);
  Tool& tool() { return *tool_; }

  PlanMode mode() const { return mode_; }
  void setMode(PlanMode mode);
  Lit lit() const { return lit_; }
  void setLit(Lit part);
  void setTriangles(bool on);
  void setContours(bool on);
  void setInterval(double interval);  // 0: proposed
  double interval() const { return interval_; }
  void setSnapping(bool on);
  bool snapping() const { return snapping_; }
  const SnapKinds& snapKinds() const { return snapKinds_; }
  void setSnapKinds(const SnapKinds& kinds);
  void setSources(bool on);
  void setRightAngles(bool on);
  bool rightAngles() const { return rightAngles_; }

  void fit();
  void showPlace(plane::Vec2 p);
  // True when the picture on show is of the latest evaluation and view.
  bool settled() const;

  QSize minimumSizeHint() const override { return {320, 240}; }

 signals:
  void pointed(plane::Vec2 plan, bool inside);
  void switchesChanged();
  void toolFinished();
  void importWanted();

 protected:
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
  const project::EvaluatedGround* shownGround() const;  // null when none can be shown
  ground::TinPtr beneathTin() const;
  void paintWorks(QPainter& painter);
  void paintHachures(QPainter& painter, const project::PlacedWorks& works);
  void paintFurniture(QPainter& painter);
  void paintLegend(QPainter& painter);
  void paintHint(QPainter& painter);
  void paintEmpty(QPainter& painter);
  void paintDoubts(QPainter& painter);
  void paintSnapping(QPainter& painter);
  void openEntry(const QString& start);
  bool showsSources() const { return sources_ || tool_->showsSources(); }

  struct Hachures {
    std::shared_ptr<const works::Placement> of;
    double scale = 0;
    plane::Box area;
    std::vector<HachureStroke> strokes;
  };

  Workspace& workspace_;
  ViewTransform view_;
  bool fitted_ = false;
  PlanMode mode_ = PlanMode::relief;
  Lit lit_ = Lit::all;
  bool triangles_ = false, contours_ = true, snapping_ = true, rightAngles_ = false;
  double interval_ = 0;
  SnapKinds snapKinds_;
  bool sources_ = false;
  QLineEdit* entry_;  // where places and levels are typed
  PlanPicture picture_;
  std::uint64_t asked_ = 0, got_ = 0;
  std::unique_ptr<Tool> tool_;
  std::optional<Pointed> pointer_;
  std::optional<QPointF> panFrom_;
  bool pressed_ = false;
  double greatestDepth_ = 1;
  project::ProjectPtr drawn_;  // whose label lines and sources were asked for last
  ground::TinPtr steepnessOf_;
  std::vector<double> steepness_;  // of that ground
  std::unordered_map<WorksId, Hachures> hachures_;
  QPushButton* start_;  // where there is no ground yet
  std::shared_ptr<PlanRenderer> renderer_;
  Worker worker_;
};

}  // namespace inselberg::app
