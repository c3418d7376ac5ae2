#include "plan/plan_pictures.h"

#include <QPainter>

namespace inselberg::app {

PlanPictures::PlanPictures(QWidget& owner, std::function<void(const QString& why)> failed)
    : owner_(owner),
      renderer_(std::make_shared<PlanRenderer>()),
      worker_([this, failed = std::move(failed)](const std::string& why) {
        QMetaObject::invokeMethod(
            &owner_,
            [this, failed, text = QString::fromUtf8(why.c_str())] {
              got_ = asked_;
              failed(text);
            },
            Qt::QueuedConnection);
      }) {}

void PlanPictures::ask(PlanRequest request) {
  const std::uint64_t number = ++asked_;
  worker_.post([this, r = std::move(request), number, renderer = renderer_](const Worker::Token& token) {
    PlanPicture picture = renderer->render(r, Progress([&] { return token.leaving(); }));
    QMetaObject::invokeMethod(
        &owner_,
        [this, picture = std::move(picture), number] {
          picture_ = picture;
          got_ = number;
          owner_.update();
        },
        Qt::QueuedConnection);
  });
}

void PlanPictures::forgetColours() {
  renderer_ = std::make_shared<PlanRenderer>();
}

void PlanPictures::paint(QPainter& painter, const ViewTransform& view) const {
  if (picture_.image.isNull()) return;
  const QPointF a = view.toScreen(picture_.view.toPlan({0, 0}));
  const QPointF b = view.toScreen(picture_.view.toPlan({picture_.view.size.width(), picture_.view.size.height()}));
  painter.drawImage(QRectF(a, b), picture_.image);
}

}  // namespace inselberg::app
