#include "window/rows_dialog.h"

#include <QDialogButtonBox>
#include <QDoubleSpinBox>
#include <QFormLayout>
#include <QLabel>
#include <QPushButton>
#include <QSpinBox>

#include "plane/bearing.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

QSpinBox* count(const char* name, int start, QWidget* parent) {
  auto* box = new QSpinBox(parent);
  box->setObjectName(name);
  box->setRange(1, 100);
  box->setValue(start);
  return box;
}

QDoubleSpinBox* number(const char* name, double start, double least, double most, const QString& unit,
                       QWidget* parent) {
  auto* box = new QDoubleSpinBox(parent);
  box->setObjectName(name);
  box->setRange(least, most);
  box->setDecimals(2);
  box->setSuffix(unit);
  box->setValue(start);
  return box;
}

// From one copy to the next, in the unit that lengths are told in.
QDoubleSpinBox* spacing(const char* name, double across, QWidget* parent) {
  return number(name, lengths::inUnit(across), 0.1, 10000, " " + lengths::unit(), parent);
}

}  // namespace

RowsDialog::RowsDialog(const QString& name, double across, QWidget* parent) : QDialog(parent) {
  setWindowTitle(tr("Copies of %1 in rows").arg(name));
  auto* form = new QFormLayout(this);
  along_ = count("rowAlong", 3, this);
  spacing_ = spacing("rowSpacing", across, this);
  bearing_ = number("rowBearing", 90, 0, 360, tr("°"), this);
  rows_ = count("rowCount", 1, this);
  rowSpacing_ = spacing("rowsApart", across, this);
  form->addRow(tr("In a row, itself included"), along_);
  form->addRow(tr("From one to the next"), spacing_);
  form->addRow(tr("Towards the bearing"), bearing_);
  form->addRow(tr("Rows, to the right of it"), rows_);
  form->addRow(tr("From row to row"), rowSpacing_);
  told_ = new QLabel(this);
  told_->setProperty("quiet", true);
  form->addRow(told_);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel, this);
  buttons->button(QDialogButtonBox::Ok)->setText(tr("Copy"));
  form->addRow(buttons);
  connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  for (QSpinBox* box : {along_, rows_}) connect(box, &QSpinBox::valueChanged, this, [this] { tell(); });
  tell();
}

void RowsDialog::tell() {
  rowSpacing_->setEnabled(rows_->value() > 1);
  const int made = along_->value() * rows_->value() - 1;
  told_->setText(made == 1 ? tr("One copy is made.") : tr("%1 copies are made.").arg(made));
}

std::vector<plane::Vec2> RowsDialog::shifts() const {
  const plane::Vec2 along = spacing_->value() * lengths::inMetres() * plane::towards(bearing_->value());
  const plane::Vec2 across = rowSpacing_->value() * lengths::inMetres() * plane::towards(bearing_->value() + 90);
  std::vector<plane::Vec2> shifts;
  for (int r = 0; r < rows_->value(); ++r) {
    for (int k = 0; k < along_->value(); ++k) {
      if (r + k > 0) shifts.push_back(static_cast<double>(k) * along + static_cast<double>(r) * across);
    }
  }
  return shifts;
}

}  // namespace inselberg::app
