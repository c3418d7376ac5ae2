// The ground in three dimensions: beside the plan or in its place.
#pragma once

#include <QTimer>
#include <QWidget>
#include <memory>
#include <optional>

#include "canvas/legend.h"
#include "jobs/worker.h"
#include "relief/relief_renderer.h"
#include "workspace/view_state.h"

class QToolButton;

namespace inselberg::app {

class ReliefView : public QWidget {
  Q_OBJECT

 public:
  ReliefView(Workspace& workspace, ViewState& state, QWidget* parent = nullptr);
  ~ReliefView() override;

  const Camera& camera() const { return camera_; }
  const ReliefPicture& picture() const { return picture_; }
  // Why it cannot be drawn; empty when it can.
  const QString& failure() const { return failure_; }
  // Looks at the whole ground, from above the ground to the south-west of it.
  void fit();
  void lookFrom(const Camera& camera);
  // On the ground, at a man's height; keys and wheel walk. Nothing where the ground does not cover the place.
  void standAt(plane::Vec2 place);
  bool walks() const { return walks_; }
  // True when the picture on show is of the latest evaluation and camera, in full detail.
  bool settled() const;

  QSize sizeHint() const override { return {500, 400}; }
  QSize minimumSizeHint() const override { return {260, 200}; }

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;
  void showEvent(QShowEvent*) override;
  void wheelEvent(QWheelEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void mouseDoubleClickEvent(QMouseEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  void leaveEvent(QEvent*) override;

 private:
  void refresh();
  // Draws anew; `moving`: soon, and at rest once more in full.
  void request(bool moving);
  ReliefRequest wanted(bool moving) const;
  std::vector<ReliefRequest::Line> lines() const;
  // What stands between the eye and the section; nothing when that is not wanted.
  std::optional<ReliefCut> cutAway() const;
  // The grounds up to the one on show, in order of work.
  std::vector<EarthStep> earthSteps() const;
  ground::TinPtr shownTin() const;
  // Of what is on show, pending facets included.
  std::optional<double> levelAt(plane::Vec2 p) const;
  plane::Vec3 raised(const plane::Vec3& p) const;
  void turn(double bearingBy, double tiltBy);
  void step(double metres);
  void setRaise(double raise);
  void raiseBy(int steps);
  void goTo(plane::Vec2 eye);
  void paintLabels(QPainter& painter);
  void paintPointer(QPainter& painter);
  void paintText(QPainter& painter, const QString& text);

  Workspace& workspace_;
  ViewState& state_;
  Camera camera_;
  plane::Vec3 middle_;
  int middleOf_ = -1;                       // the project it was taken from
  std::vector<ReliefRequest::Line> lines_;  // of what is on show
  bool walks_ = false;
  bool fitted_ = false;  // nothing was changed by hand since
  ReliefPicture picture_;
  QString failure_;
  std::uint64_t asked_ = 0, got_ = 0;
  QTimer rest_;
  std::optional<QPointF> pressedAt_, last_;
  bool dragged_ = false, pans_ = false, here_ = false;
  ShownLegend legend_;
  QToolButton *fit_, *raise_, *glass_, *cutAway_, *close_;
  std::shared_ptr<ReliefRenderer> renderer_;
  Worker worker_;
};

}  // namespace inselberg::app
