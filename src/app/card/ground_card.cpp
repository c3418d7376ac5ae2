#include "card/ground_card.h"

#include <QCheckBox>
#include <QColorDialog>
#include <QComboBox>
#include <QDialog>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPixmap>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>

#include "base/error.h"
#include "base/quantity.h"
#include "base/visitor.h"
#include "card/quantity_edit.h"
#include "card/rows.h"
#include "ground/check.h"
#include "project/gaps.h"
#include "theme/theme.h"
#include "workspace/lengths.h"

namespace inselberg::app {

GroundCard::GroundCard(Workspace& workspace, QWidget* parent) : QWidget(parent), workspace_(workspace) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(8);
  makeFigures(*layout);
  makeSources(*layout);
  makeDoubts(*layout);
  connectSources();
  connectRules();
}

void GroundCard::makeFigures(QVBoxLayout& layout) {
  makeName(layout);
  problem_ = new QLabel(this);
  problem_->setProperty("quiet", true);
  problem_->setWordWrap(true);
  layout.addWidget(problem_);

  figures_ = new QWidget(this);
  auto* form = new QFormLayout(figures_);
  form->setContentsMargins(0, 0, 0, 0);
  form->setVerticalSpacing(3);
  levels_ = addFigure(*form, tr("Levels"));
  planArea_ = addFigure(*form, tr("Plan area"));
  surfaceArea_ = addFigure(*form, tr("Surface area"));
  points_ = addFigure(*form, tr("Points"));
  triangles_ = addFigure(*form, tr("Triangles"));
  layout.addWidget(figures_);
}

void GroundCard::makeName(QVBoxLayout& layout) {
  name_ = new QLineEdit(this);
  name_->setObjectName("groundName");
  name_->setToolTip(tr("The name of the ground, here and wherever it is told"));
  QFont bold = name_->font();
  bold.setBold(true);
  name_->setFont(bold);
  layout.addWidget(name_);
  connect(name_, &QLineEdit::editingFinished, this, &GroundCard::rename);
}

void GroundCard::rename() {
  const project::Project& project = *workspace_.project();
  const auto* ground = project.ground(workspace_.chosenGround());
  if (!ground || !name_->isModified() || workspace_.readOnly()) return;
  name_->setModified(false);
  const std::string typed = name_->text().trimmed().toStdString();
  try {
    if (typed != ground->name)
      workspace_.commit(project::withGroundNamed(project, ground->id, typed),
                        tr("rename %1").arg(QString::fromStdString(ground->name)));
  } catch (const Error& e) {
    Q_EMIT workspace_.message(QString::fromUtf8(e.what()), true);
  }
  refresh();
}

// The grounds that it is made of, to choose others.
void GroundCard::makeMadeOf(QVBoxLayout& layout) {
  madeOfRow_ = new QWidget(this);
  auto* form = new QFormLayout(madeOfRow_);
  form->setContentsMargins(0, 0, 0, 0);
  for (int k = 0; k < 2; ++k) {
    auto* box = new QComboBox(madeOfRow_);
    box->setObjectName(QString("madeOf%1").arg(k));
    form->addRow(k == 0 ? tr("Made of") : tr("and"), box);
    madeOf_.push_back(box);
    connect(box, &QComboBox::activated, this, &GroundCard::takeMadeOf);
  }
  layout.addWidget(madeOfRow_);
}

namespace {

// What it is made of, where that may be chosen.
std::vector<GroundId> chosenOf(const project::Ground& recipe) {
  if (const auto* on = std::get_if<project::OnGround>(&recipe.base)) return {on->ground};
  if (const auto* derived = std::get_if<project::Derived>(&recipe.base)) return derived->of;
  return {};
}

}  // namespace

void GroundCard::showMadeOf(const project::Ground& recipe) {
  const std::vector<GroundId> of = chosenOf(recipe);
  madeOfRow_->setVisible(!of.empty() && of.size() <= madeOf_.size());
  auto* form = static_cast<QFormLayout*>(madeOfRow_->layout());
  for (std::size_t k = 0; k < madeOf_.size(); ++k) {
    QComboBox& box = *madeOf_[k];
    form->setRowVisible(&box, k < of.size());
    box.setEnabled(!workspace_.readOnly());
    box.clear();
    for (const auto& ground : workspace_.project()->column) {
      if (ground->id != recipe.id)
        box.addItem(QString::fromStdString(ground->name), QVariant::fromValue<qulonglong>(ground->id.value));
    }
    if (k < of.size()) box.setCurrentIndex(box.findData(QVariant::fromValue<qulonglong>(of[k].value)));
  }
}

