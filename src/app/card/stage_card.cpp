#include "card/stage_card.h"

#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include "base/error.h"
#include "base/quantity.h"
#include "card/rows.h"

namespace inselberg::app {
namespace {

constexpr int kWhere = 1;  // the column that tells what it lies in, under or over: nothing to type

QString text(const std::string& s) {
  return QString::fromStdString(s);
}

}  // namespace

StageCard::StageCard(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), lists_(stageLists()) {
  lists_.resize(3);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(8);
  heading_ = new QLabel(this);
  heading_->setProperty("heading", true);
  layout->addWidget(heading_);
  for (std::size_t i = 0; i < lists_.size(); ++i) {
    makeForm(i);
    layout->addWidget(forms_.back());
  }
  auto* buttons = new QHBoxLayout;
  pits_ = new QPushButton(tr("Test pits…"), this);
  pits_->setObjectName("stagePits");
  depths_ = new QPushButton(tr("Show the depths"), this);
  depths_->setObjectName("stageDepths");
  buttons->addWidget(pits_);
  buttons->addWidget(depths_);
  buttons->addStretch(1);
  layout->addLayout(buttons);
  layout->addWidget(ruleLine(this));
  figures_ = new QLabel(this);
  figures_->setObjectName("stageFigures");
  figures_->setTextFormat(Qt::RichText);
  figures_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  figures_->setWordWrap(true);
  layout->addWidget(figures_);
  connect(pits_, &QPushButton::clicked, this, [this] { Q_EMIT pitsWanted(workspace_.chosenStage()); });
  connect(depths_, &QPushButton::clicked, this, &StageCard::depthsWanted);
  connect(&workspace_, &Workspace::quantitiesTaken, this, [this] {
    if (isVisible()) refresh();
  });
}

void StageCard::makeForm(std::size_t number) {
  const StageList& list = lists_[number];
  auto* page = new QWidget(this);
  auto* form = new QFormLayout(page);
  form->setContentsMargins(0, 0, 0, 0);
  form->setVerticalSpacing(5);
  edits_.emplace_back();
  for (int column = 0; column < list.headings.size(); ++column) {
    auto* edit = new QLineEdit(page);
    edit->setObjectName(list.id + QString::number(column));
    edit->setReadOnly(column == kWhere);
    edit->setFrame(column != kWhere);
    form->addRow(list.headings[column], edit);
    connect(edit, &QLineEdit::editingFinished, this, [this, column] { take(column); });
    edits_.back().push_back(edit);
  }
  forms_.push_back(page);
}

void StageCard::take(int column) {
  const auto at = project::placeOf(workspace_.project()->stages, workspace_.chosenStage());
  if (!at || workspace_.readOnly() || column == kWhere) return;
  const auto kind = static_cast<std::size_t>(at->kind);
  QLineEdit& edit = *edits_[kind][static_cast<std::size_t>(column)];
  if (!edit.isModified()) return;
  edit.setModified(false);
  const QString typed = edit.text().trimmed();
  try {
    changeStages(
        workspace_, [&](project::Stages& stages) { lists_[kind].take(stages, at->place, column, typed.toStdString()); },
        tr("change the %1 of %2")
            .arg(lists_[kind].headings[column].toLower(), lists_[kind].rows(*workspace_.project())[at->place].front()));
  } catch (const Error& e) {
    Q_EMIT workspace_.message(QString::fromUtf8(e.what()), true);
  }
  refresh();
}

void StageCard::refresh() {
  const project::Project& project = *workspace_.project();
  const auto at = project::placeOf(project.stages, workspace_.chosenStage());
  if (!at) return;
  const auto kind = static_cast<std::size_t>(at->kind);
  heading_->setText(at->kind == project::StageKind::strip      ? tr("Strip")
                    : at->kind == project::StageKind::undercut ? tr("Undercut")
                                                               : tr("Build-up"));
  const QStringList now = lists_[kind].rows(project)[at->place];
  for (std::size_t k = 0; k < forms_.size(); ++k) forms_[k]->setVisible(k == kind);
  for (std::size_t c = 0; c < edits_[kind].size(); ++c) {
    QLineEdit& edit = *edits_[kind][c];
    const QString& shown = now.at(static_cast<qsizetype>(c));
    edit.setEnabled(!workspace_.readOnly() && shown != QString("–"));
    if (edit.hasFocus() && edit.isModified()) continue;
    if (edit.text() != shown) edit.setText(shown);
    edit.setCursorPosition(0);
    edit.setToolTip(shown);
  }
  pits_->setVisible(at->kind == project::StageKind::strip);
  pits_->setEnabled(!workspace_.readOnly());
  showFigures(*at);
}

void StageCard::showFigures(const project::StagePlace& at) {
  const project::Stages& stages = workspace_.project()->stages;
  const auto [id, leftOut] = project::withListOf(
      stages, at.kind, [&](const auto& list) { return std::pair(list[at.place].id, list[at.place].leftOut); });
  const auto quantities = leftOut ? nullptr : workspace_.quantities();
  if (!quantities) {
    figures_->setText(leftOut ? tr("Left out: it takes no part.") : tr("Being computed…"));
    return;
  }
  const report::Figures& f = quantities->whole;
  QString rows;
  const auto row = [&](const QString& name, const QString& value) {
    rows += QString("<tr><td>%1&nbsp;&nbsp;</td><td align='right'>%2</td></tr>").arg(name.toHtmlEscaped(), value);
  };
  const auto volume = [&](double v) { return workspace_.told(v, Quantity::volume); };
  const auto layer = [&](const report::LayerFigure& l) { row(text(l.name), volume(l.volume)); };
  if (const auto* s = report::figureOf(f.strips, id)) {
    row(tr("Stripped, bank"), volume(s->volume));
    row(tr("Stockpile, loose"), volume(s->loose));
    row(tr("Plan area"), workspace_.told(s->area, Quantity::area));
  } else if (const auto* u = report::figureOf(f.undercuts, id)) {
    row(tr("Dug and filled again"), volume(u->dig));
    row(tr("Plan area"), workspace_.told(u->area, Quantity::area));
    double rest = u->dig;
    for (const report::LayerFigure& l : u->layers) rest -= l.volume, layer(l);
    if (!u->layers.empty()) row(tr("fill above"), volume(std::max(0.0, rest)));
  } else if (const auto* b = report::figureOf(f.buildUps, id)) {
    double sum = 0;
    for (const report::LayerFigure& l : b->layers) sum += l.volume, layer(l);
    if (b->layers.size() > 1) row(tr("together"), volume(sum));
    if (!b->layers.empty()) row(tr("Area"), workspace_.told(b->layers.front().area, Quantity::area));
  }
  figures_->setText("<table width='100%'>" + rows + "</table>");
}

}  // namespace inselberg::app
