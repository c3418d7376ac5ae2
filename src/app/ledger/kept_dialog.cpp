#include "ledger/kept_dialog.h"

#include <QDialogButtonBox>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>

#include "base/quantity.h"
#include "report/ledger.h"
#include "theme/theme.h"

namespace inselberg::app {
namespace {

QString figure(double v, const Measures& measures) {
  return QString::fromStdString(shownNumber(v, Quantity::volume, measures));
}

// Name, then cut, fill and what is over, of the whole and of all that is in it.
QString tableOf(const project::KeptResult& kept, const project::KeptResult& now, const Measures& measures) {
  QString rows;
  const auto row = [&](const QString& name, double cut, double fill, const QString& last, bool strong) {
    const QString cell = strong ? "<td align='right'><b>%1</b></td>" : "<td align='right'>%1</td>";
    rows += "<tr><td>" + (strong ? "<b>" + name.toHtmlEscaped() + "</b>" : name.toHtmlEscaped()) + "</td>" +
            cell.arg(figure(cut, measures)) + cell.arg(figure(fill, measures)) + cell.arg(last) + "</tr>";
  };
  const auto over = [&](double cut, double fill) {
    return QString::fromStdString(report::surplusText(cut, fill, measures));
  };
  row(KeptDialog::tr("In all, then"), kept.cut, kept.fill, over(kept.cut, kept.fill), true);
  row(KeptDialog::tr("In all, now"), now.cut, now.fill, over(now.cut, now.fill), true);
  for (const project::KeptFigure& f : kept.figures)
    row(QString::fromStdString(f.name), f.cut, f.fill, over(f.cut, f.fill), false);
  return QString(
             "<table cellspacing='6'><tr><td></td><td align='right'>%1</td><td align='right'>%2</td><td></td></tr>%3"
             "</table>")
      .arg(KeptDialog::tr("Cut %1").arg(unitOf(Quantity::volume, measures)),
           KeptDialog::tr("Fill %1").arg(unitOf(Quantity::volume, measures)), rows);
}

}  // namespace

KeptDialog::KeptDialog(Workspace& workspace, QWidget* parent) : QDialog(parent), workspace_(workspace) {
  setObjectName("keptDialog");
  setWindowTitle(tr("Kept results"));
  resize(820, 460);
  auto* layout = new QVBoxLayout(this);
  auto* both = new QHBoxLayout;
  list_ = new QListWidget(this);
  list_->setObjectName("keptList");
  list_->setFixedWidth(220);
  both->addWidget(list_);
  auto* right = new QVBoxLayout;
  picture_ = new QLabel(this);
  picture_->setAlignment(Qt::AlignCenter);
  picture_->setMinimumHeight(240);
  told_ = new QLabel(this);
  told_->setObjectName("keptTold");
  told_->setTextFormat(Qt::RichText);
  told_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
  right->addWidget(picture_);
  right->addWidget(told_, 1);
  both->addLayout(right, 1);
  layout->addLayout(both, 1);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, this);
  compare_ = buttons->addButton(tr("Compare in the ledger"), QDialogButtonBox::AcceptRole);
  compare_->setObjectName("keptCompare");
  rename_ = buttons->addButton(tr("Rename…"), QDialogButtonBox::ActionRole);
  remove_ = buttons->addButton(tr("Remove"), QDialogButtonBox::DestructiveRole);
  remove_->setObjectName("keptRemove");
  layout->addWidget(buttons);
  connect(list_, &QListWidget::currentRowChanged, this, [this] { show(); });
  connect(compare_, &QPushButton::clicked, this, [this] {
    compared_ = marked();
    accept();
  });
  connect(rename_, &QPushButton::clicked, this, [this] { rename(); });
  connect(remove_, &QPushButton::clicked, this, [this] { remove(); });
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  refresh();
}

project::KeptPtr KeptDialog::marked() const {
  const auto& kept = workspace_.project()->kept;
  const auto row = static_cast<std::size_t>(list_->currentRow());
  return row < kept.size() ? kept[row] : nullptr;
}

void KeptDialog::refresh() {
  const int row = std::max(0, list_->currentRow());
  list_->clear();
  for (const project::KeptPtr& kept : workspace_.project()->kept)
    list_->addItem(QString::fromStdString(kept->name + "\n" + kept->when));
  list_->setCurrentRow(std::min(row, list_->count() - 1));
  show();
}

void KeptDialog::show() {
  const project::KeptPtr kept = marked();
  for (QPushButton* b : {compare_, rename_, remove_}) b->setEnabled(kept != nullptr);
  for (QPushButton* b : {rename_, remove_}) b->setEnabled(kept && !workspace_.readOnly());
  if (!kept) {
    picture_->clear();
    told_->setText(tr("No result is kept yet. Measure › Keep this result holds the figures and the picture of now."));
    return;
  }
  QPixmap picture;
  picture.loadFromData(QByteArray::fromStdString(kept->picture));
  picture_->setPixmap(picture.isNull() ? picture
                                       : picture.scaled(560, 240, Qt::KeepAspectRatio, Qt::SmoothTransformation));
  told_->setText(tableOf(*kept, report::keptOf(*workspace_.evaluation()), workspace_.project()->measures));
}

void KeptDialog::rename() {
  const project::KeptPtr kept = marked();
  bool given = false;
  const QString name = QInputDialog::getText(this, tr("Rename"), tr("Name of the result"), QLineEdit::Normal,
                                             QString::fromStdString(kept->name), &given);
  if (!given || name.trimmed().isEmpty()) return;
  project::KeptResult changed = *kept;
  changed.name = name.trimmed().toStdString();
  workspace_.commit(project::withKept(*workspace_.project(), std::move(changed)), tr("rename a kept result"));
  refresh();
}

void KeptDialog::remove() {
  const project::KeptPtr kept = marked();
  workspace_.commit(project::withoutKept(*workspace_.project(), kept->id),
                    tr("remove the result %1").arg(QString::fromStdString(kept->name)));
  refresh();
}

}  // namespace inselberg::app
