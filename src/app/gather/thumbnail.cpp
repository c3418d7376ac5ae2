#include "gather/thumbnail.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include "base/quantity.h"
#include "exchange/coordinate_system.h"
#include "theme/theme.h"

namespace inselberg::app {
namespace {

using exchange::Take;

const QColor kPaper(0xFC, 0xFB, 0xF8);

QPen penOf(Take take, bool marked) {
  QPen pen(theme::rule(), 1);
  switch (take) {
    case Take::skip:
      break;
    case Take::points:
    case Take::faces:
      pen = QPen(theme::granite(), 1);
      break;
    case Take::breaklines:
      pen = QPen(theme::ink(), 1.4);
      break;
    case Take::contours:
      pen = QPen(theme::loam(), 1);
      break;
    case Take::boundary:
      pen = QPen(theme::ink(), 1.6, Qt::DashLine);
      break;
    case Take::voids:
      pen = QPen(theme::error(), 1.4, Qt::DotLine);
      break;
    case Take::works:
      pen = QPen(theme::daylight(), 1.6);
      break;
  }
  if (marked) pen.setColor(theme::amber()), pen.setWidthF(2.2);
  return pen;
}

// One picture of imported data, drawn beside the window's thread.
struct Drawing {
  const exchange::Imported& data;
  const std::vector<Take>& takes;
  const int marked;
  const ViewTransform view;
  const Progress& progress;

  void draw(QPainter& painter) const {
    drawRasters(painter);
    drawModels(painter);
    drawPoints(painter);
    drawLines(painter);
    drawAreas(painter);
  }

 private:
  // More than this many marks look the same.
  static constexpr std::size_t kMost = 40000;

  QPen penFor(exchange::LayerIndex layer) const {
    return penOf(layer < takes.size() ? takes[layer] : Take::skip, static_cast<int>(layer) == marked);
  }

  void drawRasters(QPainter& painter) const {
    for (const auto& raster : data.rasters) {
      const ground::RasterFigures& f = raster.figures;
      const double span = std::max(f.maxLevel - f.minLevel, 1e-6);
      painter.setPen(Qt::NoPen);
      constexpr std::size_t kSide = 160;
      const std::size_t stepC = raster.raster.columns / kSide + 1, stepR = raster.raster.rows / kSide + 1;
      for (std::size_t r = 0; r < raster.raster.rows; r += stepR) {
        progress.check();
        for (std::size_t c = 0; c < raster.raster.columns; c += stepC) {
          const double z = raster.raster.level(c, r);
          if (std::isnan(z)) continue;
          const auto along = static_cast<float>((z - f.minLevel) / span);
          const QPointF a = view.toScreen(raster.raster.place(c, r)),
                        b = view.toScreen(raster.raster.place(c + stepC, r + stepR));
          painter.setBrush(QColor::fromRgbF(0.42F + 0.48F * along, 0.38F + 0.5F * along, 0.30F + 0.54F * along));
          painter.drawRect(QRectF(a, b).normalized().adjusted(-0.5, -0.5, 0.5, 0.5));
        }
      }
      painter.setBrush(Qt::NoBrush);
    }
  }

  void drawModels(QPainter& painter) const {
    for (const auto& model : data.models) {
      progress.check();
      painter.setPen(QPen(penFor(model.layer).color(), static_cast<int>(model.layer) == marked ? 1.0 : 0.5));
      const std::size_t step = model.triangles.size() / kMost + 1;
      for (std::size_t i = 0; i < model.triangles.size(); i += step) {
        QPolygonF face;
        for (const auto v : model.triangles[i]) face << view.toScreen(model.points[v].plan());
        painter.drawPolygon(face);
      }
    }
  }

