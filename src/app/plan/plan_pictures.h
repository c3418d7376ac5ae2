// Pictures of the ground for a plan, drawn in the background: the latest that was asked for comes, and stays on show
// until the next one is there.
#pragma once

#include <QWidget>
#include <functional>
#include <memory>

#include "jobs/worker.h"
#include "plan/plan_renderer.h"

namespace inselberg::app {

class PlanPictures {
 public:
  // The owner, which holds this, is painted anew when a picture is there. `failed` is told, on the window's thread, why
  // one could not be drawn.
  PlanPictures(QWidget& owner, std::function<void(const QString& why)> failed);

  void ask(PlanRequest request);
  // What is kept from picture to picture has other colours now.
  void forgetColours();
  const PlanPicture& latest() const { return picture_; }
  // Where the latest lies in another view, as far as it reaches there.
  void paint(QPainter& painter, const ViewTransform& view) const;
  // True when the latest that was asked for is on show, or could not be drawn.
  bool settled() const { return asked_ == got_ && worker_.idle(); }

 private:
  QWidget& owner_;
  PlanPicture picture_;
  std::uint64_t asked_ = 0, got_ = 0;
  std::shared_ptr<PlanRenderer> renderer_;
  Worker worker_;
};

}  // namespace inselberg::app
