#include "ledger/ledger_panel.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QProgressBar>
#include <QTableWidget>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "base/quantity.h"
#include "project/retold.h"
#include "theme/theme.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

QString figure(double v, int decimals = 0) {
  return QString::fromStdString(formatNumber(v, decimals));
}

// A volume and an area as they are told, without their units.
QString volume(double v, const Measures& measures) {
  return QString::fromStdString(shownNumber(v, Quantity::volume, measures));
}
QString area(double v, const Measures& measures) {
  return QString::fromStdString(shownNumber(v, Quantity::area, measures));
}

// A change against the baseline, in words.
QString change(double now, double before, const Measures& measures) {
  const QString amount = volume(std::abs(now - before), measures);
  if (inUnit(std::abs(now - before), Quantity::volume, measures) < measures.roundTo / 2) return QObject::tr("as kept");
  return (now > before ? QObject::tr("%1 more") : QObject::tr("%1 less")).arg(amount);
}

// The level a works is known by, where it has one.
QString levelOf(const report::LedgerRow& row) {
  for (const works::Figure& f : row.figures) {
    if (f.measure == works::Measure::level) return lengths::number(f.value, 3);
  }
  return {};
}

}  // namespace

LedgerPanel::LedgerPanel(Workspace& workspace, ViewState& state, QWidget* parent)
    : QWidget(parent), workspace_(workspace), state_(state) {
  setObjectName("ledgerBar");
  setAttribute(Qt::WA_StyledBackground);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(0);
  makeTable(*layout);
  makeBar(*layout);
  connect(&workspace_, &Workspace::quantitiesTaken, this, [this] {
    if (isOpen()) refresh();
  });
  slow_ = new QTimer(this);
  slow_->setSingleShot(true);
  slow_->setInterval(300);
  connect(slow_, &QTimer::timeout, this, [this] {
    progress_->show();
    stop_->show();
  });
  connect(&workspace_, &Workspace::busy, this, [this](const QString& stage, double fraction) {
    if (fraction < 0) {
      slow_->stop();
      progress_->hide();
      stop_->hide();
      return;
    }
    progress_->setToolTip(stage);
    if (!progress_->isVisible() && !slow_->isActive()) slow_->start();
  });
  connect(stop_, &QToolButton::clicked, this, [this] { workspace_.cancel(); });
  connect(pull_, &QToolButton::clicked, this, [this] { setOpen(!isOpen()); });
  connect(strip_, &QToolButton::clicked, this, [this] {
    const project::Evaluation& e = *workspace_.evaluation();
    for (const project::Seam& seam : e.seams) {
      if (seam.counted && e.project->ground(seam.to)->role == project::Role::stripped) return light(Lit::all, seam);
    }
  });
  connect(cut_, &QToolButton::clicked, this, [this] { light(Lit::cut); });
  connect(fill_, &QToolButton::clicked, this, [this] { light(Lit::fill); });
  connect(surplus_, &QToolButton::clicked, this, [this] { light(Lit::all); });
  connect(doubts_, &QToolButton::clicked, this, &LedgerPanel::doubtsWanted);
  connect(table_, &QTableWidget::cellClicked, this, [this](int row, int column) {
    if (row >= static_cast<int>(rows_.size())) return;
    const report::LedgerRow& told = rows_[static_cast<std::size_t>(row)];
    asked_ = row;
    tellHow();
    if (told.kind == report::LedgerRow::Kind::works) workspace_.chooseWorks(WorksId{told.id});
    if (column != 1 && column != 2) return;
    const Lit part = column == 1 ? Lit::cut : Lit::fill;
    told.kind == report::LedgerRow::Kind::works ? light(part) : light(part, told.between);
  });
  for (const auto signal : {&Workspace::projectChanged, &Workspace::evaluationChanged}) {
    connect(&workspace_, signal, this, [this] {
      refresh();
      refreshReadout();
    });
  }
  connect(&state_, &ViewState::pointed, this, &LedgerPanel::refreshReadout);
  connect(&state_, &ViewState::changed, this, &LedgerPanel::refreshReadout);
  connect(&workspace_, &Workspace::fileChanged, this, [this] {
    if (baseline_ && workspace_.project()->sources.empty()) toggleBaseline();
  });
  refresh();
  refreshReadout();
}

