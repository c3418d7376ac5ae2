#include "canvas/sheet_layer.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "plane/boxes.h"
#include "theme/theme.h"

namespace inselberg::app {
namespace {

// What is drawn reaches this share of the view beyond it, and stays in use until it is too coarse or too fine by these.
constexpr double kBeyond = 0.3, kTooCoarse = 0.9, kTooFine = 2.0;
constexpr double kMostPixels = 12e6;

// Light for dark and dark for light, in the same hues.
void turnDark(QImage& image) {
  for (int y = 0; y < image.height(); ++y) {
    auto* row = reinterpret_cast<QRgb*>(image.scanLine(y));
    for (int x = 0; x < image.width(); ++x) {
      const int r = qRed(row[x]), g = qGreen(row[x]), b = qBlue(row[x]);
      const int turned = 255 - std::max({r, g, b}) - std::min({r, g, b});
      row[x] = qRgb(r + turned, g + turned, b + turned);
    }
  }
}

}  // namespace

QImage pagePicture(sheet::Document& document, int page, const plane::Box& part, QSize pixels,
                   const Progress& progress) {
  const sheet::Bitmap bitmap = document.draw(page, part, pixels.width(), pixels.height(), progress);
  return QImage(bitmap.pixels.data(), bitmap.width, bitmap.height, 4 * bitmap.width, QImage::Format_RGB32).copy();
}

const SheetLayer::Drawn* SheetLayer::drawn(const project::PlanSheet& sheet, const plane::Box& seen,
                                           double pixelsPerUnit, const Progress& progress) {
  Drawn& kept = drawn_[sheet.id];
  const bool same = kept.file == sheet.hash && kept.page == sheet.page && kept.grey == sheet.grey;
  if (same && plane::holds(kept.part, seen) && kept.pixelsPerUnit >= kTooCoarse * pixelsPerUnit &&
      kept.pixelsPerUnit <= kTooFine * pixelsPerUnit)
    return &kept;
  const plane::Box part =
      plane::common(seen.grown(kBeyond * std::max(seen.width(), seen.height())), project::shownPart(sheet));
  double fine = pixelsPerUnit;
  fine = std::min(fine, std::sqrt(kMostPixels / (part.width() * part.height())));
  const QSize pixels(std::max(1, int(std::lround(part.width() * fine))),
                     std::max(1, int(std::lround(part.height() * fine))));
  std::shared_ptr<OpenSheet>& open = open_[sheet.hash];
  if (!open) open = OpenSheet::of(sheet);
  QImage image =
      open->use([&](sheet::Document& document) { return pagePicture(document, sheet.page, part, pixels, progress); });
  if (sheet.grey) image = image.convertToFormat(QImage::Format_Grayscale8).convertToFormat(QImage::Format_RGB32);
  kept = {sheet.page, sheet.hash, sheet.grey, part, fine < pixelsPerUnit ? pixelsPerUnit : fine, std::move(image)};
  return &kept;
}

void SheetLayer::paint(QPainter& painter, const project::PlanSheet& sheet, const ViewTransform& view, double pixelRatio,
                       const Progress& progress) {
  // Of the page, the box around what the view shows.
  const plane::Box seen =
      plane::common(plane::boxAround(view.visible(), sheet.placement.inverse()), project::shownPart(sheet));
  if (!(seen.width() > 0 && seen.height() > 0)) return;
  const double fine = std::sqrt(std::abs(sheet.placement.determinant())) * view.scale * pixelRatio;
  const Drawn* drawn = this->drawn(sheet, seen, fine, progress);
  if (!drawn) return;
  // From the picture's pixels to the page to the view.
  const double across = drawn->part.width() / drawn->image.width(), up = drawn->part.height() / drawn->image.height();
  const sheet::Placement& p = sheet.placement;
  const auto at = [&](double column, double row) {
    return view.toScreen(p({drawn->part.minX + column * across, drawn->part.maxY - row * up}));
  };
  const QPointF zero = at(0, 0), x = at(1, 0) - zero, y = at(0, 1) - zero;
  painter.save();
  painter.setRenderHint(QPainter::SmoothPixmapTransform);
  painter.setCompositionMode(QPainter::CompositionMode_Multiply);
  painter.setOpacity(sheet.opacity);
  painter.setTransform(QTransform(x.x(), x.y(), y.x(), y.y(), zero.x(), zero.y()), true);
  painter.drawImage(0, 0, drawn->image);
  painter.restore();
}

const QImage& SheetLayer::of(const std::vector<project::PlanSheetPtr>& sheets, const ViewTransform& view,
                             double pixelRatio, const Progress& progress) {
  if (sheets == sheets_ && view == view_ && pixelRatio == pixelRatio_) return layer_;
  const auto still = [&](const Hash& hash) {
    return std::any_of(sheets.begin(), sheets.end(), [&](const auto& s) { return s->hash == hash; });
  };
  std::erase_if(open_, [&](const auto& open) { return !still(open.first); });
  std::erase_if(drawn_, [&](const auto& drawn) { return !still(drawn.second.file); });
  QImage layer;
  for (const project::PlanSheetPtr& sheet : sheets) {
    if (sheet->hidden || !project::boundsOf(*sheet).overlaps(view.visible())) continue;
    if (layer.isNull()) {
      layer = QImage((view.size * pixelRatio).toSize(), QImage::Format_RGB32);
      layer.setDevicePixelRatio(pixelRatio);
      layer.fill(Qt::white);
    }
    QPainter painter(&layer);
    try {
      paint(painter, *sheet, view, pixelRatio, progress);
    } catch (const Error&) {
      // Told when it was brought in; here it only cannot be seen.
    }
  }
  if (theme::current() == theme::Theme::dark) turnDark(layer);
  sheets_ = sheets;
  view_ = view;
  pixelRatio_ = pixelRatio;
  layer_ = std::move(layer);
  return layer_;
}

}  // namespace inselberg::app
