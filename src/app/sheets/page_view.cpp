#include "sheets/page_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>
#include <cmath>

#include "base/error.h"
#include "canvas/label.h"
#include "canvas/sheet_layer.h"
#include "canvas/snapping.h"
#include "canvas/view_keys.h"
#include "plane/boxes.h"

namespace inselberg::app {
namespace {

using plane::Vec2;

constexpr double kSnapPixels = 8;
constexpr double kBeyond = 0.25;  // of the view, on each side

}  // namespace

struct PageView::Shared {
  std::shared_ptr<const std::string> bytes;
  std::string name, world;
  int page = 1;
  std::unique_ptr<sheet::Document> document;
  bool read = false;
};

PageView::PageView(std::shared_ptr<const std::string> bytes, const std::string& name, const std::string& world,
                   int page, Vec2 size, QWidget* parent)
    : QWidget(parent),
      size_(size),
      shared_(std::make_shared<Shared>(Shared{std::move(bytes), name, world, page, nullptr, false})),
      worker_([this](const std::string& why) {
        QMetaObject::invokeMethod(
            this,
            [this, text = QString::fromUtf8(why.c_str())] {
              got_ = asked_;
              wrong_ = text;
              update();
            },
            Qt::QueuedConnection);
      }) {
  setObjectName("pageView");
  setAccessibleName(tr("The page"));
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  setCursor(Qt::CrossCursor);
}

PageView::~PageView() = default;

void PageView::setMarks(std::vector<Mark> marks, std::vector<Stretch> stretches) {
  marks_ = std::move(marks);
  stretches_ = std::move(stretches);
  update();
}

void PageView::setFrom(std::optional<Vec2> from) {
  from_ = from;
  update();
}

void PageView::request() {
  update();
  if (width() < 2 || height() < 2) return;
  const double pixels = view_.scale * devicePixelRatioF();
  const plane::Box seen = view_.visible();
  plane::Box part = seen.grown(kBeyond * std::max(seen.width(), seen.height()));
  part = plane::common(part, {0, 0, size_.x, size_.y});
  if (!(part.width() > 0 && part.height() > 0)) return;
  const std::uint64_t number = ++asked_;
  const QSize size(std::max(1, int(std::lround(part.width() * pixels))),
                   std::max(1, int(std::lround(part.height() * pixels))));
  worker_.post([this, shared = shared_, part, size, number](const Worker::Token& token) {
    const Progress progress([&] { return token.superseded(); });
    if (!shared->document) shared->document = sheet::openDocument(shared->bytes, shared->name, shared->world);
    QImage image = pagePicture(*shared->document, shared->page, part, size, progress);
    QMetaObject::invokeMethod(
        this,
        [this, image = std::move(image), part, number] {
          image_ = image;
          part_ = part;
          got_ = number;
          update();
        },
        Qt::QueuedConnection);
    if (shared->read) return;
    auto content = std::make_shared<const sheet::Content>(
        shared->document->content(shared->page, Progress([&] { return token.leaving(); })));
    shared->read = true;
    auto lines = std::make_shared<const sheet::SheetLines>(std::move(content), sheet::Placement{});
    QMetaObject::invokeMethod(
        this, [this, lines] { lines_ = lines; }, Qt::QueuedConnection);
  });
}

Vec2 PageView::snapped(QPointF screen) const {
  const Vec2 at = view_.toPlan(screen);
  if (!lines_) return at;
  static const project::ProjectPtr nothing = project::emptyProject({});
  SnapKinds ends;
  ends.crossings = true;
  return app::snapped({*nothing, nullptr, std::span(&lines_, 1)}, ends, {at, kSnapPixels / view_.scale, {}, {}, 1})
      .value_or(at);
}

void PageView::resizeEvent(QResizeEvent*) {
  view_.size = size();
  if (!fitted_) view_.fit({0, 0, size_.x, size_.y}, 12);
  request();
}

void PageView::wheelEvent(QWheelEvent* event) {
  view_.zoom(std::pow(1.2, event->angleDelta().y() / 120.0), event->position());
  fitted_ = true;
  request();
}

void PageView::mousePressEvent(QMouseEvent* event) {
  setFocus();
  pressed_ = panFrom_ = event->position();
}

void PageView::mouseMoveEvent(QMouseEvent* event) {
  constexpr double kStill = 4;  // pixels that a click may move
  if (panFrom_) {
    if (pressed_ && (event->position() - *pressed_).manhattanLength() <= kStill) return;
    pressed_.reset();
    const QPointF d = event->position() - *panFrom_;
    panFrom_ = event->position();
    view_.centre = view_.centre - Vec2{d.x() / view_.scale, -d.y() / view_.scale};
    fitted_ = true;
    request();
  }
  pointer_ = snapped(event->position());
  update();
}

void PageView::mouseReleaseEvent(QMouseEvent* event) {
  panFrom_.reset();
  if (std::exchange(pressed_, std::nullopt) && event->button() == Qt::LeftButton)
    Q_EMIT clicked(snapped(event->position()));
}

void PageView::leaveEvent(QEvent*) {
  pointer_.reset();
  update();
}

void PageView::keyPressEvent(QKeyEvent* event) {
  if (!moveByKey(view_, event->key())) return QWidget::keyPressEvent(event);
  fitted_ = true;
  request();
}

void PageView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), theme::panel());
  const auto rectOf = [&](const plane::Box& box) {
    return QRectF(view_.toScreen({box.minX, box.maxY}), view_.toScreen({box.maxX, box.minY}));
  };
  painter.fillRect(rectOf({0, 0, size_.x, size_.y}), Qt::white);
  painter.setRenderHint(QPainter::SmoothPixmapTransform);
  if (!image_.isNull()) painter.drawImage(rectOf(part_), image_);
  painter.setRenderHint(QPainter::Antialiasing);
  if (!wrong_.isEmpty()) {
    painter.setPen(theme::error());
    painter.drawText(rect().adjusted(20, 20, -20, -20), Qt::AlignCenter | Qt::TextWordWrap, wrong_);
  }
  for (const Stretch& s : stretches_) {
    const QPointF a = view_.toScreen(s.from), b = view_.toScreen(s.to);
    painter.setPen(QPen(s.strong ? theme::amber() : theme::daylight(), 2.2));
    painter.drawLine(a, b);
    for (const QPointF end : {a, b}) painter.drawEllipse(end, 3.5, 3.5);
    if (!s.text.isEmpty()) paintLabel(painter, s.text, (a + b) / 2 + QPointF(8, -20), width());
  }
  for (const Mark& m : marks_) {
    const QPointF p = view_.toScreen(m.at);
    painter.setPen(QPen(m.strong ? theme::amber() : theme::daylight(), 2));
    painter.setBrush(Qt::NoBrush);
    painter.drawEllipse(p, 7, 7);
    painter.drawLine(p - QPointF(11, 0), p + QPointF(11, 0));
    painter.drawLine(p - QPointF(0, 11), p + QPointF(0, 11));
    if (!m.text.isEmpty()) paintLabel(painter, m.text, p + QPointF(12, -24), width());
  }
  if (!pointer_) return;
  painter.setPen(QPen(theme::amber(), 1.6));
  if (from_) painter.drawLine(view_.toScreen(*from_), view_.toScreen(*pointer_));
  const QPointF p = view_.toScreen(*pointer_);
  painter.setBrush(Qt::NoBrush);
  painter.drawRect(QRectF(p - QPointF(5, 5), QSizeF(10, 10)));
}

}  // namespace inselberg::app
