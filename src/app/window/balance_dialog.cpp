#include "window/balance_dialog.h"

#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>

#include "balance/site_balance.h"
#include "base/error.h"
#include "card/quantity_edit.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

// What there is to fill with and what is wanted for it.
QString figuresText(const report::Figures& f, const Measures& measures) {
  const auto told = [&](double v) { return QString::fromStdString(shown(v, Quantity::volume, measures)); };
  QString text = QObject::tr("available from cut %1, needed for fill %2").arg(told(f.available), told(f.needed));
  if (f.import > 0.5) text += QObject::tr(", to bring in %1").arg(told(f.import));
  if (f.exported > 0.5) text += QObject::tr(", to take away %1 bank").arg(told(f.exported));
  return text;
}

}  // namespace

BalanceDialog::BalanceDialog(Workspace& workspace, QWidget* parent) : QDialog(parent), workspace_(workspace) {
  setObjectName("balanceDialog");
  setWindowTitle(tr("Balance the site"));
  setMinimumWidth(460);
  auto* form = new QFormLayout(this);
  auto* says = new QLabel(tr("Shifts these works together until the cut of the whole site, less what is lost or not "
                             "usable, fills what is wanted: with strips, undercuts and materials."),
                          this);
  says->setProperty("quiet", true);
  says->setWordWrap(true);
  form->addRow(says);
  works_ = new QListWidget(this);
  works_->setObjectName("balanceWorks");
  works_->setAccessibleName(tr("Works to shift"));
  const project::Project& project = *workspace_.project();
  const auto all = balance::worksToShift(project);
  const bool one = std::find(all.begin(), all.end(), workspace_.chosenWorks()) != all.end();
  for (const WorksId id : all) {
    auto* item = new QListWidgetItem(QString::fromStdString(project.works(id).works->name), works_);
    item->setData(Qt::UserRole, QVariant::fromValue<qulonglong>(id.value));
    item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
    item->setCheckState(!one || id == workspace_.chosenWorks() ? Qt::Checked : Qt::Unchecked);
  }
  works_->setMaximumHeight(140);
  form->addRow(works_);
  using works::Measure;
  surplus_ = field("balanceSurplus", Measure::volume, -1e9, 1e9, 100, 0);
  within_ = field("balanceWithin", Measure::percent, 1e-4, 50, 0.1, 0.1);
  most_ = field("balanceMost", Measure::length, 0.01, 100, 1, lengths::nudge(10));
  surplus_->setToolTip(tr("Compacted measure. Less than 0: so much is to be brought in."));
  form->addRow(tr("Surplus wanted"), surplus_);
  form->addRow(tr("Within, of the earth moved"), within_);
  form->addRow(tr("Up or down at most"), most_);
  result_ = new QLabel(this);
  result_->setObjectName("balanceResult");
  result_->setWordWrap(true);
  result_->setMinimumHeight(result_->fontMetrics().height() * 4);
  result_->setAlignment(Qt::AlignTop);
  form->addRow(result_);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, this);
  go_ = buttons->addButton(tr("Balance"), QDialogButtonBox::ActionRole);
  go_->setObjectName("balanceGo");
  go_->setDefault(true);
  connect(go_, &QPushButton::clicked, this, &BalanceDialog::balance);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  connect(works_, &QListWidget::itemChanged, this, [this] { go_->setEnabled(!checked().empty()); });
  form->addRow(buttons);
  go_->setEnabled(!checked().empty());
  tellNow();
}

QuantityEdit* BalanceDialog::field(const char* name, works::Measure measure, double least, double most, double step,
                                   double value) {
  works::Field field;
  field.measure = measure, field.least = least, field.most = most, field.step = step;
  auto* edit = new QuantityEdit(std::move(field), this);
  edit->setObjectName(name);
  edit->setValue(value);
  connect(edit, &QuantityEdit::refused, this, [this](const QString& why) { result_->setText(why); });
  return edit;
}

std::vector<WorksId> BalanceDialog::checked() const {
  std::vector<WorksId> list;
  for (int i = 0; i < works_->count(); ++i) {
    if (works_->item(i)->checkState() == Qt::Checked)
      list.push_back({works_->item(i)->data(Qt::UserRole).toULongLong()});
  }
  return list;
}

void BalanceDialog::tellNow() {
  if (works_->count() == 0) return result_->setText(tr("No works has a level to shift: place a pad first."));
  if (!workspace_.upToDate()) return;
  try {
    report::Figures now;
    workspace_.doLong(tr("Taking quantities"),
                      [&](const Progress& progress) { now = report::figuresOf(*workspace_.evaluation(), progress); });
    result_->setText(tr("Now: %1.").arg(figuresText(now, workspace_.project()->measures)));
  } catch (const Cancelled&) {
  }
}

void BalanceDialog::balance() {
  const project::ProjectPtr now = workspace_.project();
  const balance::SiteWish wish{checked(), surplus_->value(), within_->value() / 100, most_->value()};
  std::optional<balance::SiteBalance> found;
  try {
    workspace_.doLong(tr("Balancing"),
                      [&](const Progress& progress) { found = balance::balanceSite(now, wish, progress); });
  } catch (const Cancelled&) {
    return result_->setText(tr("Stopped. Nothing was changed."));
  } catch (const Error& e) {
    return result_->setText(QString::fromUtf8(e.what()));
  }
  if (found->project != now) workspace_.commit(found->project, tr("balance the site"));
  const QString by = found->shift == 0  ? tr("Nothing had to be shifted")
                     : found->shift > 0 ? tr("Raised by %1").arg(lengths::told(found->shift, 3))
                                        : tr("Lowered by %1").arg(lengths::told(-found->shift, 3));
  const QString text = by + tr(": %1.").arg(figuresText(found->figures, workspace_.project()->measures));
  result_->setText(found->closed ? text
                                 : text + tr(" No shift within %1 comes to what is wanted; this is the nearest.")
                                              .arg(lengths::told(wish.most, 2)));
}

}  // namespace inselberg::app
