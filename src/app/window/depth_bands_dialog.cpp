#include "window/depth_bands_dialog.h"

#include <qcustomplot.h>

#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>
#include <QPushButton>
#include <cmath>

#include "base/error.h"
#include "card/quantity_edit.h"
#include "card/rows.h"
#include "ledger/table_page.h"
#include "theme/theme.h"
#include "window/region_box.h"
#include "workspace/lengths.h"

namespace inselberg::app {

DepthBandsDialog::DepthBandsDialog(Workspace& workspace, const project::Between& between, QWidget* parent)
    : QDialog(parent), workspace_(workspace), evaluation_(workspace.evaluation()) {
  const project::Evaluation& e = *evaluation_;
  from_ = e.ground(between.from)->tin, to_ = e.ground(between.to)->tin;
  setObjectName("depthBandsDialog");
  setWindowTitle(tr("Depths from %1 to %2")
                     .arg(QString::fromStdString(e.project->ground(between.from)->name),
                          QString::fromStdString(e.project->ground(between.to)->name)));
  resize(560, 560);
  auto* form = new QFormLayout(this);
  region_ = new RegionBox(e.project, "bandsRegion", this);
  form->addRow(tr("Inside"), region_);
  works::Field field;
  field.measure = works::Measure::length, field.least = 0.01, field.most = 100, field.step = 0.1;
  step_ = new QuantityEdit(std::move(field), this);
  step_->setObjectName("bandsStep");
  step_->setValue(lengths::nudge(0.5));
  form->addRow(tr("Bands of"), step_);
  plot_ = new QCustomPlot(this);
  dressPlot(*plot_);
  // With as many decimals as the ticks need: depths may be less than a metre, areas less than a square one.
  for (QCPAxis* axis : {plot_->xAxis, plot_->yAxis}) axis->setNumberFormat("g"), axis->setNumberPrecision(9);
  plot_->setMinimumHeight(170);
  form->addRow(plot_);
  table_ = new TablePage("bandsTable", this);
  form->addRow(table_);
  note_ = new QLabel(this);
  note_->setObjectName("bandsNote");
  note_->setWordWrap(true);
  form->addRow(note_);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, this);
  auto* copies = buttons->addButton(tr("Copy the table"), QDialogButtonBox::ActionRole);
  copies->setObjectName("bandsCopy");
  copies->setAutoDefault(false);
  connect(copies, &QPushButton::clicked, table_, &TablePage::copy);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  form->addRow(buttons);
  connect(region_, &QComboBox::currentIndexChanged, this, &DepthBandsDialog::compute);
  connect(step_, &QuantityEdit::edited, this, &DepthBandsDialog::compute);
  connect(step_, &QuantityEdit::refused, note_, &QLabel::setText);
  compute();
}

void DepthBandsDialog::compute() {
  const std::vector<plane::Polygon> region = region_->chosen();
  try {
    workspace_.doLong(tr("Measuring bands of depth"), [&](const Progress& progress) {
      bands_ = quantity::depthBands(*from_, *to_, region, step_->value(), progress);
    });
    show();
  } catch (const Cancelled&) {
    note_->setText(tr("Stopped."));
  } catch (const Error& e) {
    note_->setText(QString::fromUtf8(e.what()));
  }
}

// Bands are told in the project's measures, as their volumes are.
void DepthBandsDialog::show() {
  const Measures& measures = evaluation_->project->measures;
  report::Table table{
      "Depths", {{""}, {"From m", 2, false}, {"To m", 2, false}, {"Area m²", 0, true}, {"Volume m³", 0, true}}, {}};
  plot_->clearPlottables();
  double deepest = step_->value();
  for (const auto& b : bands_) deepest = std::max({deepest, -b.low, b.high});
  double cut = 0, fill = 0;
  for (const quantity::DepthBand& b : bands_) {
    (b.high <= 0 ? cut : fill) += b.volume;
    const double middle = (b.low + b.high) / 2;
    auto* bar = new QCPBars(plot_->xAxis, plot_->yAxis);
    bar->setWidth(inUnit(0.92 * step_->value(), Quantity::length, measures));
    bar->setPen(Qt::NoPen);
    bar->setBrush(theme::depthColour(middle, deepest));
    bar->setData({inUnit(middle, Quantity::length, measures)}, {inUnit(b.area, Quantity::area, measures)});
    table.rows.push_back({(b.high <= 0 ? tr("cut") : tr("fill")).toStdString(),
                          std::min(std::abs(b.low), std::abs(b.high)), std::max(std::abs(b.low), std::abs(b.high)),
                          b.area, b.volume});
  }
  table_->tell(report::inMeasures(std::move(table), measures));
  plot_->xAxis->setLabel(tr("cut  ·  depth, %1  ·  fill").arg(unitOf(Quantity::length, measures)));
  plot_->yAxis->setLabel(unitOf(Quantity::area, measures));
  plot_->rescaleAxes();
  plot_->yAxis->setRangeLower(0);
  plot_->replot();
  note_->setText(bands_.empty()
                     ? tr("There is no cut or fill here.")
                     : tr("Together cut %1, fill %2.")
                           .arg(workspace_.told(cut, Quantity::volume), workspace_.told(fill, Quantity::volume)));
}

}  // namespace inselberg::app