void GroundCard::takeMadeOf() {
  const auto* recipe = workspace_.project()->ground(workspace_.chosenGround());
  if (!recipe) return;
  std::vector<GroundId> of = chosenOf(*recipe);
  for (std::size_t k = 0; k < of.size() && k < madeOf_.size(); ++k)
    of[k] = GroundId{madeOf_[k]->currentData().toULongLong()};
  if (of == chosenOf(*recipe)) return;
  try {
    workspace_.commit(project::withMadeOf(*workspace_.project(), recipe->id, std::move(of)),
                      tr("make %1 of another ground").arg(QString::fromStdString(recipe->name)));
  } catch (const Error& e) {
    Q_EMIT workspace_.message(QString::fromUtf8(e.what()), true);
    showMadeOf(*recipe);
  }
}

// What a ground beside the stages is there for.
void GroundCard::makeRole(QVBoxLayout& layout) {
  roleRow_ = new QWidget(this);
  auto* form = new QFormLayout(roleRow_);
  form->setContentsMargins(0, 0, 0, 0);
  role_ = new QComboBox(roleRow_);
  role_->setObjectName("groundRole");
  using project::Role;
  for (const auto& [role, text] : {std::pair{Role::other, tr("for comparing")},
                                   {Role::interim, tr("a stage between")},
                                   {Role::asBuilt, tr("an as-built survey")}})
    role_->addItem(text, static_cast<int>(role));
  role_->setToolTip(tr("As-built surveys are told in the quantities: what is done, and what is left to do"));
  form->addRow(tr("It is"), role_);
  layout.addWidget(roleRow_);
  connect(role_, &QComboBox::activated, this, [this](int row) {
    const GroundId id = workspace_.chosenGround();
    const auto role = static_cast<project::Role>(role_->itemData(row).toInt());
    const project::Ground* ground = workspace_.project()->ground(id);
    if (!ground || project::isStage(ground->role) || ground->role == role) return;
    workspace_.commit(project::withRoleOf(*workspace_.project(), id, role),
                      tr("change what %1 is for").arg(QString::fromStdString(ground->name)));
  });
}

void GroundCard::makeSources(QVBoxLayout& layout) {
  sourcesBox_ = new QWidget(this);
  auto* box = new QVBoxLayout(sourcesBox_);
  box->setContentsMargins(0, 0, 0, 0);
  box->setSpacing(5);
  box->addWidget(ruleLine(this));
  box->addWidget(new QLabel(tr("Built from"), this));
  sources_ = new QListWidget(this);
  sources_->setObjectName("sources");
  sources_->setFixedHeight(78);
  box->addWidget(sources_);
  makeSourceButtons(*box);
  makeRules(*box);
  layout.addWidget(sourcesBox_);
}

void GroundCard::makeSourceButtons(QVBoxLayout& box) {
  auto* ofSource = new QHBoxLayout;
  report_ = new QPushButton(tr("Report"), this);
  report_->setObjectName("sourceReport");
  report_->setToolTip(tr("What came in from the file of the marked source, and what did not"));
  again_ = new QPushButton(tr("Again…"), this);
  again_->setObjectName("sourceAgain");
  again_->setToolTip(tr("Bring in the file of the marked source again, when it has changed"));
  removeSource_ = new QPushButton(tr("Take out"), this);
  removeSource_->setToolTip(tr("Take the marked source out of the project"));
  for (QPushButton* button : {report_, again_, removeSource_}) {
    button->setEnabled(false);
    ofSource->addWidget(button);
  }
  box.addLayout(ofSource);
  auto* looks = new QHBoxLayout;
  shown_ = new QCheckBox(tr("Shown"), this);
  shown_->setObjectName("sourceShown");
  shown_->setToolTip(tr("Whether the plan shows it; it takes part in the ground all the same"));
  locked_ = new QCheckBox(tr("Locked"), this);
  locked_->setObjectName("sourceLocked");
  locked_->setToolTip(tr("A locked source is not changed by hand"));
  colour_ = new QPushButton(this);
  colour_->setObjectName("sourceColour");
  colour_->setToolTip(tr("Its colour on the plan"));
  up_ = new QPushButton(tr("▲"), this);
  up_->setObjectName("sourceUp");
  down_ = new QPushButton(tr("▼"), this);
  down_->setObjectName("sourceDown");
  up_->setToolTip(tr("Earlier: what comes later rules over it"));
  down_->setToolTip(tr("Later: it rules over what comes before"));
  for (QPushButton* b : {colour_, up_, down_}) b->setFixedWidth(27);
  looks->setSpacing(3);
  looks->addWidget(shown_);
  looks->addWidget(locked_);
  looks->addStretch(1);
  for (QPushButton* b : {colour_, up_, down_}) looks->addWidget(b);
  box.addLayout(looks);
}

