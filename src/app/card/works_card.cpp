#include "card/works_card.h"

#include <QComboBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTimer>
#include <QVBoxLayout>
#include <cmath>

#include "base/error.h"
#include "card/field_form.h"
#include "card/level_plot.h"
#include "card/long_section.h"
#include "card/pond_card.h"
#include "card/rows.h"
#include "project/ties.h"
#include "report/ledger.h"
#include "theme/theme.h"
#include "workspace/lengths.h"

namespace inselberg::app {

WorksCard::WorksCard(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), worker_([this](const std::string& why) { tellFailed(why); }) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(8);
  name_ = new QLineEdit(this);
  name_->setObjectName("worksName");
  connect(name_, &QLineEdit::editingFinished, this, &WorksCard::rename);
  kindName_ = new QLabel(this);
  auto* head = new QFormLayout;
  head->addRow(kindName_, name_);
  layout->addLayout(head);
  held_ = new QLabel(tr("Held in place: Edit › Hold the chosen works in place frees it."), this);
  held_->setObjectName("worksHeld");
  held_->setProperty("quiet", true);
  held_->setWordWrap(true);
  held_->hide();
  layout->addWidget(held_);
  forms_ = new QVBoxLayout;
  layout->addLayout(forms_);
  makeTie(*layout);
  makeWords(*layout);
  found_ = new QLabel(this);
  found_->setObjectName("worksFound");
  found_->setWordWrap(true);
  layout->addWidget(found_);
  layout->addWidget(ruleLine(this));
  makeFigures(*layout);
  pond_ = new PondCard(workspace_, this);
  layout->addWidget(pond_);
  makeLongSection(*layout);
  makePlot(*layout);
  connect(&workspace_, &Workspace::quantitiesTaken, this, [this] {
    if (const auto works = chosen(); works && isVisible()) showFigures(*works);
  });
}

void WorksCard::makeLongSection(QVBoxLayout& layout) {
  along_ = new LongSection(this);
  along_->setObjectName("longSection");
  along_->setFixedHeight(190);
  layout.addWidget(along_);
  connect(along_, &LongSection::dragged, this, [this](const works::Shape& shape) {
    auto works = chosen();
    if (!works) return;
    works->shape = shape;
    workspace_.setTransient(project::withWorks(*workspace_.project(), *works));
  });
  connect(along_, &LongSection::released, this, [this] {
    if (const auto works = chosen())
      workspace_.commitTransient(tr("change the grade of %1").arg(QString::fromStdString(works->name)));
  });
  connect(along_, &LongSection::changed, this, [this](const works::Shape& shape, const QString& what) {
    auto works = chosen();
    if (!works) return;
    works->shape = shape;
    try {
      project::withSectionsOf(*workspace_.project(), shape);
    } catch (const Error& e) {
      return Q_EMIT workspace_.message(
          tr("%1 stays as it is: %2").arg(QString::fromStdString(works->name), QString::fromUtf8(e.what())), true);
    }
    change(*works, what.arg(QString::fromStdString(works->name)));
  });
  connect(along_, &LongSection::refused, this, [this](const QString& why) { Q_EMIT workspace_.message(why, true); });
}

WorksCard::~WorksCard() = default;

void WorksCard::tellFailed(const std::string& why) {
  QMetaObject::invokeMethod(
      this, [this, text = QString::fromUtf8(why.c_str())] { plotNote_->setText(text); }, Qt::QueuedConnection);
}

// Whose level it follows.
void WorksCard::makeTie(QVBoxLayout& layout) {
  tieRow_ = new QWidget(this);
  auto* form = new QFormLayout(tieRow_);
  form->setContentsMargins(0, 0, 0, 0);
  tie_ = new QComboBox(tieRow_);
  tie_->setObjectName("tie");
  tie_->setToolTip(tr("Its level follows that of other works from now on, as far above as it is now"));
  tie_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  form->addRow(tr("Level follows"), tie_);
  layout.addWidget(tieRow_);
  connect(tie_, &QComboBox::activated, this, [this](int row) {
    const auto works = chosen();
    if (!works) return;
    const WorksId to{tie_->itemData(row).toULongLong()};
    try {
      const auto next = to ? project::withTie(*workspace_.project(), works->id, to)
                           : project::withoutTie(*workspace_.project(), works->id);
      if (to || works->tie) workspace_.commit(next, tr("tie %1").arg(QString::fromStdString(works->name)));
    } catch (const Error& e) {
      Q_EMIT workspace_.message(
          tr("%1 is not tied: %2").arg(QString::fromStdString(works->name), QString::fromUtf8(e.what())), true);
      showTie(*works);
    }
  });
}

