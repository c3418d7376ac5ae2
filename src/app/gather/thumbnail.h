// A small picture of imported data: what each layer is taken as by its colour, what is left out pale. A frame dragged
// on it, or an outline clicked corner by corner, says which part is wanted.
#pragma once

#include <QImage>
#include <QWidget>
#include <memory>
#include <optional>
#include <vector>

#include "canvas/view_transform.h"
#include "exchange/layers.h"
#include "jobs/worker.h"

namespace inselberg::app {

class Thumbnail : public QWidget {
  Q_OBJECT

 public:
  explicit Thumbnail(QWidget* parent);
  // `takes` has one for each layer; `marked` is shown strong, whatever it is taken as (-1: none). The picture follows
  // from a worker.
  void setData(std::shared_ptr<const exchange::Imported> shown, std::vector<exchange::Take> takes, int marked);

 signals:
  // In easting and northing; not yet sound.
  void outlined(const plane::Polygon& polygon);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void resizeEvent(QResizeEvent*) override { draw(); }

 private:
  void draw();
  void drawSize(QPainter& painter) const;
  void finish(plane::Ring ring);

  std::shared_ptr<const exchange::Imported> data_;
  plane::Box bounds_;  // of the data
  std::vector<exchange::Take> takes_;
  int marked_ = -1;
  ViewTransform view_;
  plane::Ring corners_;  // clicked so far
  std::optional<QPoint> pressed_;
  QPoint pointer_;
  QImage picture_;  // null until there is one
  std::uint64_t asked_ = 0;
  Worker worker_;  // last: it ends before what it draws from
};

}  // namespace inselberg::app
