#include "sheets/place_dialog.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QRadioButton>
#include <QSplitter>
#include <QStackedWidget>
#include <QTableWidget>
#include <QVBoxLayout>
#include <cmath>

#include "base/error.h"
#include "base/quantity.h"
#include "sheets/page_view.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

using plane::Vec2;

QString number(double value, int decimals) {
  return QString::number(value, 'f', decimals);
}

std::optional<double> typed(const QString& text) {
  return parseNumber(QString(text).replace(',', '.').toStdString());
}

QLabel* quiet(const QString& text, QWidget* parent) {
  auto* label = new QLabel(text, parent);
  label->setProperty("quiet", true);
  label->setWordWrap(true);
  return label;
}

QTableWidget* table(const char* name, const QStringList& heads, QWidget* parent) {
  auto* made = new QTableWidget(0, static_cast<int>(heads.size()), parent);
  made->setObjectName(name);
  made->setHorizontalHeaderLabels(heads);
  made->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
  made->verticalHeader()->setDefaultSectionSize(24);
  made->setSelectionBehavior(QAbstractItemView::SelectRows);
  return made;
}

// "2.2 % longer than said"
QString disagreementText(double share) {
  if (std::abs(share) < 5e-5) return PlaceDialog::tr("as said");
  return (share > 0 ? PlaceDialog::tr("%1 % longer than said") : PlaceDialog::tr("%1 % shorter than said"))
      .arg(number(std::abs(share) * 100, 2));
}

}  // namespace

PlaceDialog::PlaceDialog(const project::PlanSheet& sheet, std::optional<sheet::Placement> own,
                         std::optional<Vec2> mmPerUnit, QWidget* parent)
    : QDialog(parent), before_(sheet), own_(own), mmPerUnit_(mmPerUnit) {
  setObjectName("placeDialog");
  setWindowTitle(tr("Place %1").arg(QString::fromStdString(sheet.name)));
  resize(1160, 680);
  auto* all = new QVBoxLayout(this);
  auto* both = new QHBoxLayout;
  page_ = new PageView(sheet.bytes, sheet.file, sheet.world, sheet.page, sheet.size, this);
  both->addWidget(page_, 1);
  both->addWidget(makeRight());
  all->addLayout(both, 1);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
  ok_ = buttons->addButton(tr("Place"), QDialogButtonBox::AcceptRole);
  ok_->setObjectName("placeGo");
  all->addWidget(buttons);
  showBefore();
  connect(page_, &PageView::clicked, this, &PlaceDialog::clicked);
  connect(ways_, &QButtonGroup::idToggled, this, [this] { refresh(); });
  connect(even_, &QCheckBox::toggled, this, [this] { refresh(); });
  for (QLineEdit* edit : {along_, up_, checkMetres_})
    connect(edit, &QLineEdit::textChanged, this, [this] { refresh(); });
  for (QTableWidget* t : {lengths_, points_}) {
    connect(t, &QTableWidget::itemChanged, this, [this] { refresh(); });
    connect(t, &QTableWidget::itemSelectionChanged, this, [this] { refresh(); });
  }
  connect(remove_, &QPushButton::clicked, this, [this] { removeRow(); });
  connect(checking_, &QPushButton::toggled, this, [this] {
    from_.reset();
    refresh();
  });
  connect(ok_, &QPushButton::clicked, this, &QDialog::accept);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  refresh();
}