  void drawPoints(QPainter& painter) const {
    painter.setPen(Qt::NoPen);
    const std::size_t step = data.points.size() / kMost + 1;
    for (std::size_t i = 0; i < data.points.size(); i += step) {
      painter.setBrush(penFor(data.layerOf(i)).color());
      const QPointF p = view.toScreen(data.points[i].plan());
      painter.drawRect(QRectF(p.x() - 0.9, p.y() - 0.9, 1.8, 1.8));
    }
  }

  void drawLines(QPainter& painter) const {
    painter.setBrush(Qt::NoBrush);
    std::size_t vertices = 0;
    for (const auto& line : data.lines) vertices += line.vertices.size();
    const std::size_t lineStep = vertices / (10 * kMost) + 1;
    for (const auto& line : data.lines) {
      progress.check();
      painter.setPen(penFor(line.layer));
      QPolygonF shape;
      for (std::size_t i = 0; i < line.vertices.size(); i += std::min(lineStep, line.vertices.size() / 2))
        shape << view.toScreen(line.vertices[i].plan());
      shape << view.toScreen((line.closed ? line.vertices.front() : line.vertices.back()).plan());
      painter.drawPolyline(shape);
    }
  }

  void drawAreas(QPainter& painter) const {
    for (const auto& area : data.areas) {
      // Beside points or lines an area is a boundary.
      const Take take = area.layer < takes.size() ? takes[area.layer] : Take::skip;
      const bool own = take == Take::skip || take == Take::voids || take == Take::works;
      painter.setPen(penOf(own ? take : Take::boundary, static_cast<int>(area.layer) == marked));
      const auto ring = [&](const plane::Ring& r) {
        QPolygonF shape;
        for (const auto p : r) shape << view.toScreen(p);
        painter.drawPolygon(shape);
      };
      ring(area.polygon.outer);
      for (const auto& hole : area.polygon.holes) ring(hole);
    }
  }
};

}  // namespace

Thumbnail::Thumbnail(QWidget* parent) : QWidget(parent), worker_([](const std::string&) {}) {
  setMinimumSize(300, 260);
  setMouseTracking(true);
  setFocusPolicy(Qt::ClickFocus);
  setCursor(Qt::CrossCursor);
}

void Thumbnail::setData(std::shared_ptr<const exchange::Imported> shown, std::vector<Take> takes, int marked) {
  if (shown != data_) bounds_ = shown ? shown->bounds() : plane::Box{}, picture_ = {};
  data_ = std::move(shown);
  takes_ = std::move(takes);
  marked_ = marked;
  corners_.clear();
  pressed_.reset();
  draw();
}

// Asks for the picture; the last one stays until it is there.
void Thumbnail::draw() {
  ++asked_;
  update();
  if (bounds_.empty()) {
    picture_ = {};
    return;
  }
  view_.size = size();
  view_.fit(bounds_, 16);
  worker_.post([this, data = data_, takes = takes_, marked = marked_, view = view_, size = size(),
                ratio = devicePixelRatioF(), number = asked_](const Worker::Token& token) {
    const Progress progress([&] { return token.leaving() || token.superseded(); }, {});
    QImage picture(size * ratio, QImage::Format_RGB32);
    picture.setDevicePixelRatio(ratio);
    picture.fill(kPaper);
    QPainter painter(&picture);
    painter.setRenderHint(QPainter::Antialiasing);
    Drawing{*data, takes, marked, view, progress}.draw(painter);
    painter.end();
    QMetaObject::invokeMethod(
        this,
        [this, picture, number] {
          if (number != asked_) return;
          picture_ = picture;
          update();
        },
        Qt::QueuedConnection);
  });
}

// How large it is, in the corner.
void Thumbnail::drawSize(QPainter& painter) const {
  const bool degrees = !data_->system.empty() && !exchange::isOnPlane(data_->system);
  painter.setPen(theme::muted());
  painter.drawText(rect().adjusted(6, 0, -6, -4), Qt::AlignBottom | Qt::AlignLeft,
                   (degrees ? tr("%1° × %2°") : tr("%1 × %2 m"))
                       .arg(QString::fromStdString(formatNumber(bounds_.width(), degrees ? 4 : 0)),
                            QString::fromStdString(formatNumber(bounds_.height(), degrees ? 4 : 0))));
}

void Thumbnail::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), kPaper);
  painter.setRenderHint(QPainter::Antialiasing);
  if (bounds_.empty()) {
    painter.setPen(theme::muted());
    painter.drawText(rect(), Qt::AlignCenter, tr("nothing to show"));
  } else {
    if (!picture_.isNull()) painter.drawImage(0, 0, picture_);
    drawSize(painter);
  }
  painter.setPen(QPen(theme::ink(), 1.4));
  painter.setBrush(theme::faded(theme::amber(), 50));
  if (pressed_) {
    painter.drawRect(QRectF(*pressed_, pointer_).normalized());
  } else if (!corners_.empty()) {
    QPolygonF shape;
    for (const plane::Vec2 p : corners_) shape << view_.toScreen(p);
    painter.drawPolygon(QPolygonF(shape) << pointer_);
    painter.setBrush(theme::paper());
    painter.drawRect(QRectF(shape.front() - QPointF(3, 3), QSizeF(6, 6)));
  } else if (data_ && !data_->empty()) {
    painter.setPen(theme::muted());
    painter.drawText(rect().adjusted(6, 4, -6, 0), Qt::AlignTop | Qt::AlignLeft,
                     tr("Drag a frame or click corners to take a part"));
  }
  painter.setBrush(Qt::NoBrush);
  painter.setPen(theme::rule());
  painter.drawRect(rect().adjusted(0, 0, -1, -1));
}

