#include "works/pad_card.h"

#include <QComboBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTimer>
#include <QVBoxLayout>

#include "base/quantity.h"
#include "card/level_plot.h"
#include "card/quantity_edit.h"
#include "card/rows.h"
#include "report/ledger.h"
#include "theme/theme.h"

namespace inselberg::app {

PadCard::PadCard(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), worker_([this](const std::string& why) {
        QMetaObject::invokeMethod(
            this, [this, text = QString::fromUtf8(why.c_str())] { plotNote_->setText(text); }, Qt::QueuedConnection);
      }) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(8);
  name_ = new QLineEdit(this);
  name_->setObjectName("padName");
  level_ = new QuantityEdit(QuantityEdit::Kind::level, 0.1, this);
  level_->setObjectName("padLevel");
  cut_ = new QuantityEdit(QuantityEdit::Kind::slope, 0.25, this);
  cut_->setObjectName("padCutBatter");
  fill_ = new QuantityEdit(QuantityEdit::Kind::slope, 0.25, this);
  fill_->setObjectName("padFillBatter");
  corners_ = new QComboBox(this);
  corners_->setObjectName("padCorners");
  corners_->addItem(tr("round"));
  corners_->addItem(tr("square"));
  auto* form = new QFormLayout;
  form->setLabelAlignment(Qt::AlignLeft);
  form->setVerticalSpacing(5);
  form->addRow(tr("Pad"), name_);
  form->addRow(tr("Level"), level_);
  form->addRow(tr("Cut batter"), cut_);
  form->addRow(tr("Fill batter"), fill_);
  form->addRow(tr("Corners"), corners_);
  layout->addLayout(form);

  auto* costs = new QFormLayout;
  costs->setVerticalSpacing(3);
  cutCost_ = addFigure(*costs, tr("Cut"), theme::cut);
  cutCost_->setObjectName("padCut");
  fillCost_ = addFigure(*costs, tr("Fill"), theme::fill);
  fillCost_->setObjectName("padFill");
  surplus_ = addFigure(*costs, {}, theme::ink);
  surplus_->setObjectName("padSurplus");
  footprint_ = addFigure(*costs, tr("Footprint"), theme::ink);
  unmeasured_ = addFigure(*costs, {}, theme::error);
  unmeasured_->setObjectName("padUnmeasured");
  layout->addWidget(ruleLine(this));
  layout->addLayout(costs);

  plot_ = new LevelPlot(this);
  plot_->setObjectName("padPlot");
  plot_->setFixedHeight(180);
  layout->addWidget(plot_);
  plotNote_ = new QLabel(this);
  plotNote_->setProperty("quiet", true);
  plotNote_->setWordWrap(true);
  layout->addWidget(plotNote_);
  balance_ = new QPushButton(theme::icon("balance"), tr("Balance"), this);
  balance_->setObjectName("balance");
  balance_->setToolTip(tr("Moves the level to where cut equals fill (B)"));
  layout->addWidget(balance_);

  connect(name_, &QLineEdit::editingFinished, this, [this] {
    const auto works = chosen();
    const QString typed = name_->text().trimmed();
    if (!works || typed == QString::fromStdString(works->name)) return;
    if (typed.isEmpty()) return refresh();
    works::Works changed = *works;
    changed.name = typed.toStdString();
    workspace_.commit(project::withWorks(*workspace_.project(), changed),
                      tr("rename %1").arg(QString::fromStdString(works->name)));
  });
  connect(level_, &QuantityEdit::edited, this,
          [this](double z) { change(tr("change the level of %1"), [z](works::Pad& p) { p.level = z; }); });
  connect(cut_, &QuantityEdit::edited, this, [this](double h) {
    change(tr("change the cut batter of %1"), [h](works::Pad& p) { p.batters.cut = Slope::horizontalPerVertical(h); });
  });
  connect(fill_, &QuantityEdit::edited, this, [this](double h) {
    change(tr("change the fill batter of %1"),
           [h](works::Pad& p) { p.batters.fill = Slope::horizontalPerVertical(h); });
  });
  connect(corners_, &QComboBox::activated, this, [this](int index) {
    change(tr("change the corners of %1"), [index](works::Pad& p) {
      p.batters.corners = index == 0 ? works::CornerStyle::round : works::CornerStyle::square;
    });
  });
  connect(balance_, &QPushButton::clicked, this, [this] { workspace_.balance(workspace_.chosenWorks()); });
  connect(plot_, &LevelPlot::dragged, this, [this](double z) {
    if (auto works = chosen()) {
      works::setLevel(works->shape, z);
      workspace_.setTransient(project::withWorks(*workspace_.project(), *works));
    }
  });
  connect(plot_, &LevelPlot::released, this, [this] {
    if (const auto works = chosen())
      workspace_.commitTransient(tr("change the level of %1").arg(QString::fromStdString(works->name)));
  });
  curveTimer_ = new QTimer(this);
  curveTimer_->setSingleShot(true);
  curveTimer_->setInterval(120);
  connect(curveTimer_, &QTimer::timeout, this, &PadCard::computeCurve);
}