void WorksCard::showTie(const works::Works& works) {
  tieRow_->setVisible(levelOf(works.shape).has_value());
  tie_->setEnabled(!workspace_.readOnly() && !works.held);
  tie_->clear();
  tie_->addItem(tr("nothing"), 0);
  for (const auto& ground : workspace_.project()->column) {
    for (const auto& other : ground->works) {
      if (other->id == works.id || !levelOf(other->shape)) continue;
      QString text = QString::fromStdString(other->name);
      const bool follows = works.tie && works.tie->to == other->id;
      if (follows) text += (works.tie->plus < 0 ? " −" : " +") + lengths::told(std::abs(works.tie->plus), 2);
      tie_->addItem(text, static_cast<qulonglong>(other->id.value));
      if (follows) tie_->setCurrentIndex(tie_->count() - 1);
    }
  }
}

// What its cut is made of, and when it is built: words of the project's own.
void WorksCard::makeWords(QVBoxLayout& layout) {
  auto* form = new QFormLayout;
  const auto field = [&](const char* name, const QString& label, const QString& tip, const QString& what,
                         std::string works::Works::*member) {
    auto* box = new QComboBox(this);
    box->setObjectName(name);
    box->setEditable(true);
    box->setInsertPolicy(QComboBox::NoInsert);
    box->setToolTip(tip);
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    box->lineEdit()->setPlaceholderText(tr("not said"));
    form->addRow(label, box);
    const auto take = [this, box, what, member] {
      auto works = chosen();
      if (!works) return;
      (*works).*member = box->currentText().trimmed().toStdString();
      change(*works, what.arg(QString::fromStdString(works->name)));
    };
    connect(box, &QComboBox::activated, this, take);
    connect(box->lineEdit(), &QLineEdit::editingFinished, this, take);
    return box;
  };
  material_ = field("material", tr("Material"),
                    tr("What its cut is made of: bulking, shrinkage, usable share and rates stand in the list of "
                       "materials (Strip, All…)"),
                    tr("change the material of %1"), &works::Works::material);
  phase_ = field("phase", tr("Phase"), tr("When it is built: the schedule (Measure, Quantities) is grouped by it"),
                 tr("change the phase of %1"), &works::Works::phase);
  layout.addLayout(form);
}

void WorksCard::showWords(const works::Works& works) {
  const project::Project& project = *workspace_.project();
  QStringList materials, phases;
  for (const auto& m : project.stages.materials) materials << QString::fromStdString(m.name);
  for (const auto& ground : project.column) {
    for (const auto& w : ground->works) phases << QString::fromStdString(w->phase);
  }
  phases.removeAll(QString());
  phases.removeDuplicates();
  phases.sort();
  const auto show = [&](QComboBox& box, const QStringList& words, const std::string& now) {
    box.setEnabled(!workspace_.readOnly());
    if (box.lineEdit()->hasFocus() && box.lineEdit()->isModified()) return;
    const QSignalBlocker quiet(&box);
    box.clear();
    box.addItem(QString());
    box.addItems(words);
    box.setEditText(QString::fromStdString(now));
  };
  show(*material_, materials, works.material);
  show(*phase_, phases, works.phase);
}

void WorksCard::makeFigures(QVBoxLayout& layout) {
  auto* costs = new QFormLayout;
  costs->setVerticalSpacing(3);
  cutCost_ = addFigure(*costs, tr("Cut"), "cut");
  cutCost_->setObjectName("worksCut");
  fillCost_ = addFigure(*costs, tr("Fill"), "fill");
  fillCost_->setObjectName("worksFill");
  surplus_ = addFigure(*costs, {});
  surplus_->setObjectName("worksSurplus");
  footprint_ = addFigure(*costs, tr("Footprint"));
  unmeasured_ = addFigure(*costs, {}, "error");
  unmeasured_->setObjectName("worksUnmeasured");
  layout.addLayout(costs);
}