void Thumbnail::finish(plane::Ring ring) {
  corners_.clear();
  update();
  Q_EMIT outlined({std::move(ring), {}});
}

void Thumbnail::mousePressEvent(QMouseEvent* event) {
  if (!data_ || data_->empty()) return;
  if (event->button() == Qt::LeftButton) pressed_ = event->pos();
  if (event->button() == Qt::RightButton) corners_.clear();
  pointer_ = event->pos();
  update();
}

void Thumbnail::mouseMoveEvent(QMouseEvent* event) {
  pointer_ = event->pos();
  if (pressed_ || !corners_.empty()) update();
}

// A press that has moved is a frame, one that has not a corner; the first corner again closes the outline.
void Thumbnail::mouseReleaseEvent(QMouseEvent* event) {
  if (!pressed_ || event->button() != Qt::LeftButton) return;
  constexpr int kStill = 5;
  const QPoint start = *pressed_, end = event->pos();
  pressed_.reset();
  update();
  if ((end - start).manhattanLength() > kStill) {
    const QRect frame = QRect(start, end).normalized();
    if (frame.width() < 3 || frame.height() < 3) return;
    plane::Ring ring;
    for (const QPoint p : {frame.bottomLeft(), frame.bottomRight(), frame.topRight(), frame.topLeft()})
      ring.push_back(view_.toPlan(p));
    finish(std::move(ring));
    return;
  }
  if (corners_.size() >= 3 && (view_.toScreen(corners_.front()) - QPointF(end)).manhattanLength() <= 2 * kStill) {
    finish(std::move(corners_));
  } else {
    corners_.push_back(view_.toPlan(end));
  }
}

void Thumbnail::keyPressEvent(QKeyEvent* event) {
  const int key = event->key();
  if (corners_.empty() && !pressed_) {
    QWidget::keyPressEvent(event);
  } else if (key == Qt::Key_Escape) {
    corners_.clear();
    pressed_.reset();
  } else if (key == Qt::Key_Backspace && !corners_.empty()) {
    corners_.pop_back();
  } else if ((key == Qt::Key_Return || key == Qt::Key_Enter) && corners_.size() >= 3) {
    finish(std::move(corners_));
  } else {
    QWidget::keyPressEvent(event);
  }
  update();
}

}  // namespace inselberg::app