void GroundCard::makeRules(QVBoxLayout& box) {
  auto* rules = new QFormLayout;
  rules->setVerticalSpacing(5);
  duplicates_ = new QComboBox(this);
  for (const QString& rule : {tr("first"), tr("last"), tr("mean"), tr("highest"), tr("lowest")})
    duplicates_->addItem(rule);
  duplicates_->setToolTip(tr("Which level counts where points in one place disagree"));
  rules->addRow(tr("Duplicates"), duplicates_);
  maxEdge_ = new QuantityEdit({.name = "max_edge",
                               .label = "Longest edge",
                               .meaning = "Triangles at the border with a longer side are trimmed; 0 trims none. Not "
                                          "used where there is a boundary.",
                               .measure = works::Measure::length,
                               .least = 0,
                               .step = 5},
                              this);
  rules->addRow(tr("Longest edge"), maxEdge_);
  cureFlats_ = new QCheckBox(tr("Cure flats between contours"), this);
  cureFlats_->setObjectName("cureFlats");
  cureFlats_->setToolTip(
      tr("Where triangles join three points of one contour, points are added along the ridge or valley between"));
  rules->addRow(cureFlats_);
  box.addLayout(rules);
}

void GroundCard::makeDoubts(QVBoxLayout& layout) {
  onGround_ = new QLabel(this);
  onGround_->setProperty("quiet", true);
  onGround_->setWordWrap(true);
  layout.addWidget(onGround_);
  makeMadeOf(layout);
  makeRole(layout);

  doubtsHeading_ = new QLabel(this);
  layout.addWidget(doubtsHeading_);
  doubts_ = new QListWidget(this);
  doubts_->setObjectName("doubts");
  doubts_->setWordWrap(true);
  doubts_->setSpacing(2);
  doubts_->setMinimumHeight(90);
  layout.addWidget(doubts_, 1);
  doubtsBar_ = new QWidget(this);
  auto* doubtsRow = new QHBoxLayout(doubtsBar_);
  doubtsRow->setContentsMargins(0, 0, 0, 0);
  cure_ = new QPushButton(tr("Cure"), this);
  cure_->setObjectName("cureDoubt");
  accept_ = new QPushButton(tr("Accept…"), this);
  accept_->setObjectName("acceptDoubt");
  accept_->setToolTip(tr("Leave it as it is, with a reason that is kept"));
  doubtsRow->addWidget(cure_, 1);
  doubtsRow->addWidget(accept_, 1);
  layout.addWidget(doubtsBar_);
  layout.addStretch(0);
}

