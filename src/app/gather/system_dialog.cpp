#include "gather/system_dialog.h"

#include <QDialogButtonBox>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTimer>
#include <QVBoxLayout>

#include "exchange/coordinate_system.h"

namespace inselberg::app {
namespace {

constexpr std::size_t kMost = 100;

}  // namespace

SystemDialog::SystemDialog(Of of, const QString& told, const std::string& current, std::optional<plane::Vec2> at,
                           QWidget* parent)
    : QDialog(parent), of_(of), at_(at) {
  setWindowTitle(tr("Coordinate system"));
  resize(620, 440);
  auto* layout = new QVBoxLayout(this);
  auto* what = new QLabel(told, this);
  what->setWordWrap(true);
  layout->addWidget(what);
  const auto now = current.empty() ? std::nullopt : exchange::coordinateSystem(current);
  layout->addWidget(new QLabel(now ? tr("Now: %1").arg(QString::fromStdString(now->text())) : tr("Now: none"), this));
  field_ = new QLineEdit(this);
  field_->setObjectName("systemWords");
  field_->setPlaceholderText(tr("Code, name or country, for example: 32755, or: zone 55 Australia"));
  field_->setClearButtonEnabled(true);
  layout->addWidget(field_);
  list_ = new QListWidget(this);
  list_->setObjectName("systemList");
  list_->setAlternatingRowColors(true);
  list_->setWordWrap(true);
  layout->addWidget(list_, 1);
  more_ = new QLabel(this);
  layout->addWidget(more_);
  buttons_ = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel, this);
  buttons_->button(QDialogButtonBox::Ok)->setText(tr("Choose"));
  auto* none = buttons_->addButton(tr("None"), QDialogButtonBox::ResetRole);
  none->setObjectName("systemNone");
  none->setEnabled(!current.empty());
  layout->addWidget(buttons_);
  const auto take = [this] {
    const auto* item = list_->currentItem();
    if (!item) return;
    chosen_ = item->data(Qt::UserRole).toString().toStdString();
    accept();
  };
  connect(buttons_, &QDialogButtonBox::accepted, this, take);
  connect(buttons_, &QDialogButtonBox::rejected, this, &QDialog::reject);
  connect(list_, &QListWidget::itemDoubleClicked, this, take);
  connect(none, &QPushButton::clicked, this, [this] {
    chosen_ = std::string();
    accept();
  });
  // The list follows once the typing pauses.
  auto* pause = new QTimer(this);
  pause->setSingleShot(true);
  pause->setInterval(150);
  connect(pause, &QTimer::timeout, this, &SystemDialog::filter);
  connect(field_, &QLineEdit::textChanged, pause, qOverload<>(&QTimer::start));
  connect(list_, &QListWidget::currentRowChanged, this,
          [this](int row) { buttons_->button(QDialogButtonBox::Ok)->setEnabled(row >= 0); });
  filter();
  field_->setFocus();
}

void SystemDialog::filter() {
  list_->clear();
  const std::string words = field_->text().trimmed().toStdString();
  const bool there = at_ && words.empty();
  const auto found = exchange::findCoordinateSystems(words, kMost, there ? at_ : std::nullopt);
  for (const exchange::CoordinateSystem& system : found) {
    if (system.degrees && of_ == Of::project) continue;
    auto* item = new QListWidgetItem(
        QString("%1   %2\n%3")
            .arg(QString::fromStdString(system.definition),
                 QString::fromStdString(system.name) + (system.degrees ? tr(" (degrees)") : QString()),
                 QString::fromStdString(system.area)),
        list_);
    item->setData(Qt::UserRole, QString::fromStdString(system.definition));
  }
  list_->setCurrentRow(list_->count() > 0 ? 0 : -1);
  buttons_->button(QDialogButtonBox::Ok)->setEnabled(list_->count() > 0);
  more_->setText(list_->count() == 0 ? tr("None has all these words. Try fewer.")
                 : there ? tr("These are used where the file lies, the most local first. Type to look among all.")
                 : found.size() == kMost ? tr("These are the first of many. Type more to narrow them.")
                                         : QString());
}

std::optional<std::string> SystemDialog::choose(Of of, const QString& told, const std::string& current,
                                                std::optional<plane::Vec2> at, QWidget* parent) {
  SystemDialog dialog(of, told, current, at, parent);
  if (dialog.exec() != QDialog::Accepted) return std::nullopt;
  return dialog.chosen_;
}

}  // namespace inselberg::app