void LedgerPanel::makeBar(QBoxLayout& layout) {
  auto* bar = new QHBoxLayout;
  bar->setContentsMargins(6, 2, 10, 2);
  bar->setSpacing(2);
  const auto button = [&](const char* name, const QString& tip, const char* tone) {
    auto* b = new QToolButton(this);
    b->setObjectName(name);
    b->setToolTip(tip);
    b->setProperty("tone", tone);
    bar->addWidget(b);
    return b;
  };
  pull_ = new QToolButton(this);
  pull_->setObjectName("ledgerPull");
  pull_->setArrowType(Qt::UpArrow);
  pull_->setText(tr("Ledger"));
  pull_->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
  pull_->setToolTip(tr("Pull the full table up, or let it down (L)"));
  bar->addWidget(pull_);
  strip_ = button("ledgerStrip", tr("Topsoil, in the ground; click to see its thickness on the plan"), "strip");
  cut_ = button("ledgerCut", tr("Click to light up on the plan where this is cut"), "cut");
  fill_ = button("ledgerFill", tr("Click to light up on the plan where this is filled"), "fill");
  surplus_ = button("ledgerSurplus", tr("Click to see the depths of cut and fill on the plan"), "ink");
  unmeasured_ = new QLabel(this);
  unmeasured_->setObjectName("ledgerUnmeasured");
  unmeasured_->setProperty("tone", "error");
  unmeasured_->setToolTip(tr("Area that one of the grounds does not cover: no figure speaks of it"));
  unmeasured_->hide();
  bar->addWidget(unmeasured_);
  doubts_ = button("ledgerDoubts", tr("What a careful checker would question; click to list"), "ink");
  progress_ = new QProgressBar(this);
  progress_->setRange(0, 0);
  progress_->setFixedWidth(110);
  progress_->setTextVisible(false);
  stop_ = new QToolButton(this);
  stop_->setText(tr("Stop"));
  stop_->setToolTip(tr("Stop computing; what is on the screen stays"));
  bar->addSpacing(8);
  bar->addWidget(progress_);
  bar->addWidget(stop_);
  progress_->hide();
  stop_->hide();
  bar->addSpacing(12);
  readout_ = new QLabel(this);
  readout_->setObjectName("readout");
  readout_->setTextFormat(Qt::RichText);
  readout_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  readout_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
  bar->addWidget(readout_, 1);
  layout.addLayout(bar);
}

// The full table, and below it how the figures of a row were made.
void LedgerPanel::makeTable(QBoxLayout& layout) {
  table_ = new QTableWidget(this);
  table_->setObjectName("ledgerTable");
  table_->setFixedHeight(176);
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  table_->verticalHeader()->hide();
  table_->verticalHeader()->setDefaultSectionSize(24);
  table_->setShowGrid(false);
  table_->setAlternatingRowColors(false);
  table_->hide();
  layout.addWidget(table_);
  how_ = new QLabel(this);
  how_->setObjectName("ledgerHow");
  how_->setProperty("quiet", true);
  how_->setWordWrap(true);
  how_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  how_->setContentsMargins(10, 3, 10, 3);
  how_->hide();
  layout.addWidget(how_);
}

bool LedgerPanel::isOpen() const {
  return table_->isVisibleTo(this);
}

void LedgerPanel::setOpen(bool open) {
  if (open == isOpen()) return;
  table_->setVisible(open);
  pull_->setArrowType(open ? Qt::DownArrow : Qt::UpArrow);
  refresh();
  Q_EMIT openChanged(open);
}