void GroundCard::connectSources() {
  connect(sources_, &QListWidget::currentRowChanged, this, &GroundCard::refreshSourceButtons);
  connect(sources_, &QListWidget::itemChanged, this, &GroundCard::takePart);
  connect(shown_, &QCheckBox::clicked, this, [this](bool on) {
    changeInfo([on](project::SourceInfo& info) { info.hidden = !on; }, on ? tr("show a source") : tr("hide a source"));
  });
  connect(locked_, &QCheckBox::clicked, this, [this](bool on) {
    changeInfo([on](project::SourceInfo& info) { info.locked = on; }, on ? tr("lock a source") : tr("unlock a source"));
  });
  connect(colour_, &QPushButton::clicked, this, [this] {
    const auto* source = markedSource();
    if (!source) return;
    const QColor now = source->colour.empty() ? theme::ink() : QColor(QString::fromStdString(source->colour));
    const QColor chosen =
        QColorDialog::getColor(now, this, tr("Colour of %1").arg(QString::fromStdString(source->name)));
    if (chosen.isValid())
      changeInfo([&](project::SourceInfo& info) { info.colour = chosen.name().toStdString(); }, tr("colour a source"));
  });
  connect(up_, &QPushButton::clicked, this, [this] { moveSource(-1); });
  connect(down_, &QPushButton::clicked, this, [this] { moveSource(1); });
  connect(report_, &QPushButton::clicked, this, &GroundCard::showReport);
  connect(again_, &QPushButton::clicked, this, [this] {
    if (const auto* source = markedSource()) Q_EMIT importWanted(QString::fromStdString(source->file));
  });
  connect(cureFlats_, &QCheckBox::clicked, this, [this](bool on) {
    setRules([on](ground::BuildRules& r) { r.cureFlats = on; }, on ? tr("cure flats") : tr("leave flats"));
  });
  connect(removeSource_, &QPushButton::clicked, this, [this] {
    const auto* item = sources_->currentItem();
    if (!item) return;
    const SourceId id{item->data(Qt::UserRole).toULongLong()};
    workspace_.commit(project::withoutSource(*workspace_.project(), id), tr("take out %1").arg(item->text()));
  });
}

void GroundCard::connectRules() {
  connect(duplicates_, &QComboBox::activated, this, [this](int index) {
    setRules([index](ground::BuildRules& r) { r.duplicates = static_cast<ground::DuplicateRule>(index); },
             tr("change the rule for duplicates"));
  });
  connect(maxEdge_, &QuantityEdit::edited, this, [this](double metres) {
    setRules([metres](ground::BuildRules& r) { r.maxEdge = metres; }, tr("change the longest edge"));
  });
  connect(maxEdge_, &QuantityEdit::refused, this, [this](const QString& why) { Q_EMIT workspace_.message(why, true); });
  connect(doubts_, &QListWidget::itemClicked, this, [this] {
    if (const auto* doubt = markedDoubt()) Q_EMIT placeWanted(doubt->where);
  });
  connect(doubts_, &QListWidget::currentRowChanged, this, &GroundCard::refreshDoubtButtons);
  connect(cure_, &QPushButton::clicked, this, &GroundCard::cureDoubt);
  connect(accept_, &QPushButton::clicked, this, &GroundCard::acceptDoubt);
}

const ground::Doubt* GroundCard::markedDoubt() const {
  const auto* item = doubts_->currentItem();
  const auto* ground = workspace_.evaluation()->ground(workspace_.chosenGround());
  if (!item || !ground || !item->data(Qt::UserRole).isValid()) return nullptr;
  const auto index = item->data(Qt::UserRole).toULongLong();
  return index < ground->doubts.size() ? &ground->doubts[index] : nullptr;
}

namespace {

// What takes a doubt away at a press; empty when that needs a look first.
QString cureOf(const ground::Doubt& doubt) {
  using Kind = ground::DoubtKind;
  switch (doubt.kind) {
    case Kind::spike:
    case Kind::zeroLevel:
      return GroundCard::tr("Delete the point");
    case Kind::flats:
      return GroundCard::tr("Cure the flats");
    case Kind::borderSlivers:
      return GroundCard::tr("Trim the border");
    case Kind::mendLost:
      return GroundCard::tr("Drop the mend");
    case Kind::hole:
      return GroundCard::tr("Fill the hole");
    case Kind::contourLevel:
      if (doubt.level) return GroundCard::tr("Set it to %1").arg(lengths::number(*doubt.level, 3));
      break;
    case Kind::duplicateLevels:
    case Kind::breaklineCrossing:
    case Kind::contourCrossing:
    case Kind::pointsOutside:
    case Kind::oddExtent:
    case Kind::sourcesOverlap:
    case Kind::facesOverlap:
    case Kind::noDaylight:
    case Kind::outsideGround:
    case Kind::boundaryOutside:
    case Kind::notPlaced:
    case Kind::notReached:
    case Kind::beyondSite:
    case Kind::worksOverlap:
    case Kind::holdsWater:
    case Kind::overfull:
    case Kind::tieLost:
    case Kind::tooSteep:
    case Kind::notDraining:
    case Kind::joinedSteeply:
    case Kind::fallsToBuilding:
    case Kind::freeboardShort:
    case Kind::storageShort:
    case Kind::stepAtJoint:
    case Kind::stripsOverlap:
    case Kind::regionsOverlap:
    case Kind::topOrFormation:
      break;
    case Kind::gap:
      return GroundCard::tr("Fill the gap");
  }
  return {};
}

}  // namespace

