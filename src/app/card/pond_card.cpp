#include "card/pond_card.h"

#include <qcustomplot.h>

#include <QApplication>
#include <QClipboard>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include "base/measures.h"
#include "card/rows.h"
#include "theme/theme.h"
#include "workspace/lengths.h"

namespace inselberg::app {
PondCard::PondCard(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), worker_([this](const std::string& why) {
        QMetaObject::invokeMethod(
            this, [this, text = QString::fromUtf8(why.c_str())] { told_->setText(text); }, Qt::QueuedConnection);
      }) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(6);
  told_ = new QLabel(this);
  told_->setObjectName("pondTold");
  told_->setWordWrap(true);
  layout->addWidget(told_);
  makePlot();
  layout->addWidget(plot_);
  auto* wanted = new QHBoxLayout;
  auto* row = new QHBoxLayout;
  wanted_ = new QLineEdit(this);
  wanted_->setObjectName("pondVolume");
  wanted_->setAlignment(Qt::AlignRight);
  byLevel_ = new QPushButton(tr("By level"), this);
  byLevel_->setObjectName("sizeByLevel");
  byLevel_->setToolTip(tr("Moves the bottom, or the top of a pond drawn at its bottom, until it holds so much"));
  byOutline_ = new QPushButton(tr("By outline"), this);
  byOutline_->setObjectName("sizeByOutline");
  byOutline_->setToolTip(tr("Draws the outline larger or smaller about its middle until it holds so much"));
  auto* says = new QLabel(tr("Size it to hold"), this);
  says->setBuddy(wanted_);
  wanted->addWidget(says);
  wanted->addWidget(wanted_, 1);
  row->addWidget(byLevel_);
  row->addWidget(byOutline_);
  layout->addLayout(wanted);
  layout->addLayout(row);
  copy_ = new QPushButton(tr("Copy the table"), this);
  copy_->setObjectName("copyStorage");
  copy_->setToolTip(tr("Level, volume and area of the water, every 10 cm or less, for a spreadsheet"));
  layout->addWidget(copy_);
  connect(byLevel_, &QPushButton::clicked, this, [this] { size(works::SizeBy::level); });
  connect(byOutline_, &QPushButton::clicked, this, [this] { size(works::SizeBy::outline); });
  connect(wanted_, &QLineEdit::returnPressed, this, [this] { size(works::SizeBy::level); });
  connect(copy_, &QPushButton::clicked, this, [this] { copyTable(); });
}

PondCard::~PondCard() = default;

void PondCard::makePlot() {
  plot_ = new QCustomPlot(this);
  plot_->setObjectName("pondPlot");
  plot_->setFixedHeight(150);
  plot_->addGraph();
  for (QCPItemLine** line : {&water_, &spill_}) {
    *line = new QCPItemLine(plot_);
    (*line)->start->setTypeX(QCPItemPosition::ptAxisRectRatio);
    (*line)->end->setTypeX(QCPItemPosition::ptAxisRectRatio);
  }
  dressPlot(*plot_, [this] {
    plot_->graph(0)->setPen(QPen(theme::fill(), 2));
    water_->setPen(QPen(theme::amber(), 2));
    spill_->setPen(QPen(theme::ink(), 1.2, Qt::DashLine));
  });
  plot_->yAxis->setNumberPrecision(1);
  plot_->xAxis->ticker()->setTickCount(3);  // of five figures there is room for no more
  plot_->setToolTip(tr("Storage against the level of the water: amber its own level, dashed where it leaves."));
}

const Measures& PondCard::measures() const {
  return workspace_.project()->measures;
}

void PondCard::refresh() {
  const auto placed = workspace_.project()->works(workspace_.chosenWorks());
  const bool pond = placed.ground && placed.works->shape.as<works::Pond>();
  setVisible(pond);
  if (!pond) {
    workspace_.showSpill({});
    return;
  }
  for (QWidget* w : std::initializer_list<QWidget*>{wanted_, byLevel_, byOutline_})
    w->setEnabled(!workspace_.readOnly() && !placed.works->held);
  const project::EvaluationPtr evaluation = workspace_.evaluation();
  wanted_->setPlaceholderText(QString("1500 ") + unitOf(Quantity::volume, measures()));
  told_->setEnabled(evaluation->whole);
  if (of_ != placed.works->id) {
    from_ = nullptr;
    show({});
  }
  of_ = placed.works->id;
  if (evaluation->whole && from_ != evaluation) follow(evaluation, of_);
}