void LedgerPanel::tellHow() {
  const bool tells = isOpen() && asked_ >= 0 && asked_ < static_cast<int>(rows_.size());
  how_->setVisible(tells);
  if (tells)
    how_->setText(
        QString::fromStdString(report::howText(*workspace_.evaluation(), rows_[static_cast<std::size_t>(asked_)])));
}

void LedgerPanel::toggleBaseline() {
  if (baseline_) {
    baseline_.reset();
  } else {
    baseline_ = report::keptOf(*workspace_.evaluation());
    names_ = workspace_.evaluation()->project;
  }
  refresh();
  Q_EMIT baselineChanged(baseline_.has_value());
}

void LedgerPanel::compareWith(project::KeptResult kept) {
  baseline_ = std::move(kept);
  names_ = workspace_.project();
  setOpen(true);
  refresh();
  Q_EMIT baselineChanged(true);
}

void LedgerPanel::refresh() {
  if (const auto& told = workspace_.evaluation()->project; baseline_ && names_ != told) {
    baseline_ = project::retold(std::move(*baseline_), *names_, *told);
    names_ = told;
  }
  const report::Ledger ledger = report::ledgerOf(*workspace_.evaluation());
  const bool fresh = ledger.whole && workspace_.evaluation()->project == workspace_.project();
  const double cut = ledger.earthCut(), fill = ledger.earthFill();
  const Measures& measures = workspace_.project()->measures;
  strip_->setText(tr("Strip %1").arg(volume(ledger.strip, measures)));
  strip_->setVisible(workspace_.project()->withRole(project::Role::stripped) != nullptr);
  const auto sum = [&](double v) { return ledger.whole ? volume(v, measures) : QStringLiteral("–"); };
  cut_->setText(tr("Cut %1").arg(sum(cut)));
  fill_->setText(tr("Fill %1").arg(sum(fill)));
  QString surplus = QString::fromStdString(report::surplusText(cut, fill, measures));
  surplus[0] = surplus[0].toUpper();
  if (baseline_)
    surplus += tr("  (cut %1, fill %2)")
                   .arg(change(ledger.cut, baseline_->cut, measures), change(ledger.fill, baseline_->fill, measures));
  surplus_->setText(surplus);
  for (QToolButton* b : {strip_, cut_, fill_, surplus_}) b->setEnabled(fresh);
  if (!ledger.whole)
    surplus_->setText(workspace_.project()->sources.empty() ? tr("nothing to measure yet") : tr("measuring…"));
  const std::string unmeasured = report::unmeasuredText(ledger.unmeasured, measures);
  unmeasured_->setText(QString::fromStdString(unmeasured));
  unmeasured_->setVisible(!unmeasured.empty());
  unmeasured_->setEnabled(fresh);
  doubts_->setText(tr("Doubts %1").arg(ledger.doubts));
  doubts_->setEnabled(ledger.doubts > 0);
  if (isOpen()) fillTable(ledger);
  tellHow();
}

QStringList LedgerPanel::cellsOf(const report::LedgerRow& row, const report::Quantities* quantities) const {
  const Measures& measures = workspace_.project()->measures;
  const bool works = row.kind == report::LedgerRow::Kind::works;
  const quantity::Volume& v = row.volume;
  QString name = QString::fromStdString(row.name);
  if (works) name.prepend("    ");
  if (!works && !row.between.counted) name += tr(", beside the total");
  QStringList cells{name};
  if (row.known) {
    cells << volume(v.cut, measures) << volume(v.fill, measures)
          << QString::fromStdString(report::surplusText(v.cut, v.fill, measures)) << area(v.cutArea, measures)
          << area(v.fillArea, measures) << lengths::number(v.maxCut, 2) << lengths::number(v.maxFill, 2) << levelOf(row)
          << (report::unmeasuredText(v.unmeasured()).empty() ? QString() : area(v.unmeasured(), measures));
  } else {
    while (cells.size() < 10) cells << QStringLiteral("–");
  }
  if (baseline_) {
    const project::KeptFigure* before = nullptr;
    for (const project::KeptFigure& f : baseline_->figures) {
      if (works ? f.works == row.id : f.works == 0 && f.name == row.name) before = &f;
    }
    cells << (before && row.known ? change(v.cut, before->cut, measures) : tr("new"))
          << (before && row.known ? change(v.fill, before->fill, measures) : tr("new"));
  }
  return cells + detailOf(row, quantities);
}

