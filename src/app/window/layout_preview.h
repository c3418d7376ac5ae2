// A sheet as it will be printed. The wheel looks closer, a drag inside the plan's frame moves the plan, elsewhere the
// sheet.
#pragma once

#include <QPixmap>
#include <QWidget>
#include <optional>

#include "drawing/paper.h"
#include "plane/geometry.h"

namespace inselberg::app {

class LayoutPreview : public QWidget {
  Q_OBJECT

 public:
  explicit LayoutPreview(QWidget* parent = nullptr);

  // `plan`: the frame of the plan, mm on the page.
  void showPage(drawing::Page page, const plane::Box& plan);
  // In place of a page.
  void say(const QString& why);
  void fit();
  const drawing::Page& page() const { return page_; }
  // Where a place on the page, mm from its lower left corner, is in the widget.
  QPointF onScreen(plane::Vec2 mm) const;

  QSize sizeHint() const override { return {620, 520}; }

 signals:
  // The plan was dragged by so many mm on the page.
  void planMoved(plane::Vec2 by);

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;
  void wheelEvent(QWheelEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void mouseDoubleClickEvent(QMouseEvent*) override { fit(); }

 private:
  void draw();
  QRectF frame() const;

  drawing::Page page_;
  plane::Box plan_;
  QString why_;
  double scale_ = 1;  // pixels a mm
  QPointF corner_;    // of the page's upper left
  bool fitted_ = true;
  QPixmap picture_;  // what is on show
  std::optional<QPointF> from_, now_;
  bool movesPlan_ = false;
};

}  // namespace inselberg::app
