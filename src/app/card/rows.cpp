#include "card/rows.h"

#include <qcustomplot.h>

#include <QFrame>

#include "base/quantity.h"
#include "theme/theme.h"

namespace inselberg::app {
namespace {

void dressAxes(QCustomPlot& plot) {
  plot.setBackground(QBrush(theme::panel()));
  QFont small = plot.font();
  small.setPixelSize(theme::pixels(10));
  for (QCPAxis* axis : {plot.xAxis, plot.yAxis}) {
    axis->setBasePen(QPen(theme::rule()));
    axis->setTickPen(QPen(theme::rule()));
    axis->setSubTickPen(Qt::NoPen);
    axis->setTickLabelColor(theme::muted());
    axis->setTickLabelFont(small);
    axis->setLabelFont(small);
    axis->setLabelColor(theme::muted());
    axis->grid()->setPen(QPen(theme::rule(), 0.5));
  }
}

}  // namespace

QLabel* addFigure(QFormLayout& form, const QString& name, const char* tone) {
  auto* label = new QLabel;
  label->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
  label->setTextInteractionFlags(Qt::TextSelectableByMouse);
  label->setProperty("tone", tone);
  if (name.isEmpty()) {
    form.addRow(label);
  } else {
    form.addRow(name, label);
  }
  return label;
}

void showVolume(QLabel& label, double cubicMetres, double sure, const Measures& measures) {
  const std::string plusMinus = sure > 0 ? " ± " + shownNumber(sure, Quantity::volume, measures) : "";
  label.setText(QString::fromStdString(shownNumber(cubicMetres, Quantity::volume, measures) + plusMinus + " " +
                                       unitOf(Quantity::volume, measures)));
  label.setToolTip(QString::fromStdString(formatNumber(inUnit(cubicMetres, Quantity::volume, measures), 6)) + " " +
                   unitOf(Quantity::volume, measures));
}

QWidget* ruleLine(QWidget* parent) {
  auto* line = new QFrame(parent);
  line->setFixedHeight(1);
  line->setProperty("line", true);
  return line;
}

void dressPlot(QCustomPlot& plot, const std::function<void()>& rest) {
  plot.axisRect()->setMinimumMargins(QMargins(6, 6, 8, 4));
  for (QCPAxis* axis : {plot.xAxis, plot.yAxis}) {
    axis->ticker()->setTickCount(4);
    axis->setNumberFormat("f");
    axis->setNumberPrecision(0);
  }
  theme::dressed(&plot, [&plot, rest] {
    dressAxes(plot);
    rest();
    plot.replot(QCustomPlot::rpQueuedReplot);
  });
}

}  // namespace inselberg::app
