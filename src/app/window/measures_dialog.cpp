#include "window/measures_dialog.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>

#include "base/quantity.h"

namespace inselberg::app {
namespace {

constexpr double kRoundings[] = {0.1, 1, 10, 100, 1000};

}  // namespace

MeasuresDialog::MeasuresDialog(Workspace& workspace, QWidget* parent) : QDialog(parent), workspace_(workspace) {
  setObjectName("measuresDialog");
  setWindowTitle(tr("Units and rounding"));
  const Measures now = workspace.project()->measures;
  auto* form = new QFormLayout(this);
  units_ = new QComboBox(this);
  units_->setObjectName("measuresUnits");
  units_->addItems({tr("cubic metres, square metres, metres"), tr("cubic yards, acres, feet")});
  units_->setCurrentIndex(now.imperial ? 1 : 0);
  form->addRow(tr("Quantities in"), units_);
  rounding_ = new QComboBox(this);
  rounding_->setObjectName("measuresRounding");
  for (const double step : kRoundings) {
    rounding_->addItem(QString::fromStdString(formatNumber(step, step < 1 ? 1 : 0)));
    if (step == now.roundTo) rounding_->setCurrentIndex(rounding_->count() - 1);
  }
  form->addRow(tr("Volumes rounded to"), rounding_);
  example_ = new QLabel(this);
  example_->setObjectName("measuresExample");
  form->addRow(tr("So the cut is"), example_);
  auto* says = new QLabel(
      tr("Column, ledger, cards, tables, spreadsheets and printed quantities follow, for this project; "
         "exact values stand in their tooltips. Levels, depths and lengths are told and typed in metres or feet "
         "with them; any other unit can be typed too (8 in, 5 ft 3 in, 350 mm). Coordinates stay in metres."),
      this);
  says->setProperty("quiet", true);
  says->setWordWrap(true);
  form->addRow(says);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, this);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  form->addRow(buttons);
  connect(units_, &QComboBox::activated, this, &MeasuresDialog::take);
  connect(rounding_, &QComboBox::activated, this, &MeasuresDialog::take);
  showExample();
}

void MeasuresDialog::take() {
  const Measures measures{units_->currentIndex() == 1, kRoundings[rounding_->currentIndex()]};
  if (measures == workspace_.project()->measures) return;
  workspace_.commit(project::withMeasures(*workspace_.project(), measures), tr("change units and rounding"));
  showExample();
}

void MeasuresDialog::showExample() {
  double cut = 0;
  for (const project::Seam& seam : workspace_.evaluation()->seams) {
    if (seam.counted && seam.volume) cut += seam.volume->cut;
  }
  example_->setText(workspace_.told(cut, Quantity::volume));
}

}  // namespace inselberg::app
