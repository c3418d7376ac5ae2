#include "sheets/sheets_dialog.h"

#include <QCheckBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QSlider>
#include <QVBoxLayout>
#include <cmath>

#include "plane/boxes.h"
#include "theme/theme.h"

namespace inselberg::app {
namespace {

QString placedText(project::PlacedBy by) {
  switch (by) {
    case project::PlacedBy::scale:
      return SheetsDialog::tr("by its scale");
    case project::PlacedBy::lengths:
      return SheetsDialog::tr("by known lengths");
    case project::PlacedBy::points:
      return SheetsDialog::tr("by known points");
    case project::PlacedBy::itself:
      return SheetsDialog::tr("as it says itself");
  }
  return {};
}

}  // namespace

SheetsDialog::SheetsDialog(Workspace& workspace, const plane::Box& view, QWidget* parent)
    : QDialog(parent), workspace_(workspace), view_(view) {
  setObjectName("sheetsDialog");
  setWindowTitle(tr("Plan sheets"));
  resize(700, 430);
  auto* all = new QVBoxLayout(this);
  auto* both = new QHBoxLayout;
  list_ = new QListWidget(this);
  list_->setObjectName("sheetList");
  list_->setAccessibleName(tr("Sheets, the topmost first"));
  both->addWidget(list_, 1);
  both->addWidget(makeRight());
  all->addLayout(both, 1);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, this);
  auto* bring = buttons->addButton(tr("Bring in another…"), QDialogButtonBox::ActionRole);
  bring->setEnabled(!workspace_.readOnly());
  all->addWidget(buttons);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  connect(bring, &QPushButton::clicked, this, &SheetsDialog::bringWanted);
  connect(list_, &QListWidget::currentRowChanged, this, [this] { showMarked(); });
  connect(&workspace_, &Workspace::projectChanged, this, [this] { refresh(); });
  refresh();
}

QWidget* SheetsDialog::makeRight() {
  auto* right = new QWidget(this);
  right->setFixedWidth(300);
  auto* column = new QVBoxLayout(right);
  column->setContentsMargins(8, 0, 0, 0);
  const auto label = [&](const char* name) {
    auto* made = new QLabel(right);
    made->setObjectName(name);
    made->setWordWrap(true);
    column->addWidget(made);
    return made;
  };
  says_ = label("sheetSays");
  doubts_ = label("sheetDoubts");
  doubts_->setProperty("alarm", true);
  const auto check = [&](const char* name, const QString& text, const QString& what, bool project::SheetInfo::*member,
                         bool turned) {
    auto* box = new QCheckBox(text, right);
    box->setObjectName(name);
    column->addWidget(box);
    connect(box, &QCheckBox::toggled, this, [this, what, member, turned](bool on) {
      alter(what, [&](project::SheetInfo& info) { info.*member = on != turned; });
    });
    return box;
  };
  shown_ = check("sheetShown", tr("Shown"), tr("show or hide a sheet"), &project::SheetInfo::hidden, true);
  grey_ = check("sheetGrey", tr("In greys"), tr("show a sheet in greys"), &project::SheetInfo::grey, false);
  locked_ =
      check("sheetLocked", tr("Locked: stays where it is"), tr("lock a sheet"), &project::SheetInfo::locked, false);
  opacity_ = new QSlider(Qt::Horizontal, right);
  opacity_->setObjectName("sheetOpacity");
  opacity_->setRange(5, 100);
  QPalette palette = opacity_->palette();
  palette.setColor(QPalette::Highlight, theme::amber());
  opacity_->setPalette(palette);
  opacity_->setAccessibleName(tr("How strongly it is shown"));
  auto* strength = new QFormLayout;
  strength->addRow(tr("Strength"), opacity_);
  column->addLayout(strength);
  opacity_->setTracking(false);  // one step of undo for each drag
  connect(opacity_, &QSlider::valueChanged, this, [this](int value) {
    alter(tr("show a sheet more or less strongly"), [&](project::SheetInfo& info) { info.opacity = value / 100.0; });
  });
  const auto button = [&](const char* name, const QString& text, auto run) {
    auto* made = new QPushButton(text, right);
    made->setObjectName(name);
    column->addWidget(made);
    connect(made, &QPushButton::clicked, this, run);
    return made;
  };
  place_ = button("sheetPlace", tr("Place anew…"), [this] { Q_EMIT placeWanted(marked()->id); });
  turn_ = button("sheetTurn", tr("Turn…"), [this] { turn(); });
  turn_->setToolTip(tr("A sheet that was scanned aslant or on its side; one placed by known points lies as they say"));
  rename_ = button("sheetRename", tr("Rename…"), [this] {
    bool given = false;
    const QString name = QInputDialog::getText(this, tr("Rename"), tr("Name of the sheet"), QLineEdit::Normal,
                                               QString::fromStdString(marked()->name), &given);
    if (given && !name.trimmed().isEmpty())
      alter(tr("rename a sheet"), [&](project::SheetInfo& info) { info.name = name.trimmed().toStdString(); });
  });
  crop_ = button("sheetCrop", tr("Crop to what the plan shows"), [this] { crop(); });
  whole_ = button("sheetWhole", tr("The whole page"),
                  [this] { alter(tr("show the whole page"), [](project::SheetInfo& info) { info.crop.reset(); }); });
  higher_ = button("sheetHigher", tr("Higher"), [this] { move(1); });
  lower_ = button("sheetLower", tr("Lower"), [this] { move(-1); });
  remove_ = button("sheetRemove", tr("Remove"), [this] {
    const project::PlanSheet* sheet = marked();
    workspace_.commit(project::withoutSheet(*workspace_.project(), sheet->id),
                      tr("remove the sheet %1").arg(QString::fromStdString(sheet->name)));
  });
  column->addStretch();
  return right;
}

