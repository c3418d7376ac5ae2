#include "canvas/legend.h"

#include <QCoreApplication>
#include <QPainter>
#include <cmath>
#include <numeric>

#include "base/quantity.h"
#include "canvas/ground_colours.h"
#include "ground/steepness.h"
#include "theme/theme.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

QString tr(const char* text) {
  return QCoreApplication::translate("Legend", text);
}

QString number(double v, int decimals) {
  return QString::fromStdString(formatNumber(v, decimals));
}

}  // namespace

Legend depthLegend(double greatestDepth) {
  Legend legend;
  const double band = depthBand(greatestDepth);
  const int bands = std::clamp(static_cast<int>(std::ceil(greatestDepth / band - 1e-9)), 1, 8);
  for (int i = -bands; i <= bands; ++i) {
    if (i < bands) legend.cells.push_back(theme::depthColour((i + 0.5) * band, greatestDepth));
    legend.between << lengths::number(std::abs(i * band), lengths::inUnit(band) < 0.1 ? 2 : 1);
  }
  legend.zero = bands;
  legend.left = tr("cut, %1").arg(lengths::unit()), legend.right = tr("fill, %1").arg(lengths::unit());
  legend.leftInk = theme::cut(), legend.rightInk = theme::fill();
  return legend;
}

Legend toleranceLegend(double tolerance) {
  Legend legend;
  const QString bound = lengths::number(tolerance, tolerance < 0.1 ? 3 : 2);
  legend.cell = 64;
  // Within it the ground has its own colour.
  legend.cells = {theme::beyondTolerance(-1), QColor(grass(0.5, 1)), theme::beyondTolerance(1)};
  legend.above << QString() << tr("within") << QString();
  legend.between << QString() << "−" + bound << "+" + bound << QString();
  legend.left = tr("lower, %1").arg(lengths::unit()), legend.right = tr("higher, %1").arg(lengths::unit());
  legend.leftInk = theme::cut(), legend.rightInk = theme::fill();
  return legend;
}

Legend levelLegend(const ground::Tin& ground) {
  Legend legend;
  const LevelBands bands = levelBands(ground);
  for (int i = 0; i <= bands.count; ++i) {
    if (i < bands.count) legend.cells.push_back(theme::levelColour(bands.along(i)));
    const double step = lengths::inUnit(bands.step);
    legend.between << lengths::number(bands.lowest + i * bands.step, step < 0.1 ? 2 : step < 1 ? 1 : 0);
  }
  legend.left = tr("level, %1").arg(lengths::unit());
  legend.leftInk = theme::ink();
  return legend;
}

Legend steepnessLegend(const SteepnessLimits& limits, const std::vector<double>& areas) {
  Legend legend;
  legend.cell = 44;
  const double all = std::max(1e-9, std::accumulate(areas.begin(), areas.end(), 0.0));
  for (std::size_t i = 0; i <= limits.size(); ++i) {
    legend.cells.push_back(theme::steepnessColour(static_cast<double>(i) / static_cast<double>(limits.size())));
    const double share = 100 * areas[i] / all;
    legend.above << (share > 0 && share < 0.5 ? tr("<1 %") : tr("%1 %").arg(number(share, 0)));
    const double limit = i == 0 ? 0 : 100 * limits[i - 1];
    const bool whole = limit >= 10 || std::abs(limit - std::round(limit)) < 0.05;
    legend.between << (i == 0 ? QString() : tr("%1 %").arg(number(limit, whole ? 0 : 1)));
  }
  legend.between << QString();
  legend.left = tr("steepness, and its share of the ground");
  legend.leftInk = theme::ink();
  return legend;
}

Legend worksLegend(const std::vector<WorksTint>& works) {
  Legend legend;
  for (const WorksTint& w : works) {
    legend.cells.push_back(w.colour);
    legend.names << w.name;
  }
  return legend;
}

std::optional<Legend> ShownLegend::of(const ViewState& state, double greatestDepth) {
  const auto* shown = state.shownGround();
  if (!shown) return std::nullopt;
  const auto beneath = state.beneath();
  switch (state.shown().mode) {
    case PlanMode::relief:
      break;
    case PlanMode::works:
      if (auto works = worksTints(state.evaluation(), shown->id); !works.empty()) return worksLegend(works);
      break;
    case PlanMode::depth:
      if (beneath && state.shown().tolerance > 0) return toleranceLegend(state.shown().tolerance);
      if (beneath) return depthLegend(greatestDepth);
      break;
    case PlanMode::levels:
      return levelLegend(beneath ? *beneath : *shown->tin);
    case PlanMode::steepness:
      if (steepnessOf_ != shown->tin || limits_ != state.shown().steepness) {
        steepnessOf_ = shown->tin, limits_ = state.shown().steepness;
        steepness_ = ground::areaBySteepness(*shown->tin, limits_);
      }
      return steepnessLegend(limits_, steepness_);
  }
  return std::nullopt;
}