QWidget* PlaceDialog::makeRight() {
  auto* right = new QWidget(this);
  right->setFixedWidth(400);
  auto* column = new QVBoxLayout(right);
  column->setContentsMargins(8, 0, 0, 0);
  ways_ = new QButtonGroup(this);
  const auto way = [&](Way id, const char* name, const QString& text, bool enabled) {
    auto* button = new QRadioButton(text, right);
    button->setObjectName(name);
    button->setEnabled(enabled);
    ways_->addButton(button, id);
    column->addWidget(button);
  };
  way(points, "placeByPoints", tr("By points with known coordinates"), true);
  way(lengths, "placeByLengths", tr("By known lengths"), true);
  way(scale, "placeByScale", mmPerUnit_ ? tr("By its scale") : tr("By its scale (the picture tells no resolution)"),
      mmPerUnit_.has_value());
  if (own_) way(itself, "placeByItself", tr("As it says itself"), true);
  stack_ = new QStackedWidget(right);
  stack_->addWidget(makeScalePage());
  lengths_ = table("lengths", {tr("Sheet"), tr("On site, %1").arg(lengths::unit()), tr("Placed so")}, stack_);
  stack_->addWidget(
      withText(tr("Click both ends of a length, then type how long it is. One along the sheet and one up it "
                  "tell both scales; more are checked."),
               lengths_));
  points_ = table("points", {tr("Sheet"), tr("Easting"), tr("Northing"), tr("Off by")}, stack_);
  stack_->addWidget(
      withText(tr("Click a place, then type its easting and northing. Two turn and scale the sheet evenly; "
                  "from three on each axis has its own scale, and every point is checked."),
               points_));
  stack_->addWidget(withText(tr("The file tells its coordinates."), nullptr));
  column->addWidget(stack_, 1);
  remove_ = new QPushButton(tr("Remove the row"), right);
  remove_->setObjectName("removeRow");
  column->addWidget(remove_, 0, Qt::AlignLeft);
  addCheck(*column);
  result_ = new QLabel(right);
  result_->setObjectName("placeResult");
  result_->setWordWrap(true);
  column->addWidget(result_);
  doubts_ = new QLabel(right);
  doubts_->setObjectName("placeDoubts");
  doubts_->setWordWrap(true);
  doubts_->setProperty("alarm", true);
  column->addWidget(doubts_);
  return right;
}

QWidget* PlaceDialog::makeScalePage() {
  auto* page = new QWidget(stack_);
  auto* form = new QFormLayout(page);
  along_ = new QLineEdit(page), up_ = new QLineEdit(page);
  along_->setObjectName("scaleAlong"), up_->setObjectName("scaleUp");
  even_ = new QCheckBox(tr("the same up the sheet"), page);
  even_->setObjectName("scaleEven");
  form->addRow(tr("Along the sheet, 1 :"), along_);
  form->addRow(QString(), even_);
  form->addRow(tr("Up the sheet, 1 :"), up_);
  form->addRow(quiet(tr("A printed scale holds only for a sheet that was neither enlarged nor reduced: check it with a "
                        "length along and one up the sheet."),
                     page));
  return page;
}

QWidget* PlaceDialog::withText(const QString& text, QWidget* below) {
  auto* page = new QWidget(stack_);
  auto* column = new QVBoxLayout(page);
  column->setContentsMargins(0, 0, 0, 0);
  column->addWidget(quiet(text, page));
  if (below) {
    column->addWidget(below, 1);
  } else {
    column->addStretch();
  }
  return page;
}

void PlaceDialog::addCheck(QVBoxLayout& column) {
  checking_ = new QPushButton(tr("Check a length"), this);
  checking_->setObjectName("checkLength");
  checking_->setCheckable(true);
  checkMetres_ = new QLineEdit(this);
  checkMetres_->setObjectName("checkMetres");
  checkMetres_->setPlaceholderText(lengths::unit());
  checkMetres_->setFixedWidth(90);
  auto* row = new QHBoxLayout;
  row->addWidget(checking_);
  row->addWidget(checkMetres_);
  row->addStretch();
  column.addLayout(row);
  checkSays_ = quiet({}, this);
  checkSays_->setObjectName("checkSays");
  column.addWidget(checkSays_);
}

// As the sheet is placed now.
void PlaceDialog::showBefore() {
  const bool isPlaced = before_.placedBy != project::PlacedBy::scale || before_.placement != sheet::Placement{};
  const Vec2 mm = mmPerUnit_.value_or(Vec2{1, 1});
  along_->setText(isPlaced ? number(before_.placement.metresX() * 1000 / mm.x, 0) : "500");
  up_->setText(isPlaced ? number(before_.placement.metresY() * 1000 / mm.y, 0) : "500");
  even_->setChecked(along_->text() == up_->text());
  if (before_.placedBy == project::PlacedBy::points) {
    for (const sheet::Control& c : before_.controls) {
      places_.push_back(c.page);
      addRow(*points_, {{}, number(c.ground.x, 3), number(c.ground.y, 3), {}});
    }
  }
  for (const sheet::KnownLength& length : project::lengthsOf(before_)) {
    ends_.emplace_back(length.from, length.to);
    addRow(*lengths_, {{}, number(lengths::inUnit(length.metres), 3), {}});
  }
  const Way first = isPlaced ? static_cast<Way>(before_.placedBy) : own_ ? itself : points;
  (ways_->button(first) ? ways_->button(first) : ways_->button(points))->setChecked(true);
}