// How sure its volumes are, and what of them lies in each region: "cut / fill".
QStringList LedgerPanel::detailOf(const report::LedgerRow& row, const report::Quantities* quantities) const {
  const project::Stages& stages = workspace_.project()->stages;
  const Measures& measures = workspace_.project()->measures;
  const bool works = row.kind == report::LedgerRow::Kind::works;
  const auto among = [&](const std::vector<report::Measured>& list) -> const report::Measured* {
    for (const report::Measured& m : list) {
      if (works ? m.works == row.id : m.works == 0 && m.name == row.name) return &m;
    }
    return nullptr;
  };
  const auto pair = [&](double cut, double fill) { return volume(cut, measures) + " / " + volume(fill, measures); };
  QStringList cells;
  if (!stages.accuracy.empty()) {
    const report::Measured* m = quantities ? among(quantities->sure) : nullptr;
    cells << (m && m->sure ? pair(m->sure->cut, m->sure->fill) : QString());
  }
  for (std::size_t k = 0; !stages.regions.empty() && k <= stages.regions.size(); ++k) {
    const report::Measured* m = nullptr;
    if (quantities && k < quantities->regions.size())
      m = among(works ? quantities->regions[k].works : quantities->regions[k].seams);
    cells << (m ? pair(m->volume.cut, m->volume.fill) : quantities ? QString() : tr("…"));
  }
  return cells;
}

