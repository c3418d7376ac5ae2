#include "canvas/paint_page.h"

#include <QFont>
#include <QFontMetricsF>
#include <QImage>
#include <QPainter>
#include <QPainterPath>

namespace inselberg::app {
namespace {

QColor colourOf(drawing::Colour colour, double opacity = 1) {
  QColor made = QColor::fromRgb(colour);
  made.setAlphaF(static_cast<float>(opacity));
  return made;
}

class PagePainter {
 public:
  PagePainter(QPainter& painter, double height) : painter_(painter), height_(height) {}

  void operator()(const drawing::Path& path) {
    QPolygonF points;
    points.reserve(static_cast<qsizetype>(path.points.size()));
    for (const plane::Vec2 p : path.points) points << at(p);
    painter_.setBrush(path.fill ? QBrush(colourOf(*path.fill, path.opacity)) : QBrush(Qt::NoBrush));
    painter_.setPen(path.pen ? penOf(*path.pen) : QPen(Qt::NoPen));
    path.closed ? painter_.drawPolygon(points) : painter_.drawPolyline(points);
  }

  // As outlines, so that letters are as wide at every size as they are on paper.
  void operator()(const drawing::Text& text) {
    constexpr int kSize = 100;
    QFont font("DejaVu Sans");
    font.setPixelSize(kSize);
    font.setBold(text.bold);
    font.setHintingPreference(QFont::PreferNoHinting);
    const QString what = QString::fromStdString(text.text);
    const double width = QFontMetricsF(font).horizontalAdvance(what);
    const double share = text.anchor == drawing::Anchor::begin ? 0 : text.anchor == drawing::Anchor::middle ? 0.5 : 1;
    QPainterPath letters;
    letters.addText(-share * width, 0, font, what);
    painter_.save();
    painter_.translate(at(text.at));
    painter_.rotate(-text.turned);
    painter_.scale(text.height / kSize, text.height / kSize);
    painter_.fillPath(letters, colourOf(text.colour));
    painter_.restore();
  }

  void operator()(const drawing::Picture& picture) {
    const QImage image(reinterpret_cast<const uchar*>(picture.cells.data()), picture.columns, picture.rows,
                       QImage::Format_ARGB32);
    painter_.drawImage(QRectF(at({picture.at.minX, picture.at.maxY}), at({picture.at.maxX, picture.at.minY})), image);
  }

 private:
  QPointF at(plane::Vec2 p) const { return {p.x, height_ - p.y}; }
  static QPen penOf(const drawing::Pen& pen) {
    QPen made(colourOf(pen.colour), pen.width);
    made.setJoinStyle(Qt::RoundJoin);
    made.setCapStyle(Qt::FlatCap);
    if (!pen.dash.empty()) {
      QList<qreal> dash;  // in widths of the pen
      for (const double mm : pen.dash) dash << mm / pen.width;
      made.setDashPattern(dash);
    }
    return made;
  }

  QPainter& painter_;
  const double height_;
};

}  // namespace

void paintPage(QPainter& painter, const drawing::Page& page) {
  painter.setRenderHint(QPainter::Antialiasing);
  PagePainter paint(painter, page.height);
  for (const auto& item : page.items) std::visit(paint, item);
}

}  // namespace inselberg::app