PlaceDialog::Way PlaceDialog::way() const {
  return static_cast<Way>(ways_->checkedId());
}

void PlaceDialog::addRow(QTableWidget& t, const QStringList& cells) {
  const bool was = std::exchange(refreshing_, true);
  const int row = t.rowCount();
  t.insertRow(row);
  for (int c = 0; c < cells.size(); ++c) {
    auto* item = new QTableWidgetItem(cells[c]);
    const bool fixed = c == 0 || c + 1 == cells.size();
    if (fixed) item->setFlags(item->flags() & ~Qt::ItemIsEditable);
    t.setItem(row, c, item);
  }
  refreshing_ = was;
}

void PlaceDialog::removeRow() {
  QTableWidget& t = way() == lengths ? *lengths_ : *points_;
  const int row = t.currentRow() >= 0 ? t.currentRow() : t.rowCount() - 1;
  if (row < 0) return;
  refreshing_ = true;
  t.removeRow(row);
  refreshing_ = false;
  if (way() == lengths) {
    ends_.erase(ends_.begin() + row);
  } else {
    places_.erase(places_.begin() + row);
  }
  refresh();
}

void PlaceDialog::clicked(Vec2 at) {
  const bool length = checking_->isChecked() || way() == lengths;
  if (length && !from_) {
    from_ = at;
    page_->setFrom(at);
    return;
  }
  if (length && plane::distance(*from_, at) <= 0) return;
  if (checking_->isChecked()) {
    check_ = {*std::exchange(from_, std::nullopt), at};
    checking_->setChecked(false);
    checkMetres_->setFocus();
  } else if (way() == lengths) {
    ends_.emplace_back(*std::exchange(from_, std::nullopt), at);
    addRow(*lengths_, {{}, {}, {}});
    lengths_->setCurrentCell(lengths_->rowCount() - 1, 1);
    lengths_->editItem(lengths_->item(lengths_->rowCount() - 1, 1));
  } else if (way() == points) {
    places_.push_back(at);
    addRow(*points_, {{}, {}, {}, {}});
    points_->setCurrentCell(points_->rowCount() - 1, 1);
    points_->editItem(points_->item(points_->rowCount() - 1, 1));
  }
  page_->setFrom(from_);
  refresh();
}

std::vector<sheet::KnownLength> PlaceDialog::typedLengths() const {
  std::vector<sheet::KnownLength> list;
  for (int row = 0; row < lengths_->rowCount(); ++row) {
    const auto metres = lengths::typed(lengths_->item(row, 1)->text());
    if (!metres) throw Error("a length is not told yet", "type how long it is");
    const auto& [from, to] = ends_[static_cast<std::size_t>(row)];
    list.push_back({from, to, *metres});
  }
  return list;
}

std::vector<sheet::Control> PlaceDialog::typedPoints() const {
  std::vector<sheet::Control> list;
  for (int row = 0; row < points_->rowCount(); ++row) {
    const auto east = typed(points_->item(row, 1)->text()), north = typed(points_->item(row, 2)->text());
    if (!east || !north) throw Error("a point has no coordinates yet", "type its easting and northing");
    list.push_back({places_[static_cast<std::size_t>(row)], {*east, *north}});
  }
  return list;
}

project::SheetInfo PlaceDialog::place() const {
  project::SheetInfo info = before_;
  info.controls.clear();
  info.placedBy = static_cast<project::PlacedBy>(way());
  switch (way()) {
    case scale: {
      const auto x = typed(along_->text()), y = even_->isChecked() ? x : typed(up_->text());
      if (!x || !y || *x <= 0 || *y <= 0) throw Error("the scale is no number", "type it like 500");
      info.placement = sheet::byScale(*x, *y, mmPerUnit_.value_or(Vec2{1, 1}));
      break;
    }
    case lengths: {
      const auto known = typedLengths();
      info.placement = sheet::byLengths(known);
      for (const sheet::KnownLength& length : known) {
        info.controls.push_back({length.from, {0, 0}});
        info.controls.push_back({length.to, {length.metres, 0}});
      }
      break;
    }
    case points:
      info.controls = typedPoints();
      info.placement = sheet::fitTo(info.controls).placement;
      break;
    case itself:
      info.placement = *own_;
      break;
  }
  return info;
}