void WorksCard::makePlot(QVBoxLayout& layout) {
  plot_ = new LevelPlot(this);
  plot_->setObjectName("worksPlot");
  plot_->setFixedHeight(180);
  layout.addWidget(plot_);
  plotNote_ = new QLabel(this);
  plotNote_->setProperty("quiet", true);
  plotNote_->setWordWrap(true);
  layout.addWidget(plotNote_);
  balance_ = new QPushButton(tr("Balance"), this);
  theme::dressed(this, [this] { balance_->setIcon(theme::icon("balance")); });
  balance_->setObjectName("balance");
  balance_->setToolTip(tr("Moves the level to where cut equals fill (B)"));
  layout.addWidget(balance_);
  connect(balance_, &QPushButton::clicked, this, [this] { workspace_.balance(workspace_.chosenWorks()); });
  connect(plot_, &LevelPlot::dragged, this, [this](double z) {
    auto works = chosen();
    if (!works || !levelOf(works->shape)) return;
    works->shape = atLevel(works->shape, z);
    workspace_.setTransient(project::withWorks(*workspace_.project(), *works));
  });
  connect(plot_, &LevelPlot::released, this, [this] {
    if (const auto works = chosen())
      workspace_.commitTransient(tr("change the level of %1").arg(QString::fromStdString(works->name)));
  });
  curveTimer_ = new QTimer(this);
  curveTimer_->setSingleShot(true);
  curveTimer_->setInterval(120);
  connect(curveTimer_, &QTimer::timeout, this, &WorksCard::computeCurve);
}

std::optional<works::Works> WorksCard::chosen() const {
  const auto placed = workspace_.project()->works(workspace_.chosenWorks());
  return placed.ground ? std::optional(*placed.works) : std::nullopt;
}

FieldForm& WorksCard::formOf(const works::Kind& kind) {
  FieldForm*& form = formOf_[&kind];
  if (form) return *form;
  form = new FieldForm(kind, this);
  forms_->addWidget(form);
  connect(form, &FieldForm::refused, this, [this](const QString& why) { Q_EMIT workspace_.message(why, true); });
  connect(form, &FieldForm::edited, this, [this, &kind](std::size_t field, const works::Value& value) {
    auto works = chosen();
    if (!works || &works->shape.kind() != &kind) return;
    works->shape = works->shape.with(field, value);
    change(*works,
           tr("change the %1 of %2")
               .arg(QString::fromStdString(kind.fields()[field].label).toLower(), QString::fromStdString(works->name)));
  });
  return *form;
}

void WorksCard::change(const works::Works& changed, const QString& what) {
  if (const auto now = chosen(); now && *now != changed)
    workspace_.commit(project::withWorks(*workspace_.project(), changed), what);
}

void WorksCard::rename() {
  const auto works = chosen();
  const QString typed = name_->text().trimmed();
  if (!works) return;
  if (typed.isEmpty()) return refresh();
  works::Works changed = *works;
  changed.name = typed.toStdString();
  change(changed, tr("rename %1").arg(QString::fromStdString(works->name)));
}

void WorksCard::refresh() {
  const auto works = chosen();
  if (!works) return;
  const works::Kind& kind = works->shape.kind();
  const bool writable = !workspace_.readOnly();
  kindName_->setText(QString::fromStdString(kind.label));
  if (!(name_->hasFocus() && name_->isModified())) name_->setText(QString::fromStdString(works->name));
  FieldForm& form = formOf(kind);
  for (const auto& [other, made] : formOf_) made->setVisible(made == &form);
  kindName_->setMinimumWidth(form.labelWidth());
  QStringList sections, grounds;
  for (const auto& section : workspace_.project()->sections) sections += QString::fromStdString(section.name);
  for (const auto& ground : workspace_.project()->column) {
    if (ground->id != workspace_.project()->works(works->id).ground->id)
      grounds += QString::fromStdString(ground->name);
  }
  form.setNames(sections, grounds);
  form.setShape(works->shape);
  const bool free = writable && !works->held;
  form.setWritable(free);
  held_->setVisible(works->held);
  const auto level = levelOf(works->shape);
  for (QWidget* w : std::initializer_list<QWidget*>{plot_, plotNote_, balance_}) w->setVisible(level.has_value());
  name_->setEnabled(writable);
  for (QWidget* w : std::initializer_list<QWidget*>{plot_, balance_}) w->setEnabled(free);
  if (level) plot_->setLevel(*level);
  const bool graded = LongSection::suits(works->shape);
  along_->setVisible(graded);
  along_->setReadOnly(!free);
  along_->setSections(sections);
  if (graded) {
    const auto* placed = workspace_.evaluation()->works(works->id);
    along_->show(works->shape, placed ? placed->under : nullptr);
  }
  showTie(*works);
  showWords(*works);
  showFigures(*works);
  refreshCurve();
  pond_->refresh();
}

