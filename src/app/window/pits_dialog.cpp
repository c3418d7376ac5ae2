#include "window/pits_dialog.h"

#include <QApplication>
#include <QClipboard>
#include <QDialogButtonBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QRegularExpression>
#include <QTableWidget>
#include <QVBoxLayout>

#include "base/error.h"
#include "base/quantity.h"
#include "exchange/pit_list.h"
#include "workspace/lengths.h"

namespace inselberg::app {

PitsDialog::PitsDialog(const QString& strip, const std::vector<plane::Vec3>& pits, QWidget* parent) : QDialog(parent) {
  setObjectName("pitsDialog");
  setWindowTitle(tr("Test pits of %1").arg(strip));
  resize(430, 420);
  auto* layout = new QVBoxLayout(this);
  auto* quiet = new QLabel(tr("Between pits the depth is that of their natural neighbours, beyond them that of the "
                              "nearest place of their outline. Without pits the strip has one depth."),
                           this);
  quiet->setProperty("quiet", true);
  quiet->setWordWrap(true);
  layout->addWidget(quiet);
  table_ = new QTableWidget(0, 3, this);
  table_->setObjectName("pits");
  table_->setHorizontalHeaderLabels({tr("Easting m"), tr("Northing m"), tr("Depth %1").arg(lengths::unit())});
  table_->verticalHeader()->hide();
  table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
  table_->installEventFilter(this);
  layout->addWidget(table_, 1);
  says_ = new QLabel(this);
  says_->setObjectName("pitsSays");
  says_->setWordWrap(true);
  says_->setProperty("alarm", true);
  layout->addWidget(says_);
  auto* actions = new QHBoxLayout;
  const auto button = [&](const char* name, const QString& text, auto run) {
    auto* made = new QPushButton(text, this);
    made->setObjectName(name);
    made->setAutoDefault(false);
    actions->addWidget(made);
    connect(made, &QPushButton::clicked, this, run);
  };
  button("pitsFile", tr("From a file…"), [this] { readFile(); });
  button("pitsPaste", tr("Paste"), [this] { paste(); });
  button("pitsRemove", tr("Remove"), [this] {
    if (table_->currentRow() >= 0) table_->removeRow(table_->currentRow());
    if (table_->rowCount() == 0) addRow({});
  });
  actions->addStretch();
  layout->addLayout(actions);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel, this);
  connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  layout->addWidget(buttons);
  // There is always a row to type the next one into.
  connect(table_, &QTableWidget::cellChanged, this, [this] {
    if (!row(table_->rowCount() - 1).isEmpty()) addRow({});
  });
  fill(pits);
}

void PitsDialog::addRow(const QStringList& cells) {
  const QSignalBlocker quiet(table_);
  const int at = table_->rowCount();
  table_->insertRow(at);
  for (int c = 0; c < 3; ++c) table_->setItem(at, c, new QTableWidgetItem(cells.value(c)));
}

void PitsDialog::fill(const std::vector<plane::Vec3>& pits) {
  table_->setRowCount(0);
  for (const plane::Vec3& p : pits) {
    QStringList cells;
    for (const double v : {p.x, p.y}) cells << QString::number(v, 'f', 3);
    cells << QString::number(lengths::inUnit(p.z), 'f', 3);
    addRow(cells);
  }
  addRow({});
}

QStringList PitsDialog::row(int number) const {
  QStringList cells;
  for (int c = 0; c < 3; ++c) {
    const QTableWidgetItem* item = table_->item(number, c);
    cells << (item ? item->text().trimmed() : QString());
  }
  while (!cells.isEmpty() && cells.last().isEmpty()) cells.removeLast();
  return cells;
}

void PitsDialog::readFile() {
  const QString path =
      QFileDialog::getOpenFileName(this, tr("Test pits"), {}, tr("Point lists (*.csv *.txt);;All (*)"));
  if (path.isEmpty()) return;
  try {
    fill(exchange::readPits(path.toStdString()));
    says_->clear();
  } catch (const Error& e) {
    says_->setText(QString::fromUtf8(e.what()));
  }
}

// Rows of a spreadsheet, in place of nothing: below what is there.
void PitsDialog::paste() {
  const QStringList lines = QApplication::clipboard()->text().split('\n', Qt::SkipEmptyParts);
  const int last = table_->rowCount() - 1;
  if (last >= 0 && row(last).isEmpty()) table_->removeRow(last);
  static const QRegularExpression between("[\\t;]|\\s+");
  for (const QString& line : lines) addRow(line.trimmed().split(between, Qt::SkipEmptyParts));
  addRow({});
}

bool PitsDialog::eventFilter(QObject* of, QEvent* event) {
  if (event->type() == QEvent::KeyPress && static_cast<QKeyEvent*>(event)->matches(QKeySequence::Paste)) {
    paste();
    return true;
  }
  return QDialog::eventFilter(of, event);
}

void PitsDialog::accept() {
  std::vector<plane::Vec3> pits;
  for (int r = 0; r < table_->rowCount(); ++r) {
    const QStringList cells = row(r);
    if (cells.isEmpty()) continue;
    std::optional<double> numbers[3];
    for (int c = 0; c < cells.size(); ++c)
      numbers[c] = c < 2 ? parseNumber(cells[c].toStdString()) : lengths::typed(cells[c]);
    if (!numbers[0] || !numbers[1] || !numbers[2] || *numbers[2] < 0) {
      says_->setText(
          tr("Row %1 is no pit: write easting, northing and a depth, like 412010.0, 6187020.0, 0.3.").arg(r + 1));
      table_->setCurrentCell(r, !numbers[0] ? 0 : !numbers[1] ? 1 : 2);
      return;
    }
    pits.push_back({*numbers[0], *numbers[1], *numbers[2]});
  }
  pits_ = std::move(pits);
  QDialog::accept();
}

bool askForPits(works::Strip& strip, const plane::Origin& origin, QWidget* parent) {
  std::vector<plane::Vec3> pits;
  for (const plane::Vec3& p : strip.pits) pits.push_back({p.x + origin.easting, p.y + origin.northing, p.z});
  PitsDialog dialog(QString::fromStdString(strip.name), pits, parent);
  if (dialog.exec() != QDialog::Accepted) return false;
  strip.pits.clear();
  for (const plane::Vec3& p : dialog.pits()) strip.pits.push_back({p.x - origin.easting, p.y - origin.northing, p.z});
  return true;
}

}  // namespace inselberg::app