project::SheetInfo PlaceDialog::placed() const {
  return place();
}

bool PlaceDialog::located() const {
  return way() == points || way() == itself;
}

void PlaceDialog::showCheck(const sheet::Placement& placement) {
  if (!check_) return;
  const double here = plane::distance(placement(check_->first), placement(check_->second));
  const auto metres = lengths::typed(checkMetres_->text());
  if (!metres || *metres <= 0) {
    checkSays_->setText(tr("%1 as the sheet is placed. Type how long it is.").arg(lengths::told(here, 2)));
    return;
  }
  const double share = sheet::disagreement(placement, {check_->first, check_->second, *metres});
  checkSays_->setText(tr("%1 as the sheet is placed, %2.").arg(lengths::told(here, 2), disagreementText(share)));
}

void PlaceDialog::refresh() {
  if (refreshing_) return;
  refreshing_ = true;
  stack_->setCurrentIndex(way());
  up_->setEnabled(!even_->isChecked());
  remove_->setVisible((way() == lengths && lengths_->rowCount() > 0) || (way() == points && points_->rowCount() > 0));
  checking_->setText(checking_->isChecked() ? tr("Click both its ends") : tr("Check a length"));
  checkMetres_->setEnabled(check_.has_value());
  const QString unit = before_.picture ? tr("pixels") : tr("mm");
  std::vector<PageView::Mark> marks;
  std::vector<PageView::Stretch> stretches;
  const auto shownPoint = [&](int row) { return way() == points && points_->currentRow() == row; };
  for (int row = 0; way() == points && row < points_->rowCount(); ++row) {
    const Vec2 at = places_[static_cast<std::size_t>(row)];
    points_->item(row, 0)->setText(tr("%1, %2").arg(number(at.x, 1), number(at.y, 1)));
    points_->item(row, 3)->setText({});
    marks.push_back({at, tr("%1").arg(row + 1), shownPoint(row)});
  }
  for (int row = 0; way() == lengths && row < lengths_->rowCount(); ++row) {
    const auto& [from, to] = ends_[static_cast<std::size_t>(row)];
    lengths_->item(row, 0)->setText(tr("%1 %2").arg(number(plane::distance(from, to), 1), unit));
    lengths_->item(row, 2)->setText({});
    stretches.push_back({from, to, lengths_->item(row, 1)->text(), lengths_->currentRow() == row});
  }
  if (check_) stretches.push_back({check_->first, check_->second, tr("check"), true});
  try {
    const project::SheetInfo info = place();
    for (int row = 0; way() == points && row < points_->rowCount(); ++row) {
      const sheet::Control& c = info.controls[static_cast<std::size_t>(row)];
      points_->item(row, 3)->setText(lengths::told(plane::distance(info.placement(c.page), c.ground), 3));
      marks[static_cast<std::size_t>(row)].text +=
          tr(": %1").arg(lengths::told(plane::distance(info.placement(c.page), c.ground), 3));
    }
    if (way() == lengths) {
      int row = 0;
      for (const sheet::KnownLength& length : project::lengthsOf(info))
        lengths_->item(row++, 2)->setText(disagreementText(sheet::disagreement(info.placement, length)));
    }
    QString says = QString::fromStdString(project::scaleText(info));
    if (std::abs(info.placement.rotation()) > 5e-4)
      says += tr(", turned by %1°").arg(number(info.placement.rotation(), 3));
    if (way() == points && info.controls.size() > 2)
      says += tr(", points off by %1 (root mean square)").arg(lengths::told(sheet::fitTo(info.controls).rms, 3));
    result_->setText(says);
    QStringList doubts;
    for (const std::string& doubt : project::doubtsOf(info)) doubts << QString::fromStdString(doubt);
    doubts_->setText(doubts.join('\n'));
    showCheck(info.placement);
    ok_->setEnabled(true);
  } catch (const Error& e) {
    const QString what = QString::fromStdString(e.happened()), hint = QString::fromStdString(e.hint());
    result_->setText(tr("Not placed yet: %1; %2.").arg(what, hint));
    doubts_->clear();
    ok_->setEnabled(false);
  }
  page_->setMarks(std::move(marks), std::move(stretches));
  refreshing_ = false;
}

}  // namespace inselberg::app
