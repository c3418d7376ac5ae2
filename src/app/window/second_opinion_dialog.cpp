#include "window/second_opinion_dialog.h"

#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>
#include <QPushButton>
#include <cmath>

#include "base/error.h"
#include "base/quantity.h"
#include "card/quantity_edit.h"
#include "ledger/table_page.h"
#include "report/ledger.h"
#include "window/region_box.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

QString number(double value, int decimals) {
  return QString::fromStdString(formatNumber(value, decimals));
}

}  // namespace

SecondOpinionDialog::SecondOpinionDialog(Workspace& workspace, const project::Between& between, QWidget* parent)
    : QDialog(parent), workspace_(workspace), evaluation_(workspace.evaluation()) {
  const project::Evaluation& e = *evaluation_;
  from_ = e.ground(between.from)->tin, to_ = e.ground(between.to)->tin;
  fromName_ = QString::fromStdString(e.project->ground(between.from)->name);
  toName_ = QString::fromStdString(e.project->ground(between.to)->name);
  setObjectName("secondOpinionDialog");
  setWindowTitle(tr("Second opinion: %1 to %2").arg(fromName_, toName_));
  resize(560, 400);
  auto* form = new QFormLayout(this);
  region_ = new RegionBox(e.project, "opinionRegion", this);
  form->addRow(tr("Inside"), region_);
  cell_ = field("opinionCell", 100, 0), spacing_ = field("opinionSpacing", 1000, 0);
  tolerance_ = field("opinionTolerance", 10, lengths::nudge(0.05));
  form->addRow(tr("Cells of the grid"), cell_);
  form->addRow(tr("Between sections"), spacing_);
  table_ = new TablePage("opinionTable", this);
  form->addRow(table_);
  form->addRow(tr("Tolerance"), tolerance_);
  shares_ = new QLabel(this);
  shares_->setObjectName("opinionShares");
  shares_->setWordWrap(true);
  form->addRow(shares_);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, this);
  auto* map = buttons->addButton(tr("Show on the plan"), QDialogButtonBox::ActionRole);
  map->setObjectName("toleranceMap");
  map->setAutoDefault(false);
  map->setToolTip(tr("Where %1 lies within the tolerance, above it and below it").arg(toName_));
  connect(map, &QPushButton::clicked, this, &QDialog::accept);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  form->addRow(buttons);
  connect(region_, &QComboBox::currentIndexChanged, this, &SecondOpinionDialog::compute);
  for (QuantityEdit* edit : {cell_, spacing_, tolerance_}) {
    connect(edit, &QuantityEdit::edited, this, &SecondOpinionDialog::compute);
    connect(edit, &QuantityEdit::refused, shares_, &QLabel::setText);
  }
  compute();
}

double SecondOpinionDialog::tolerance() const {
  return tolerance_->value();
}

QuantityEdit* SecondOpinionDialog::field(const char* name, double most, double value) {
  works::Field field;
  field.measure = works::Measure::length, field.least = 0.001, field.most = most, field.step = 0.1;
  auto* edit = new QuantityEdit(std::move(field), this);
  edit->setObjectName(name);
  edit->setValue(value);
  return edit;
}

void SecondOpinionDialog::compute() {
  const std::vector<plane::Polygon> region = region_->chosen();
  quantity::SecondOpinion opinion;
  quantity::Tolerance shares;
  try {
    workspace_.doLong(tr("Measuring by three methods"), [&](const Progress& progress) {
      opinion = quantity::secondOpinion(*from_, *to_, region, cell_->value(), spacing_->value(), progress);
      shares = quantity::toleranceOf(*from_, *to_, region, tolerance_->value(), progress);
    });
    show(opinion, shares);
  } catch (const Cancelled&) {
    shares_->setText(tr("Stopped."));
  } catch (const Error& e) {
    shares_->setText(QString::fromUtf8(e.what()));
  }
}

void SecondOpinionDialog::show(const quantity::SecondOpinion& o, const quantity::Tolerance& shares) {
  cell_->setValue(o.cell), spacing_->setValue(o.spacing);
  const double moved = o.exact.cut + o.exact.fill;
  report::Table table{"Second opinion", {{"Method"}, {"Cut m³"}, {"Fill m³"}, {"Differs"}}, {}};
  const auto row = [&](const QString& name, const quantity::Earth& e) {
    const double off = std::max(std::abs(e.cut - o.exact.cut), std::abs(e.fill - o.exact.fill));
    const std::string differs = table.rows.empty() ? "" : moved > 0 ? formatNumber(100 * off / moved, 2) + " %" : "–";
    table.rows.push_back({name.toStdString(), e.cut, e.fill, differs});
  };
  row(tr("exact, triangle by triangle"), {o.exact.cut, o.exact.fill});
  row(tr("grid"), o.grid);
  row(tr("sections, average end areas"), o.sections.endAreas);
  row(tr("sections, prismoidal"), o.sections.prismoidal);
  const Measures& measures = evaluation_->project->measures;
  table_->tell(report::inMeasures(std::move(table), measures));
  const double all = std::max(shares.within + shares.above + shares.below, 1e-9);
  const auto area = [&](double v) { return QString::fromStdString(inselberg::shown(v, Quantity::area, measures)); };
  QString text = tr("%1 lies within %2 of %3 over %4 (%5 %), above it over %6, below it over %7.")
                     .arg(toName_, lengths::told(tolerance_->value(), 3), fromName_, area(shares.within),
                          number(100 * shares.within / all, 1), area(shares.above), area(shares.below));
  const QString missing = QString::fromStdString(report::unmeasuredText(o.exact.unmeasured(), measures));
  if (!missing.isEmpty()) text += " " + missing + ".";
  shares_->setText(text);
}

}  // namespace inselberg::app