// How sure its volumes are, where accuracies are given and it is known.
quantity::Uncertainty WorksCard::sureOf(WorksId id) {
  if (workspace_.project()->stages.accuracy.empty()) return {};
  if (const auto quantities = workspace_.quantities()) {
    for (const report::Measured& m : quantities->sure) {
      if (m.works == id.value && m.sure) return *m.sure;
    }
  }
  return {};
}

void WorksCard::showFigures(const works::Works& works) {
  const auto* placed = workspace_.evaluation()->works(works.id);
  const bool fresh = placed && *placed->works == works;
  for (QLabel* figure : {cutCost_, fillCost_, surplus_, footprint_, unmeasured_}) figure->setEnabled(fresh);
  showFound();
  unmeasured_->setText(placed ? QString::fromStdString(
                                    report::unmeasuredText(placed->volume.unmeasured(), workspace_.project()->measures))
                              : QString());
  unmeasured_->setVisible(!unmeasured_->text().isEmpty());
  if (!placed) {
    for (QLabel* figure : {cutCost_, fillCost_, surplus_, footprint_})
      figure->setText(works.leftOut ? tr("left out") : tr("…"));
    return;
  }
  const quantity::Volume& v = placed->volume;
  const Measures& measures = workspace_.project()->measures;
  const quantity::Uncertainty sure = sureOf(works.id);
  showVolume(*cutCost_, v.cut, sure.cut, measures);
  showVolume(*fillCost_, v.fill, sure.fill, measures);
  surplus_->setText(QString::fromStdString(report::surplusText(v.cut, v.fill, measures)));
  footprint_->setText(workspace_.told(placed->placement->footprintArea, Quantity::area));
}

// What was found by placing it.
void WorksCard::showFound() {
  const auto works = chosen();
  const auto* placed = works ? workspace_.evaluation()->works(works->id) : nullptr;
  QStringList found;
  if (placed && *placed->works == *works) {
    for (const works::Figure& figure : placed->placement->figures)
      found += tr("%1 %2").arg(QString::fromStdString(figure.label).toLower(),
                               QString::fromStdString(works::shown(figure, lengths::measures())));
  }
  found_->setText(found.isEmpty() ? QString() : tr("Found: %1").arg(found.join(", ")));
  found_->setVisible(!found.isEmpty());
}

void WorksCard::refreshCurve() {
  const auto works = chosen();
  const auto* placed = works ? workspace_.evaluation()->works(works->id) : nullptr;
  if (!placed || !levelOf(placed->works->shape)) return;
  Hasher hasher;
  hasher.value(reinterpret_cast<std::uintptr_t>(placed->under.get()));
  works::feed(hasher, project::withSectionsOf(*workspace_.evaluation()->project, atLevel(placed->works->shape, 0)));
  hasher.value(workspace_.project()->measures.imperial);
  const Hash key = hasher.finish();
  if (key == curveOf_) return;
  curveOf_ = key;
  curveUnder_ = placed->under;
  plot_->setCurve({});
  plotNote_->setText(tr("Cut and fill against the level: being computed…"));
  curveTimer_->start();
}

void WorksCard::computeCurve() {
  const auto works = chosen();
  const auto* placed = works ? workspace_.evaluation()->works(works->id) : nullptr;
  if (!placed || !levelOf(placed->works->shape)) return;
  worker_.post([this, shape = project::withSectionsOf(*workspace_.evaluation()->project, placed->works->shape),
                under = placed->under, origin = workspace_.project()->origin,
                key = curveOf_](const Worker::Token& token) {
    const Progress progress([&] { return token.superseded(); });
    try {
      const balance::LevelRange range = balance::rangeAround(shape, *under);
      const auto curve =
          balance::levelCurve([&](double z) { return balance::costAtLevel(shape, z, *under, origin, progress); },
                              range.lowest, range.highest, 25, progress);
      QMetaObject::invokeMethod(
          this,
          [this, curve, key] {
            if (key != curveOf_) return;
            plot_->setCurve(curve);
            const auto level = plot_->balanceLevel();
            plotNote_->setText(level ? tr("Cut and fill meet near %1.").arg(lengths::told(*level, 2))
                                     : tr("Cut and fill do not meet within these levels."));
          },
          Qt::QueuedConnection);
    } catch (const Cancelled&) {
    }
  });
}

}  // namespace inselberg::app