// Water may spread far on a ground: it is followed on a worker.
void PondCard::follow(const project::EvaluationPtr& evaluation, WorksId id) {
  from_ = evaluation;
  worker_.post([this, evaluation, id](const Worker::Token& token) {
    const Progress progress([&] { return token.superseded(); });
    try {
      std::optional<works::PondStorage> storage;
      for (const auto& ground : evaluation->grounds) {
        for (const auto& w : ground.works) {
          const auto* pond = w.works->id == id ? w.works->shape.as<works::Pond>() : nullptr;
          if (pond && ground.tin) storage = works::storageOf(*pond, *w.placement, *ground.tin, progress);
        }
      }
      QMetaObject::invokeMethod(
          this,
          [this, evaluation, storage] {
            if (evaluation == from_) show(storage);
          },
          Qt::QueuedConnection);
    } catch (const Cancelled&) {
    }
  });
}

void PondCard::show(const std::optional<works::PondStorage>& storage) {
  storage_ = storage;
  copy_->setEnabled(storage.has_value());
  if (!storage) {
    told_->setText(from_ ? tr("It holds no water: look at its crest.") : tr("What it holds is being followed…"));
    workspace_.showSpill({});
  } else {
    QString text =
        tr("Holds %1 to %2, spills at %3")
            .arg(QString::fromStdString(shown(storage->held, Quantity::volume, measures())),
                 lengths::told(std::min(storage->water.value_or(storage->hollow.rim), storage->hollow.rim), 2),
                 lengths::told(storage->hollow.rim, 2));
    if (const auto freeboard = storage->freeboard()) text += tr(", freeboard %1").arg(lengths::told(*freeboard, 2));
    told_->setText(text);
    workspace_.showSpill(Workspace::Spill{storage->hollow.spill, storage->hollow.rim});
  }
  showCurve();
}

void PondCard::showCurve() {
  QVector<double> volumes, levels;
  for (const auto& s : storage_ ? storage_->table : std::vector<ground::Storage>())
    volumes << inUnit(s.volume, Quantity::volume, measures()), levels << lengths::inUnit(s.level);
  plot_->xAxis->setLabel(unitOf(Quantity::volume, measures()));
  plot_->yAxis->setLabel(tr("level, %1").arg(lengths::unit()));
  plot_->graph(0)->setData(volumes, levels, true);
  water_->setVisible(storage_ && storage_->water);
  spill_->setVisible(storage_.has_value());
  if (storage_) {
    const double low = lengths::inUnit(storage_->hollow.bottom);
    const double high = lengths::inUnit(std::max(storage_->hollow.rim, storage_->water.value_or(storage_->hollow.rim)));
    const auto across = [](QCPItemLine* line, double level) {
      line->start->setCoords(0, lengths::inUnit(level));
      line->end->setCoords(1, lengths::inUnit(level));
    };
    across(water_, storage_->water.value_or(storage_->hollow.bottom));
    across(spill_, storage_->hollow.rim);
    plot_->xAxis->setRange(0, std::max(1.0, 1.05 * volumes.back()));
    plot_->yAxis->setRange(low, high + 0.08 * (high - low));
  }
  plot_->replot(QCustomPlot::rpQueuedReplot);
}

void PondCard::copyTable() const {
  if (!storage_) return;
  QString text = tr("level, %1\tvolume, %2\tarea, %3\n")
                     .arg(lengths::unit(), unitOf(Quantity::volume, measures()), unitOf(Quantity::area, measures()));
  for (const auto& s : storage_->table)
    text += QString("%1\t%2\t%3\n")
                .arg(lengths::inUnit(s.level), 0, 'f', 3)
                .arg(inUnit(s.volume, Quantity::volume, measures()), 0, 'f', 2)
                .arg(inUnit(s.area, Quantity::area, measures()), 0, 'f', measures().imperial ? 5 : 2);
  QApplication::clipboard()->setText(text);
}

void PondCard::size(works::SizeBy by) {
  const auto volume = parseVolume(wanted_->text().toStdString(), measures());
  if (!volume || *volume <= 0) {
    Q_EMIT workspace_.message(tr("Write the volume it shall hold, such as %1.").arg(wanted_->placeholderText()), true);
    wanted_->setFocus();
    return;
  }
  workspace_.sizePond(of_, *volume, by);
}

}  // namespace inselberg::app
