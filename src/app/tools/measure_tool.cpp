#include "tools/measure_tool.h"

#include <QCoreApplication>
#include <QPainter>
#include <cmath>

#include "base/quantity.h"
#include "canvas/label.h"
#include "theme/theme.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

using plane::Vec2;

QString tr(const char* text) {
  return QCoreApplication::translate("MeasureTool", text);
}

QString number(double v, int decimals) {
  return QString::fromStdString(formatNumber(v, decimals));
}

}  // namespace

const ground::Tin* MeasureTool::tin() const {
  const auto& workspace = canvas_.workspace();
  const auto* g = workspace.evaluation()->ground(workspace.chosenGround());
  return g && g->tin ? g->tin.get() : nullptr;
}

QString MeasureTool::hint() const {
  if (kind_ == Measuring::catchment)
    return tr("Click a place, or in a pond; the land whose water comes there is shaded. Esc ends.");
  if (kind_ == Measuring::water) return tr("Click where water falls; its way down is shown. Esc ends.");
  return from_ && !to_ ? tr("Click the second place. Esc ends.") : tr("Click the first of two places. Esc ends.");
}

// To a pond when the place lies in one: over its top or legs; else to within half a cell, or a metre, of the place.
void MeasureTool::findCatchment(Vec2 place) {
  const auto* ground = tin();
  if (!ground) return;
  constexpr std::size_t kCells = 20000;
  Workspace& workspace = canvas_.workspace();
  std::shared_ptr<const works::Placement> pond;
  const auto inPond = [](const works::Placement& placed, Vec2 p) {
    const auto t = placed.facets->locate(p);
    return t != ground::kNone && !works::isBatter(placed.kinds[t]);
  };
  for (const auto& w : workspace.evaluation()->ground(workspace.chosenGround())->works) {
    if (w.works->shape.as<works::Pond>() && inPond(*w.placement, place)) pond = w.placement;
  }
  const plane::Box box = ground->bounds();
  const double near = std::max(1.0, 0.5 * std::sqrt(box.width() * box.height() / kCells));
  const auto meets = [&](Vec2 from, Vec2 to) {
    return pond ? inPond(*pond, to) : plane::nearestOnSegment(place, from, to).distance <= near;
  };
  try {
    workspace.doLong(tr("Following the water"), [&](const Progress& progress) {
      catchment_ = ground::catchmentOf(*ground, meets, kCells, progress);
    });
  } catch (const Cancelled&) {
    catchment_ = {};
  }
}

void MeasureTool::press(const Pointed& at, Qt::KeyboardModifiers) {
  if (kind_ == Measuring::catchment) {
    from_ = at.plan;
    return findCatchment(at.plan);
  }
  if (kind_ == Measuring::water) {
    if (const auto* ground = tin()) water_ = ground::waterLegs(*ground, at.plan, {});
    from_ = at.plan;
    return;
  }
  if (!from_ || to_) {
    from_ = at.plan;
    to_.reset();
  } else {
    to_ = at.plan;
  }
}

void MeasureTool::move(const Pointed& at, bool, Qt::KeyboardModifiers) {
  pointer_ = at.plan;
  canvas_.showCursor(Qt::CrossCursor);
}

bool MeasureTool::key(int key, Qt::KeyboardModifiers) {
  if (key != Qt::Key_Escape) return false;
  if (from_) {
    from_.reset();
    to_.reset();
    water_ = {};
    catchment_ = {};
  } else {
    canvas_.finishTool();
  }
  return true;
}

std::optional<std::pair<Vec2, Vec2>> MeasureTool::lockFrom() const {
  if (kind_ == Measuring::slope && from_ && !to_) return std::pair(*from_, Vec2{1, 0});
  return std::nullopt;
}