// The topmost comes first.
const project::PlanSheet* SheetsDialog::marked() const {
  const auto& sheets = workspace_.project()->sheets;
  const int row = list_->currentRow();
  return row >= 0 && row < static_cast<int>(sheets.size())
             ? sheets[sheets.size() - 1 - static_cast<std::size_t>(row)].get()
             : nullptr;
}

void SheetsDialog::alter(const QString& what, const std::function<void(project::SheetInfo&)>& change) {
  const project::PlanSheet* sheet = marked();
  if (refreshing_ || !sheet) return;
  project::SheetInfo info = *sheet;
  change(info);
  if (info != static_cast<const project::SheetInfo&>(*sheet))
    workspace_.commit(project::withSheetInfo(*workspace_.project(), sheet->id, std::move(info)), what);
}

void SheetsDialog::move(int by) {
  const auto& sheets = workspace_.project()->sheets;
  const auto at = static_cast<int>(sheets.size()) - 1 - list_->currentRow();
  const auto to = std::clamp(at + by, 0, static_cast<int>(sheets.size()) - 1);
  if (to == at) return;
  const int row = list_->currentRow() - by;
  workspace_.commit(project::withSheetAt(*workspace_.project(), marked()->id, static_cast<std::size_t>(to)),
                    tr("move a sheet among the others"));
  list_->setCurrentRow(row);
}

void SheetsDialog::crop() {
  const plane::Box box = plane::boxAround(view_, marked()->placement.inverse());
  if (!box.overlaps({0, 0, marked()->size.x, marked()->size.y}))
    return doubts_->setText(tr("The plan shows no part of this sheet: go to it first."));
  alter(tr("crop a sheet"), [&](project::SheetInfo& info) { info.crop = box; });
}

void SheetsDialog::refresh() {
  refreshing_ = true;
  const int row = std::max(0, list_->currentRow());
  list_->clear();
  const auto& sheets = workspace_.project()->sheets;
  for (auto s = sheets.rbegin(); s != sheets.rend(); ++s) {
    const bool doubtful = !project::doubtsOf(**s).empty();
    auto* item = new QListWidgetItem(
        QString::fromStdString((*s)->name + "\n" + project::scaleText(**s)) + (doubtful ? tr(", doubtful") : QString()),
        list_);
    if (doubtful) item->setForeground(theme::error());
    if ((*s)->hidden) item->setForeground(theme::muted());
  }
  list_->setCurrentRow(std::min(row, list_->count() - 1));
  refreshing_ = false;
  showMarked();
}

// About its middle, as it is shown.
void SheetsDialog::turn() {
  const project::PlanSheet& sheet = *marked();
  bool given = false;
  const double by = QInputDialog::getDouble(this, tr("Turn %1").arg(QString::fromStdString(sheet.name)),
                                            tr("Degrees anticlockwise (minus: clockwise)"), 90, -360, 360, 3, &given);
  if (!given || by == 0) return;
  const plane::Vec2 about = project::boundsOf(sheet).centre();
  alter(tr("turn a sheet"), [&](project::SheetInfo& info) { info.placement = info.placement.turned(by, about); });
}

void SheetsDialog::showMarked() {
  if (refreshing_) return;
  refreshing_ = true;
  const project::PlanSheet* sheet = marked();
  const bool may = sheet && !workspace_.readOnly();
  for (QWidget* w : std::initializer_list<QWidget*>{opacity_, shown_, grey_, locked_, rename_, remove_})
    w->setEnabled(may);
  place_->setEnabled(may && !sheet->locked);
  turn_->setEnabled(may && !sheet->locked &&
                    (sheet->placedBy == project::PlacedBy::scale || sheet->placedBy == project::PlacedBy::lengths));
  crop_->setEnabled(may);
  whole_->setEnabled(may && sheet->crop);
  higher_->setEnabled(may && list_->currentRow() > 0);
  lower_->setEnabled(may && list_->currentRow() + 1 < list_->count());
  QStringList doubts;
  if (sheet) {
    for (const std::string& doubt : project::doubtsOf(*sheet)) doubts << QString::fromStdString(doubt);
    shown_->setChecked(!sheet->hidden);
    grey_->setChecked(sheet->grey);
    locked_->setChecked(sheet->locked);
    opacity_->setValue(static_cast<int>(std::lround(sheet->opacity * 100)));
    says_->setText(tr("%1, page %2. Placed %3: %4.")
                       .arg(QString::fromStdString(sheet->file))
                       .arg(sheet->page)
                       .arg(placedText(sheet->placedBy), QString::fromStdString(project::scaleText(*sheet))));
  } else {
    says_->setText(
        tr("No plan sheet yet. Bring in a PDF or a scan: it lies over the ground, to read and to take lines "
           "and levels from."));
  }
  doubts_->setText(doubts.join("\n"));
  refreshing_ = false;
}

}  // namespace inselberg::app
