#include "window/depth_bands_dialog.h"

#include <qcustomplot.h>

#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <cmath>

#include "base/error.h"
#include "base/quantity.h"
#include "card/quantity_edit.h"
#include "card/rows.h"
#include "report/tables.h"
#include "theme/theme.h"

namespace inselberg::app {
namespace {

QString number(double value, int decimals) {
  return QString::fromStdString(formatNumber(value, decimals));
}

}  // namespace

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
  region_ = new QComboBox(this);
  region_->setObjectName("bandsRegion");
  region_->addItem(tr("everywhere"));
  for (const auto& region : e.project->stages.regions) region_->addItem(QString::fromStdString(region.name));
  form->addRow(tr("Inside"), region_);
  works::Field field;
  field.measure = works::Measure::length, field.least = 0.01, field.most = 100, field.step = 0.1;
  step_ = new QuantityEdit(std::move(field), this);
  step_->setObjectName("bandsStep");
  step_->setValue(0.5);
  form->addRow(tr("Bands of"), step_);
  plot_ = new QCustomPlot(this);
  dressPlot(*plot_);
  plot_->setMinimumHeight(170);
  plot_->xAxis->setLabel(tr("cut  ·  depth, m  ·  fill"));
  plot_->yAxis->setLabel(tr("m²"));
  form->addRow(plot_);
  table_ = new QTableWidget(0, 3, this);
  table_->setObjectName("bandsTable");
  table_->setHorizontalHeaderLabels({tr("Depth"), tr("Area m²"), tr("Volume m³")});
  table_->verticalHeader()->hide();
  table_->setShowGrid(false);
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
  form->addRow(table_);
  note_ = new QLabel(this);
  note_->setObjectName("bandsNote");
  note_->setWordWrap(true);
  form->addRow(note_);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, this);
  auto* copies = buttons->addButton(tr("Copy the table"), QDialogButtonBox::ActionRole);
  copies->setObjectName("bandsCopy");
  copies->setAutoDefault(false);
  connect(copies, &QPushButton::clicked, this, &DepthBandsDialog::copy);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  form->addRow(buttons);
  connect(region_, &QComboBox::currentIndexChanged, this, &DepthBandsDialog::compute);
  connect(step_, &QuantityEdit::edited, this, &DepthBandsDialog::compute);
  connect(step_, &QuantityEdit::refused, note_, &QLabel::setText);
  compute();
}

void DepthBandsDialog::compute() {
  std::vector<plane::Polygon> region;
  if (region_->currentIndex() > 0)
    region.push_back(evaluation_->project->stages.regions[static_cast<std::size_t>(region_->currentIndex() - 1)].area);
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

void DepthBandsDialog::show() {
  plot_->clearPlottables();
  double deepest = step_->value();
  for (const auto& b : bands_) deepest = std::max({deepest, -b.low, b.high});
  table_->setRowCount(static_cast<int>(bands_.size()));
  double cut = 0, fill = 0;
  for (std::size_t i = 0; i < bands_.size(); ++i) {
    const quantity::DepthBand& b = bands_[i];
    (b.high <= 0 ? cut : fill) += b.volume;
    const double middle = (b.low + b.high) / 2;
    auto* bar = new QCPBars(plot_->xAxis, plot_->yAxis);
    bar->setWidth(0.92 * step_->value());
    bar->setPen(Qt::NoPen);
    bar->setBrush(theme::depthColour(middle, deepest));
    bar->setData({middle}, {b.area});
    const QString text = (b.high <= 0 ? tr("cut %1 to %2 m") : tr("fill %1 to %2 m"))
                             .arg(number(std::min(std::abs(b.low), std::abs(b.high)), 2),
                                  number(std::max(std::abs(b.low), std::abs(b.high)), 2));
    int c = 0;
    for (const QString& cell : {text, number(b.area, 0), number(b.volume, 0)}) {
      auto* item = new QTableWidgetItem(cell);
      item->setTextAlignment((c == 0 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
      table_->setItem(static_cast<int>(i), c++, item);
    }
  }
  plot_->rescaleAxes();
  plot_->yAxis->setRangeLower(0);
  plot_->replot();
  note_->setText(bands_.empty() ? tr("There is no cut or fill here.")
                                : tr("Together cut %1 m³, fill %2 m³.").arg(number(cut, 0), number(fill, 0)));
}

void DepthBandsDialog::copy() const {
  report::Table table{
      "Depths", {{"From m", 2, false}, {"To m", 2, false}, {"Area m²", 1, true}, {"Volume m³", 1, true}}, {}};
  for (const auto& b : bands_) table.rows.push_back({b.low, b.high, b.area, b.volume});
  QApplication::clipboard()->setText(QString::fromStdString(report::asTabs(table)));
}

}  // namespace inselberg::app
