// A small picture of imported data: what each layer is taken as by its colour, what is left out pale. A frame dragged
// on it, or an outline clicked corner by corner, says which part is wanted.
#pragma once

#include <QImage>
#include <QWidget>
#include <optional>
#include <vector>

#include "canvas/view_transform.h"
#include "exchange/layers.h"

namespace inselberg::app {

class Thumbnail : public QWidget {
  Q_OBJECT

 public:
  explicit Thumbnail(QWidget* parent) : QWidget(parent) {
    setMinimumSize(300, 260);
    setMouseTracking(true);
    setFocusPolicy(Qt::ClickFocus);
    setCursor(Qt::CrossCursor);
  }
  // `shown` must outlive the next change; `takes` has one for each layer; `marked` is shown strong, whatever it is
  // taken as (-1: none).
  void setData(const exchange::Imported* shown, std::vector<exchange::Take> takes, int marked);

 signals:
  // In easting and northing; not yet sound.
  void outlined(const plane::Polygon& polygon);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void resizeEvent(QResizeEvent*) override { picture_ = {}; }

 private:
  void draw();
  void drawRasters(QPainter& painter) const;
  void finish(plane::Ring ring);

  const exchange::Imported* data_ = nullptr;
  std::vector<exchange::Take> takes_;
  int marked_ = -1;
  ViewTransform view_;
  plane::Ring corners_;  // clicked so far
  std::optional<QPoint> pressed_;
  QPoint pointer_;
  QImage picture_;  // drawn once for each change
};

}  // namespace inselberg::app
