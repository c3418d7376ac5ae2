#include "window/limits_dialog.h"

#include <QCheckBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>

#include "card/quantity_edit.h"
#include "workspace/lengths.h"

namespace inselberg::app {

LimitsDialog::LimitsDialog(Workspace& workspace, QWidget* parent) : QDialog(parent), workspace_(workspace) {
  setObjectName("limitsDialog");
  setWindowTitle(tr("Limits of the design"));
  auto* form = new QFormLayout(this);
  auto* says = new QLabel(tr("Works that do not keep to these raise doubts, at once."), this);
  says->setProperty("quiet", true);
  form->addRow(says);
  const auto field = [](works::Measure measure, double least, double most, double step) {
    works::Field made;
    made.measure = measure, made.least = least, made.most = most, made.step = step;
    return made;
  };
  using works::Measure;
  addRow(*form, "limitCut", tr("Batters in cut no steeper than"), field(Measure::slope, 0, 100, 0.25), 2,
         &project::Limits::steepestCut);
  addRow(*form, "limitFill", tr("Batters in fill no steeper than"), field(Measure::slope, 0, 100, 0.25), 2,
         &project::Limits::steepestFill);
  addRow(*form, "limitFall", tr("Pads and level areas fall at least"), field(Measure::percent, 0.01, 20, 0.1), 0.5,
         &project::Limits::leastFall);
  addRow(*form, "limitFreeboard", tr("Ponds have a freeboard of at least"), field(Measure::length, 0.01, 20, 0.05), 0.3,
         &project::Limits::freeboard);
  addRow(*form, "limitBuilding", tr("Land falls away from buildings for"), field(Measure::length, 0.1, 50, 0.5), 2,
         &project::Limits::besideBuildings);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, this);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  form->addRow(buttons);
}

void LimitsDialog::addRow(QFormLayout& form, const char* name, const QString& text, works::Field field, double usual,
                          double project::Limits::*member) {
  const double now = workspace_.project()->limits.*member;
  auto* asked = new QCheckBox(text, this);
  asked->setChecked(now > 0);
  if (works::isLength(field.measure)) usual = lengths::nudge(usual);
  auto* edit = new QuantityEdit(std::move(field), this);
  edit->setObjectName(name);
  edit->setValue(now > 0 ? now : usual);
  edit->setEnabled(now > 0);
  const auto set = [this, member](double value) {
    project::Limits limits = workspace_.project()->limits;
    limits.*member = value;
    workspace_.commit(project::withLimits(*workspace_.project(), limits), tr("change the limits of the design"));
  };
  connect(asked, &QCheckBox::toggled, this, [edit, set](bool on) {
    edit->setEnabled(on);
    set(on ? edit->value() : 0);
  });
  connect(edit, &QuantityEdit::edited, this, set);
  form.addRow(asked, edit);
}

}  // namespace inselberg::app