void GroundCard::refreshDoubtButtons() {
  const auto* doubt = markedDoubt();
  const auto* ground = workspace_.project()->ground(workspace_.chosenGround());
  const bool editable = doubt && !workspace_.readOnly() && workspace_.upToDate();
  const bool fromSources = ground && std::holds_alternative<project::FromSources>(ground->base);
  const QString cure = doubt ? cureOf(*doubt) : QString();
  cure_->setText(cure.isEmpty() ? tr("Cure") : cure);
  cure_->setEnabled(editable && (fromSources || doubt->kind == ground::DoubtKind::gap) && !cure.isEmpty());
  accept_->setText(doubt && workspace_.project()->acceptance(*doubt) ? tr("Doubt again") : tr("Accept…"));
  accept_->setEnabled(editable);
}

void GroundCard::cureDoubt() {
  const auto* marked = markedDoubt();
  if (!marked) return;
  const ground::Doubt doubt = *marked;
  const GroundId id = workspace_.chosenGround();
  const project::Project& project = *workspace_.project();
  using Kind = ground::DoubtKind;
  if (doubt.kind == Kind::gap) {
    workspace_.commit(project::withGapsFilled(project, *workspace_.evaluation()->ground(id), doubt.where),
                      tr("fill a gap"));
  } else if (doubt.kind == Kind::flats) {
    setRules([](ground::BuildRules& r) { r.cureFlats = true; }, tr("cure flats"));
  } else if (doubt.kind == Kind::borderSlivers) {
    const double edge = ground::proposedMaxEdge(*workspace_.evaluation()->ground(id)->tin);
    setRules([edge](ground::BuildRules& r) { r.maxEdge = edge; }, tr("trim the border"));
  } else if (doubt.kind == Kind::mendLost) {
    workspace_.commit(project::withoutMend(project, id, doubt.where, 1e-3), tr("drop a mend"));
  } else if (doubt.kind == Kind::hole) {
    workspace_.commit(project::withMend(project, id, ground::FillHole{doubt.where}), tr("fill a hole"));
  } else if (doubt.kind == Kind::contourLevel) {
    const auto contours = project::contoursAt(project, id, doubt.where);
    workspace_.commit(project::withShapes(project, contours,
                                          [level = doubt.level.value_or(0)](ground::Breakline line) {
                                            for (auto& v : line.vertices) v.z = level;
                                            return line;
                                          }),
                      tr("set the level of a contour"));
  } else {
    workspace_.commit(project::withMend(project, id, ground::DeletePoint{doubt.where}), tr("delete a point"));
  }
}

void GroundCard::acceptDoubt() {
  const auto* marked = markedDoubt();
  if (!marked) return;
  const ground::Doubt doubt = *marked;
  if (workspace_.project()->acceptance(doubt)) {
    workspace_.commit(project::withoutAccepted(*workspace_.project(), doubt), tr("doubt again"));
    return;
  }
  bool given = false;
  const QString reason =
      QInputDialog::getText(this, tr("Accept a doubt"), tr("Why it may stay as it is:"), QLineEdit::Normal, {}, &given);
  if (!given || reason.trimmed().isEmpty()) return;
  workspace_.commit(project::withAccepted(*workspace_.project(), doubt, reason.trimmed().toStdString()),
                    tr("accept a doubt"));
}

void GroundCard::setRules(const std::function<void(ground::BuildRules&)>& edit, const QString& what) {
  const auto* ground = workspace_.project()->ground(workspace_.chosenGround());
  const auto* base = ground ? std::get_if<project::FromSources>(&ground->base) : nullptr;
  if (!base || workspace_.readOnly()) return;
  ground::BuildRules rules = base->rules;
  edit(rules);
  workspace_.commit(project::withRules(*workspace_.project(), ground->id, rules), what);
}

const project::Source* GroundCard::markedSource() const {
  const auto* item = sources_->currentItem();
  return item ? workspace_.project()->source(SourceId{item->data(Qt::UserRole).toULongLong()}) : nullptr;
}