void Legend::paint(QPainter& painter, QSize view) const {
  QFont font = painter.font();
  font.setPixelSize(theme::pixels(11));
  painter.setFont(font);
  if (!names.isEmpty()) return paintNames(painter, view);
  const int n = static_cast<int>(cells.size());
  const int top = above.isEmpty() ? 18 : 32;
  const double across = std::max(n * cell + 30, painter.fontMetrics().horizontalAdvance(left) + 30);
  constexpr double kScaleBar = 180;  // at the other end of the view's foot; above it where there is no room beside it
  const double foot = across + kScaleBar > view.width() ? 42 : 0;
  const QRectF plate(view.width() - across - 10, view.height() - top - 36 - foot, across, top + 26);
  painter.setPen(Qt::NoPen);
  painter.setBrush(theme::faded(theme::paper(), 230));
  painter.drawRoundedRect(plate, 3, 3);
  for (int i = 0; i <= n; ++i) {
    const QRectF box(plate.left() + 15 + i * cell, plate.top() + top, cell, 10);
    if (i < n) {
      painter.setPen(QPen(theme::rule(), 0.5));
      painter.setBrush(cells[static_cast<std::size_t>(i)]);
      painter.drawRect(box);
    }
    painter.setPen(theme::ink());
    if (i < above.size()) painter.drawText(QRectF(box.left(), box.top() - 15, cell, 14), Qt::AlignCenter, above[i]);
    if (i == zero) painter.drawLine(box.topLeft() - QPointF(0, 2), box.bottomLeft() + QPointF(0, 2));
    painter.drawText(QRectF(box.left() - 22, box.bottom() + 1, 44, 13), Qt::AlignCenter, between[i]);
  }
  const QRectF head(plate.left() + 15, plate.top() + 2, across - 30, 15);
  painter.setPen(leftInk);
  painter.drawText(head, Qt::AlignLeft | Qt::AlignVCenter, left);
  painter.setPen(rightInk);
  painter.drawText(head, Qt::AlignRight | Qt::AlignVCenter, right);
}

void Legend::paintNames(QPainter& painter, QSize view) const {
  constexpr int kCell = 14, kMostAcross = 170;
  const QFontMetrics metrics = painter.fontMetrics();
  const int row = metrics.height() + 3;
  // As many as there is room for below the plan's head, the last row telling how many more.
  const int room = std::max(2, (view.height() - 160) / row), all = static_cast<int>(names.size());
  QStringList rows = names.mid(0, all > room ? room - 1 : all);
  const int told = static_cast<int>(rows.size());
  if (told < all) rows << QCoreApplication::translate("Legend", "and %n more", nullptr, all - told);
  int across = 0;
  for (QString& name : rows) {
    name = metrics.elidedText(name, Qt::ElideRight, kMostAcross);
    across = std::max(across, metrics.horizontalAdvance(name));
  }
  const int high = row * static_cast<int>(rows.size());
  const QRectF plate(view.width() - across - kCell - 34, view.height() - high - 22, across + kCell + 24, high + 12);
  painter.setPen(Qt::NoPen);
  painter.setBrush(theme::faded(theme::paper(), 230));
  painter.drawRoundedRect(plate, 3, 3);
  for (int i = 0; i < rows.size(); ++i) {
    const QRectF line(plate.left() + 8, plate.top() + 6 + i * row, plate.width() - 16, row);
    if (i < told) {
      painter.setPen(QPen(theme::rule(), 0.5));
      painter.setBrush(cells[static_cast<std::size_t>(i)]);
      painter.drawRect(QRectF(line.left(), line.center().y() - 5, kCell, 10));
    }
    painter.setPen(theme::ink());
    painter.drawText(line.adjusted(kCell + 6, 0, 0, 0), Qt::AlignLeft | Qt::AlignVCenter, rows[i]);
  }
}

}  // namespace inselberg::app