QString MeasureTool::reading() const {
  const auto* ground = tin();
  if (!from_ || !ground) return {};
  if (kind_ == Measuring::catchment) {
    if (catchment_.cells.empty() && catchment_.cellsOver.empty()) return tr("No water comes here.");
    const auto told = [](double area) {
      if (lengths::measures().imperial) return QString::fromStdString(shown(area, Quantity::area, lengths::measures()));
      return area < 1e4 ? lengths::area(area, 0) : tr("%1 ha").arg(number(area / 1e4, 2));
    };
    QString text = tr("%1 drain here").arg(told(catchment_.area));
    if (catchment_.areaOver > 0)
      text += tr(", %1 once the hollows on the way are full").arg(told(catchment_.area + catchment_.areaOver));
    return text + tr(", found in cells of %1").arg(lengths::told(catchment_.cell, 1));
  }
  if (kind_ == Measuring::water) {
    if (water_.empty()) return tr("There is no ground there.");
    const ground::WaterPath& first = water_.front();
    double length = 0;
    for (std::size_t i = 1; i < first.way.size(); ++i)
      length += plane::distance(first.way[i - 1].plan(), first.way[i].plan());
    const bool off = first.end == ground::WaterPath::End::border;
    QString text = tr("%1, falling %2, to %3")
                       .arg(lengths::told(length, 1), lengths::told(first.way.front().z - first.way.back().z, 2),
                            off ? tr("the edge of the ground") : tr("a hollow"));
    if (water_.size() > 1) text += tr("; on at %1 once that is full").arg(lengths::number(water_[1].way.front().z, 2));
    return text;
  }
  const auto end = to_ ? to_ : pointer_;
  if (!end) return {};
  const double distance = plane::distance(*from_, *end);
  QString text = lengths::told(distance, 2);
  const auto a = ground->levelAt(*from_), b = ground->levelAt(*end);
  if (!a || !b) return text + tr(", one end off the ground");
  const double rise = *b - *a;
  text += tr(", %1 %2").arg(rise < 0 ? tr("falls") : tr("rises"), lengths::told(std::abs(rise), 3));
  if (distance > 1e-6 && std::abs(rise) > 1e-6)
    text += tr(", %1 %, %2:1").arg(number(100 * std::abs(rise) / distance, 2), number(distance / std::abs(rise), 1));
  return text;
}

void MeasureTool::paint(QPainter& painter) {
  if (!from_) return;
  const ViewTransform& view = canvas_.view();
  painter.setBrush(Qt::NoBrush);
  QPolygonF line;
  if (kind_ == Measuring::catchment) {
    const double side = catchment_.cell * view.scale;
    const auto shade = [&](const std::vector<Vec2>& cells, const QBrush& brush) {
      for (const Vec2 p : cells) {
        const QPointF at = view.toScreen(p);
        painter.fillRect(QRectF(at.x() - side / 2, at.y() - side / 2, side, side), brush);
      }
    };
    shade(catchment_.cells, theme::faded(theme::fill(), 80));
    shade(catchment_.cellsOver, QBrush(theme::faded(theme::fill(), 130), Qt::BDiagPattern));
    line << view.toScreen(*from_);
  } else if (kind_ == Measuring::water) {
    painter.setPen(QPen(theme::fill(), 1.8, Qt::DashLine, Qt::RoundCap, Qt::RoundJoin));
    for (std::size_t k = 1; k < water_.size(); ++k) {
      QPolygonF on{{view.toScreen(water_[k - 1].way.back().plan())}};
      for (const auto& p : water_[k].way) on << view.toScreen(p.plan());
      painter.drawPolyline(on);
    }
    if (!water_.empty()) {
      for (const auto& p : water_.front().way) line << view.toScreen(p.plan());
    }
    painter.setPen(QPen(theme::fill(), 2.4, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
  } else {
    line << view.toScreen(*from_) << view.toScreen(to_ ? *to_ : pointer_.value_or(*from_));
    painter.setPen(QPen(theme::ink(), 1.8));
  }
  painter.drawPolyline(line);
  painter.setBrush(theme::paper());
  painter.setPen(QPen(theme::ink(), 1.2));
  if (!line.isEmpty()) painter.drawEllipse(line.front(), 4, 4);
  if (line.size() > 1) painter.drawEllipse(line.back(), 4, 4);
  const QString text = reading();
  if (text.isEmpty()) return;
  paintLabel(painter, text, (line.isEmpty() ? view.toScreen(*from_) : line.back()) + QPointF(14, -24),
             canvas_.view().size.width());
}

}  // namespace inselberg::app