void GroundCard::showReport() {
  const auto* source = markedSource();
  if (!source) return;
  QDialog dialog(this);
  dialog.setObjectName("reportDialog");
  dialog.setWindowTitle(tr("Report of %1").arg(QString::fromStdString(source->name)));
  dialog.resize(560, 360);
  auto* layout = new QVBoxLayout(&dialog);
  auto* file = new QLabel(QString::fromStdString(source->file), &dialog);
  file->setProperty("quiet", true);
  file->setWordWrap(true);
  layout->addWidget(file);
  auto* lines = new QListWidget(&dialog);
  lines->setWordWrap(true);
  for (const std::string& line : source->report) lines->addItem(QString::fromStdString(line));
  layout->addWidget(lines);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, &dialog);
  connect(buttons, &QDialogButtonBox::rejected, &dialog, &QDialog::reject);
  layout->addWidget(buttons);
  dialog.exec();
}

void GroundCard::refreshSourceButtons() {
  const auto* source = markedSource();
  const bool write = source && !workspace_.readOnly();
  removeSource_->setEnabled(write);
  again_->setEnabled(write && !source->file.empty());
  report_->setEnabled(source && !source->report.empty());
  for (QWidget* w : std::initializer_list<QWidget*>{shown_, locked_, colour_}) w->setEnabled(write);
  shown_->setChecked(source && !source->hidden);
  locked_->setChecked(source && source->locked);
  const QColor colour =
      source && !source->colour.empty() ? QColor(QString::fromStdString(source->colour)) : theme::ink();
  QPixmap swatch(14, 14);
  swatch.fill(source ? colour : theme::rule());
  colour_->setIcon(QIcon(swatch));
  const auto* item = sources_->currentItem();
  const bool part = write && item && item->checkState() == Qt::Checked;
  up_->setEnabled(part && sources_->currentRow() > 0);
  const auto* next = sources_->item(sources_->currentRow() + 1);
  down_->setEnabled(part && next && next->checkState() == Qt::Checked);
}

void GroundCard::changeInfo(const std::function<void(project::SourceInfo&)>& edit, const QString& what) {
  const auto* source = markedSource();
  if (!source || workspace_.readOnly()) return;
  project::SourceInfo info = *source;
  edit(info);
  workspace_.commit(project::withSourceInfo(*workspace_.project(), source->id, std::move(info)), what);
}

void GroundCard::moveSource(int by) {
  const auto* source = markedSource();
  const auto* ground = workspace_.project()->ground(workspace_.chosenGround());
  const auto* base = ground ? std::get_if<project::FromSources>(&ground->base) : nullptr;
  if (!source || !base) return;
  std::vector<SourceId> order = base->sources;
  const auto size = static_cast<std::ptrdiff_t>(order.size());
  const auto at = std::find(order.begin(), order.end(), source->id) - order.begin();
  const auto to = at + by;
  if (at >= size || to < 0 || to >= size) return;
  std::swap(order[static_cast<std::size_t>(at)], order[static_cast<std::size_t>(to)]);
  workspace_.commit(project::withSourcesOf(*workspace_.project(), ground->id, std::move(order)),
                    tr("change the order of sources"));
  sources_->setCurrentRow(static_cast<int>(to));
}

// A source checked takes part in the ground, as the last; unchecked it does not.
void GroundCard::takePart(QListWidgetItem* item) {
  const auto* ground = workspace_.project()->ground(workspace_.chosenGround());
  const auto* base = ground ? std::get_if<project::FromSources>(&ground->base) : nullptr;
  if (!base || workspace_.readOnly()) return;
  const SourceId id{item->data(Qt::UserRole).toULongLong()};
  std::vector<SourceId> order = base->sources;
  const bool was = std::find(order.begin(), order.end(), id) != order.end(), is = item->checkState() == Qt::Checked;
  if (was == is) return;
  if (is) {
    order.push_back(id);
  } else {
    std::erase(order, id);
  }
  const QString name = item->text();
  workspace_.commit(project::withSourcesOf(*workspace_.project(), ground->id, std::move(order)),
                    is ? tr("take in %1").arg(name) : tr("leave out %1").arg(name));
}

