#include "card/level_plot.h"

#include <qcustomplot.h>

#include <QMouseEvent>
#include <QVBoxLayout>
#include <cmath>

#include "card/rows.h"
#include "theme/theme.h"
#include "workspace/lengths.h"

namespace inselberg::app {

LevelPlot::LevelPlot(QWidget* parent) : QWidget(parent), plot_(new QCustomPlot(this)) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->addWidget(plot_);
  for (int i = 0; i < 2; ++i) plot_->addGraph();
  line_ = new QCPItemLine(plot_);
  line_->start->setTypeY(QCPItemPosition::ptAxisRectRatio);
  line_->end->setTypeY(QCPItemPosition::ptAxisRectRatio);
  meeting_ = new QCPItemTracer(plot_);
  meeting_->setStyle(QCPItemTracer::tsCircle);
  meeting_->setSize(8);
  meeting_->position->setType(QCPItemPosition::ptPlotCoords);
  meeting_->setVisible(false);
  dressPlot(*plot_, [this] {
    plot_->graph(0)->setPen(QPen(theme::cut(), 2));
    plot_->graph(1)->setPen(QPen(theme::fill(), 2));
    line_->setPen(QPen(theme::amber(), 2));
    meeting_->setPen(QPen(theme::ink(), 1.4));
    meeting_->setBrush(theme::paper());
  });
  plot_->xAxis->setNumberPrecision(1);
  plot_->setToolTip(
      tr("Cut (ember) and fill (lagoon) against the level. Drag the line; the ring marks where they balance."));
  plot_->installEventFilter(this);
  plot_->setCursor(Qt::SizeHorCursor);
}

void LevelPlot::setCurve(const std::vector<balance::LevelCost>& curve) {
  const Measures measures = lengths::measures();
  plot_->xAxis->setLabel(tr("level, %1").arg(lengths::unit()));
  plot_->yAxis->setLabel(unitOf(Quantity::volume, measures));
  hasCurve_ = !curve.empty();
  balance_.reset();
  QVector<double> levels, cuts, fills;
  for (const auto& c : curve) {
    levels << lengths::inUnit(c.level);
    cuts << inUnit(c.cut, Quantity::volume, measures);
    fills << inUnit(c.fill, Quantity::volume, measures);
  }
  plot_->graph(0)->setData(levels, cuts, true);
  plot_->graph(1)->setData(levels, fills, true);
  meeting_->setVisible(false);
  if (hasCurve_) {
    plot_->xAxis->setRange(levels.front(), levels.back());
    plot_->yAxis->setRange(0, 1.05 * std::max({*std::max_element(cuts.begin(), cuts.end()),
                                               *std::max_element(fills.begin(), fills.end()), 1.0}));
    for (int i = 0; i + 1 < levels.size(); ++i) {
      const double a = cuts[i] - fills[i], b = cuts[i + 1] - fills[i + 1];
      if (a < 0 || b > 0 || a == b) continue;
      const double t = a / (a - b);
      const double level = levels[i] + t * (levels[i + 1] - levels[i]);
      balance_ = level * lengths::inMetres();
      meeting_->position->setCoords(level, cuts[i] + t * (cuts[i + 1] - cuts[i]));
      meeting_->setVisible(true);
      break;
    }
  }
  setLevel(level_);
}

void LevelPlot::setLevel(double level) {
  level_ = level;
  line_->start->setCoords(lengths::inUnit(level), 0);
  line_->end->setCoords(lengths::inUnit(level), 1);
  plot_->replot(QCustomPlot::rpQueuedReplot);
}

double LevelPlot::xOf(double level) const {
  return plot_->xAxis->coordToPixel(lengths::inUnit(level));
}

bool LevelPlot::eventFilter(QObject* watched, QEvent* event) {
  const auto take = [&] {
    const double x = static_cast<QMouseEvent*>(event)->position().x();
    const QCPRange range = plot_->xAxis->range();
    const double level = std::clamp(plot_->xAxis->pixelToCoord(x), range.lower, range.upper);
    setLevel(std::round(level * 1000) / 1000 * lengths::inMetres());
    Q_EMIT dragged(level_);
  };
  switch (event->type()) {
    case QEvent::MouseButtonPress:
      if (!hasCurve_ || static_cast<QMouseEvent*>(event)->button() != Qt::LeftButton) return true;
      dragging_ = true;
      take();
      return true;
    case QEvent::MouseMove:
      if (dragging_) take();
      return true;
    case QEvent::MouseButtonRelease:
      if (std::exchange(dragging_, false)) Q_EMIT released();
      return true;
    default:
      return QWidget::eventFilter(watched, event);
  }
}

}  // namespace inselberg::app