void LedgerPanel::fillTable(const report::Ledger& ledger) {
  rows_ = ledger.rows;
  const project::Project& project = *workspace_.project();
  const auto in = [&](const QString& what, Quantity quantity) {
    return what + " " + unitOf(quantity, project.measures);
  };
  QStringList headings{QString(),
                       in(tr("Cut"), Quantity::volume),
                       in(tr("Fill"), Quantity::volume),
                       tr("Surplus"),
                       in(tr("Cut"), Quantity::area),
                       in(tr("Fill"), Quantity::area),
                       in(tr("Deepest cut"), Quantity::length),
                       in(tr("Highest fill"), Quantity::length),
                       in(tr("Level"), Quantity::length),
                       in(tr("Not measured"), Quantity::area)};
  if (baseline_) headings << tr("Cut, kept") << tr("Fill, kept");
  const bool detailed = !project.stages.accuracy.empty() || !project.stages.regions.empty();
  const auto quantities = detailed ? workspace_.quantities() : nullptr;
  if (!project.stages.accuracy.empty()) headings << tr("±");
  for (const project::Region& region : project.stages.regions) headings << QString::fromStdString(region.name);
  if (!project.stages.regions.empty()) headings << QString::fromStdString(report::kElsewhere);
  table_->setColumnCount(static_cast<int>(headings.size()));
  table_->setHorizontalHeaderLabels(headings);
  table_->setRowCount(static_cast<int>(ledger.rows.size()));
  for (int i = 0; i < table_->rowCount(); ++i) {
    const report::LedgerRow& row = ledger.rows[static_cast<std::size_t>(i)];
    const bool works = row.kind == report::LedgerRow::Kind::works;
    const bool counted = !works && row.between.counted;
    const quantity::Volume& v = row.volume;
    const QStringList cells = cellsOf(row, quantities.get());
    for (int c = 0; c < cells.size(); ++c) {
      auto* item = new QTableWidgetItem(cells[c]);
      item->setTextAlignment((c == 0 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
      if (!works && !counted) item->setForeground(theme::muted());
      if (counted) {
        QFont bold = table_->font();
        bold.setBold(true);
        item->setFont(bold);
      }
      if (row.known && (works || counted) && (c == 1 || c == 2)) {
        item->setForeground(theme::written(c == 1 ? theme::cut() : theme::fill()));
        item->setToolTip(figure(inUnit(c == 1 ? v.cut : v.fill, Quantity::volume, project.measures), 6));
      }
      if (c == 9) item->setForeground(theme::error());
      table_->setItem(i, c, item);
    }
  }
  table_->setColumnHidden(9, std::none_of(ledger.rows.begin(), ledger.rows.end(), [](const report::LedgerRow& row) {
                            return row.known && !report::unmeasuredText(row.volume.unmeasured()).empty();
                          }));
  table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
}

void LedgerPanel::light(Lit part, std::optional<project::Between> between) {
  const Shown& shown = state_.shown();
  const bool again = shown.mode == PlanMode::depth && shown.lit == part && shown.compared == between;
  again ? state_.hideDepths() : state_.showDepths(part, between);
}

void LedgerPanel::refreshReadout() {
  const project::Project& project = *workspace_.project();
  if (!state_.pointer() || !project.hasOrigin) {
    readout_->setText(QStringLiteral("<span style='color:%1'>%2</span>").arg(theme::muted().name(), tr("E –   N –")));
    return;
  }
  const auto& e = *workspace_.evaluation();
  QStringList parts;
  const QString key = QStringLiteral("<span style='color:%1'>%2</span>&nbsp;%3");
  const auto part = [&](const QString& name, const QString& value) {
    parts << key.arg(theme::muted().name(), name, value);
  };
  part(tr("E"), figure(project.origin.easting + state_.pointer()->x, 2));
  part(tr("N"), figure(project.origin.northing + state_.pointer()->y, 2));
  // The depth between what is compared, else from the surveyed to the finished ground.
  const project::Between between =
      state_.shown().compared.value_or(project::Between{project.surveyed(), project.finished()});
  std::optional<double> first, last;
  // What was evaluated last may have other grounds than the project has now.
  for (const project::GroundPtr& ground : project.column) {
    const GroundId id = ground->id;
    const auto* known = e.ground(id);
    const auto level = known ? known->levelAt(*state_.pointer()) : std::nullopt;
    // There is room for three; a section tells them all.
    if (project.column.size() <= 3 || id == between.from || id == between.to || id == workspace_.chosenGround())
      part(QString::fromStdString(ground->name), level ? lengths::number(*level, 3) : QStringLiteral("–"));
    if (id == between.from) first = level;
    if (id == between.to) last = level;
  }
  if (first && last) {
    const double d = *last - *first;
    const QString colour =
        (std::abs(d) < 5e-4 ? theme::muted() : theme::written(d < 0 ? theme::cut() : theme::fill())).name();
    parts << QStringLiteral("<span style='color:%1'>%2&nbsp;%3</span>")
                 .arg(colour,
                      std::abs(d) < 5e-4 ? tr("depth")
                      : d < 0            ? tr("cut")
                                         : tr("fill"),
                      lengths::number(std::abs(d), 3));
  }
  if (!e.grounds.empty()) {
    const auto& shown = e.ground(workspace_.chosenGround()) ? *e.ground(workspace_.chosenGround()) : e.grounds.back();
    const ground::Tin* tin = shown.pending && shown.pending->locate(*state_.pointer()) != ground::kNone
                                 ? shown.pending.get()
                                 : shown.tin.get();
    const auto t = tin ? tin->locate(*state_.pointer()) : ground::kNone;
    if (t != ground::kNone)
      part(tr("slope"), figure(100 * plane::norm(ground::planeOf(tin->corners(t)).gradient), 1) + " %");
  }
  readout_->setText(parts.join("&nbsp;&nbsp; "));
}

}  // namespace inselberg::app