// First those the ground is built from, in their order, then the others.
void GroundCard::showSources(const project::FromSources& base) {
  std::vector<const project::Source*> order;
  for (const SourceId id : base.sources) {
    if (const auto* source = workspace_.project()->source(id)) order.push_back(source);
  }
  const std::size_t part = order.size();
  for (const auto& s : workspace_.project()->sources) {
    if (std::find(base.sources.begin(), base.sources.end(), s->id) == base.sources.end()) order.push_back(s.get());
  }
  const QSignalBlocker quiet(sources_);
  const int row = sources_->currentRow();
  sources_->clear();
  for (std::size_t i = 0; i < order.size(); ++i) {
    const project::Source& source = *order[i];
    auto* item = new QListWidgetItem(QString::fromStdString(source.name), sources_);
    item->setData(Qt::UserRole, QVariant::fromValue<qulonglong>(source.id.value));
    item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
    item->setCheckState(i < part ? Qt::Checked : Qt::Unchecked);
    if (source.hidden) item->setForeground(theme::muted());
    const auto& d = *source.data;
    item->setToolTip(tr("%1\n%2 points, %3 lines, %4 boundaries, %5 voids, %6 faces")
                         .arg(source.file.empty() ? tr("drawn here") : QString::fromStdString(source.file))
                         .arg(d.points.size())
                         .arg(d.breaklines.size())
                         .arg(d.boundaries.size())
                         .arg(d.voids.size())
                         .arg(d.modelTriangles.size()));
  }
  if (row >= 0 && row < sources_->count()) sources_->setCurrentRow(row);
  refreshSourceButtons();
}

// How a ground that is not built from sources comes about, in a sentence.
QString GroundCard::madeFrom(const project::Ground& recipe) const {
  const auto nameOf = [&](GroundId id) {
    const auto* ground = workspace_.project()->ground(id);
    return ground ? QString::fromStdString(ground->name) : tr("a ground that is gone");
  };
  if (const auto* base = std::get_if<project::OnGround>(&recipe.base)) {
    return recipe.works.empty()
               ? tr("Stands on %1 and has no works yet. Shape > Pad draws the first.").arg(nameOf(base->ground))
               : tr("Stands on %1, with %n works.", nullptr, static_cast<int>(recipe.works.size()))
                     .arg(nameOf(base->ground));
  }
  if (std::holds_alternative<project::FromStages>(recipe.base)) {
    const project::Stages& stages = workspace_.project()->stages;
    const auto listed = [](const auto& items) {
      QStringList names;
      for (const auto& item : items) names << QString::fromStdString(item.name);
      return names.join(tr(", "));
    };
    if (recipe.role == project::Role::stripped)
      return tr("The existing ground less its strips: %1.").arg(listed(stages.strips));
    if (recipe.role == project::Role::undercut) return tr("Dug below the works by: %1.").arg(listed(stages.undercuts));
    return tr("The finished ground less its build-ups: %1.").arg(listed(stages.buildUps));
  }
  const auto* base = std::get_if<project::Derived>(&recipe.base);
  if (!base || base->of.empty()) return {};
  const QString first = nameOf(base->of.front());
  QStringList all;
  for (const GroundId id : base->of) all << nameOf(id);
  return std::visit(
      Visitor{
          [&](const project::Shift& op) { return tr("%1, shifted by %2.").arg(first, lengths::told(op.height, 3)); },
          [&](const project::Keep& op) {
            return (op.inside ? tr("%1, inside an outline.") : tr("%1, outside an outline.")).arg(first);
          },
          [&](const project::CombineAs& op) {
            switch (op.rule) {
              case quantity::Combine::lower:
                return tr("The lower of %1.").arg(all.join(tr(" and ")));
              case quantity::Combine::higher:
                return tr("The higher of %1.").arg(all.join(tr(" and ")));
              case quantity::Combine::over:
                break;
            }
            return tr("%1, each laid over the one before.").arg(all.join(tr(" and ")));
          },
          [&](const project::Simplify& op) {
            return tr("%1, in fewer triangles, everywhere within %2.").arg(first, lengths::told(op.tolerance, 3));
          }},
      base->how);
}