PadCard::~PadCard() = default;

std::optional<works::Works> PadCard::chosen() const {
  const auto placed = workspace_.project()->works(workspace_.chosenWorks());
  if (!placed.ground || !std::holds_alternative<works::Pad>(placed.works->shape)) return std::nullopt;
  return *placed.works;
}

void PadCard::change(const QString& what, const std::function<void(works::Pad&)>& edit) {
  auto works = chosen();
  if (!works) return;
  const works::Works before = *works;
  edit(std::get<works::Pad>(works->shape));
  if (*works == before) return;
  workspace_.commit(project::withWorks(*workspace_.project(), *works), what.arg(QString::fromStdString(works->name)));
}

void PadCard::refresh() {
  const auto works = chosen();
  if (!works) return;
  const auto& pad = std::get<works::Pad>(works->shape);
  if (!(name_->hasFocus() && name_->isModified())) name_->setText(QString::fromStdString(works->name));
  level_->setValue(pad.level);
  cut_->setValue(pad.batters.cut.run());
  fill_->setValue(pad.batters.fill.run());
  corners_->setCurrentIndex(pad.batters.corners == works::CornerStyle::round ? 0 : 1);
  for (QWidget* w : std::initializer_list<QWidget*>{name_, level_, cut_, fill_, corners_, plot_, balance_})
    w->setEnabled(!workspace_.readOnly());
  plot_->setLevel(pad.level);

  const auto* placed = workspace_.evaluation()->works(works->id);
  const bool fresh = placed && *placed->works == *works;
  for (QLabel* figure : {cutCost_, fillCost_, surplus_, footprint_, unmeasured_}) figure->setEnabled(fresh);
  unmeasured_->setText(placed ? QString::fromStdString(report::unmeasuredText(placed->volume.unmeasured()))
                              : QString());
  unmeasured_->setVisible(!unmeasured_->text().isEmpty());
  if (!placed) {
    for (QLabel* figure : {cutCost_, fillCost_, surplus_, footprint_})
      figure->setText(works->hidden ? tr("hidden") : tr("…"));
    return;
  }
  const quantity::Volume& v = placed->volume;
  showVolume(*cutCost_, v.cut);
  showVolume(*fillCost_, v.fill);
  surplus_->setText(QString::fromStdString(report::surplusText(v.cut, v.fill)));
  footprint_->setText(QString::fromStdString(formatNumber(placed->placement->footprintArea, 0)) + " m²");
  refreshCurve();
}

void PadCard::refreshCurve() {
  const auto works = chosen();
  const auto* placed = works ? workspace_.evaluation()->works(works->id) : nullptr;
  if (!placed) return;
  works::Shape level = placed->works->shape;
  works::setLevel(level, 0);
  Hasher hasher;
  hasher.value(reinterpret_cast<std::uintptr_t>(placed->under.get()));
  works::feed(hasher, level);
  const Hash key = hasher.finish();
  if (key == curveOf_) return;
  curveOf_ = key;
  curveUnder_ = placed->under;
  plot_->setCurve({});
  plotNote_->setText(tr("Cut and fill against the level: being computed…"));
  curveTimer_->start();
}

void PadCard::computeCurve() {
  const auto works = chosen();
  const auto* placed = works ? workspace_.evaluation()->works(works->id) : nullptr;
  if (!placed) return;
  worker_.post([this, shape = placed->works->shape, under = placed->under, origin = workspace_.project()->origin,
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
            plotNote_->setText(
                level ? tr("Cut and fill meet near %1 m.").arg(QString::fromStdString(formatNumber(*level, 2)))
                      : tr("Cut and fill do not meet within these levels."));
          },
          Qt::QueuedConnection);
    } catch (const Cancelled&) {
    }
  });
}

}  // namespace inselberg::app
