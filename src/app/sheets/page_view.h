// One page of a plan sheet, to zoom into and to click places on.
#pragma once

#include <QImage>
#include <QWidget>
#include <memory>
#include <vector>

#include "canvas/view_transform.h"
#include "jobs/worker.h"
#include "sheet/sheet_lines.h"

namespace inselberg::app {

class PageView : public QWidget {
  Q_OBJECT

 public:
  // Places are in the page's unit. `size` is the page's.
  PageView(std::shared_ptr<const std::string> bytes, const std::string& name, const std::string& world, int page,
           plane::Vec2 size, QWidget* parent = nullptr);
  ~PageView() override;

  struct Mark {
    plane::Vec2 at;
    QString text;
    bool strong = false;
  };
  struct Stretch {
    plane::Vec2 from, to;
    QString text;
    bool strong = false;
  };
  void setMarks(std::vector<Mark> marks, std::vector<Stretch> stretches);
  // A line follows the pointer from here; nothing: none does.
  void setFrom(std::optional<plane::Vec2> from);
  bool settled() const { return asked_ == got_ && worker_.idle(); }
  const ViewTransform& view() const { return view_; }

  QSize minimumSizeHint() const override { return {360, 260}; }

 signals:
  void clicked(plane::Vec2 place);

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;
  void wheelEvent(QWheelEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void leaveEvent(QEvent*) override;
  void keyPressEvent(QKeyEvent*) override;

 private:
  // Opened and read on the worker's thread alone.
  struct Shared;
  void request();
  // Ends and crossings of the page's lines near the pointer draw it to them.
  plane::Vec2 snapped(QPointF screen) const;

  plane::Vec2 size_;
  ViewTransform view_;
  bool fitted_ = false;
  QImage image_;
  plane::Box part_;  // of the page, that the image shows
  std::vector<Mark> marks_;
  std::vector<Stretch> stretches_;
  std::optional<plane::Vec2> from_, pointer_;
  std::optional<QPointF> pressed_, panFrom_;
  std::shared_ptr<const sheet::SheetLines> lines_;  // of the page, in its own unit; null until they are read
  QString wrong_;                                   // why there is no picture
  std::uint64_t asked_ = 0, got_ = 0;
  std::shared_ptr<Shared> shared_;
  Worker worker_;  // last: it ends before what it draws from
};

}  // namespace inselberg::app