void GroundCard::refresh() {
  const auto* recipe = workspace_.project()->ground(workspace_.chosenGround());
  if (!recipe) return;
  name_->setReadOnly(workspace_.readOnly());
  if (!(name_->hasFocus() && name_->isModified())) name_->setText(QString::fromStdString(recipe->name));
  showMadeOf(*recipe);
  const auto* base = std::get_if<project::FromSources>(&recipe->base);
  sourcesBox_->setVisible(base && !workspace_.project()->sources.empty());
  if (base) {
    showSources(*base);
    duplicates_->setCurrentIndex(static_cast<int>(base->rules.duplicates));
    maxEdge_->setValue(base->rules.maxEdge);
    const bool contours = std::any_of(base->sources.begin(), base->sources.end(), [&](SourceId id) {
      const auto* source = workspace_.project()->source(id);
      return source && std::any_of(source->data->breaklines.begin(), source->data->breaklines.end(),
                                   [](const auto& line) { return line.contour; });
    });
    cureFlats_->setVisible(contours);
    cureFlats_->setChecked(base->rules.cureFlats);
    onGround_->hide();
  } else {
    onGround_->setText(madeFrom(*recipe));
    onGround_->show();
  }
  roleRow_->setVisible(!project::isStage(recipe->role));
  role_->setEnabled(!workspace_.readOnly());
  role_->setCurrentIndex(role_->findData(static_cast<int>(recipe->role)));
  const auto* ground = workspace_.evaluation()->ground(recipe->id);
  const bool there = ground && ground->tin;
  figures_->setVisible(there);
  problem_->setVisible(!there);
  if (!there)
    problem_->setText(ground && !ground->problem.empty() ? QString::fromStdString(ground->problem)
                                                         : tr("Being computed…"));
  if (there && ground->statistics) {
    const ground::TinStatistics& s = *ground->statistics;
    const auto count = [](std::size_t n) { return QString::fromStdString(formatNumber(static_cast<double>(n), 0)); };
    levels_->setText(tr("%1 to %2").arg(lengths::number(s.minLevel, 2), lengths::told(s.maxLevel, 2)));
    planArea_->setText(workspace_.told(s.planArea, Quantity::area));
    surfaceArea_->setText(workspace_.told(s.surfaceArea, Quantity::area));
    points_->setText(count(s.points));
    triangles_->setText(count(s.triangles));
  }
  showDoubts(ground, there);
}

// Those that stand first, then those accepted.
void GroundCard::showDoubts(const project::EvaluatedGround* ground, bool there) {
  const auto doubts = ground ? ground->doubts : ground::Doubts{};
  std::vector<std::size_t> order;
  std::size_t open = 0;
  for (const bool accepted : {false, true}) {
    for (std::size_t i = 0; i < doubts.size(); ++i) {
      if ((workspace_.project()->acceptance(doubts[i]) != nullptr) == accepted) order.push_back(i);
    }
    if (!accepted) open = order.size();
  }
  doubts_->setVisible(!doubts.empty());
  doubtsBar_->setVisible(!doubts.empty());
  doubtsHeading_->setVisible(there);
  const std::size_t accepted = doubts.size() - open;
  doubtsHeading_->setText(doubts.empty() ? tr("No doubts about this ground.")
                          : accepted == 0
                              ? tr("Doubts: %1. Click one to go there.").arg(open)
                              : tr("Doubts: %1, and %2 accepted. Click one to go there.").arg(open).arg(accepted));
  const int row = doubts_->currentRow();
  doubts_->clear();
  constexpr std::size_t kShown = 500;
  for (std::size_t k = 0; k < std::min(order.size(), kShown); ++k) {
    const ground::Doubt& doubt = doubts[order[k]];
    const auto* acceptance = workspace_.project()->acceptance(doubt);
    auto* item = new QListWidgetItem(lengths::told(doubt.text), doubts_);
    item->setData(Qt::UserRole, QVariant::fromValue<qulonglong>(order[k]));
    if (!acceptance) continue;
    item->setText(tr("Accepted (%1): %2").arg(QString::fromStdString(acceptance->reason), item->text()));
    item->setForeground(theme::muted());
  }
  if (order.size() > kShown) new QListWidgetItem(tr("… and %1 more").arg(order.size() - kShown), doubts_);
  if (row >= 0 && row < doubts_->count()) doubts_->setCurrentRow(row);
  refreshDoubtButtons();
}

}  // namespace inselberg::app
