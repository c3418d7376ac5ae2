#include "window/level_steps_dialog.h"

#include <QDialogButtonBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "ledger/table_page.h"

namespace inselberg::app {

LevelStepsDialog::LevelStepsDialog(Workspace& workspace, QWidget* parent)
    : QDialog(parent), workspace_(workspace), areas_(project::flatAreasOf(*workspace.project())) {
  setObjectName("levelStepsDialog");
  setWindowTitle(tr("Level areas as a ground"));
  resize(560, 260);
  const project::EvaluationPtr evaluation = workspace_.evaluation();
  const ground::TinPtr from = evaluation->surveyed() ? evaluation->surveyed()->tin : nullptr;
  surveyed_ = from != nullptr;
  project::SteppedAndSmooth both;
  workspace_.doLong(tr("Making the grounds"), [&](const Progress& progress) {
    both = project::steppedAndSmooth(areas_, from.get(), workspace_.project()->origin, progress);
  });
  auto* rows = new QVBoxLayout(this);
  auto* says = new QLabel(surveyed_ ? tr("%1 level areas against the existing ground. Smooth: the borders they share "
                                         "are contours half-way between their levels.")
                                          .arg(areas_.size())
                                    : tr("%1 level areas. There is no existing ground yet: they can become it. Smooth: "
                                         "the borders they share are contours half-way between their levels.")
                                          .arg(areas_.size()),
                          this);
  says->setWordWrap(true);
  rows->addWidget(says);
  table_ = new TablePage("levelStepsTable", this);
  rows->addWidget(table_);
  show(both);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, this);
  for (const bool smooth : {false, true}) {
    auto* button = buttons->addButton(smooth ? tr("Take the smooth ground") : tr("Take the stepped ground"),
                                      QDialogButtonBox::ActionRole);
    button->setObjectName(smooth ? "takeSmooth" : "takeStepped");
    button->setEnabled(!workspace_.readOnly());
    connect(button, &QPushButton::clicked, this, [this, smooth] { take(smooth); });
  }
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  rows->addWidget(buttons);
}

void LevelStepsDialog::show(const project::SteppedAndSmooth& both) {
  report::Table table{"Level areas", {{"Ground"}, {"Cut m³"}, {"Fill m³"}, {"Fill less cut m³"}}, {}};
  const auto row = [&](const QString& name, double cut, double fill) {
    table.rows.push_back({name.toStdString(), cut, fill, fill - cut});
  };
  const auto &s = both.steppedOver, &m = both.smoothOver;
  row(tr("stepped"), s.cut, s.fill);
  row(tr("smooth"), m.cut, m.fill);
  row(tr("smooth less stepped"), m.cut - s.cut, m.fill - s.fill);
  for (report::Column& column : table.columns) column.decimals = 1;
  table_->tell(report::inMeasures(std::move(table), workspace_.project()->measures));
  table_->setVisible(surveyed_);
}

void LevelStepsDialog::take(bool smooth) {
  const project::Project& now = *workspace_.project();
  const ground::BuildRules rules = smooth ? project::smoothRules() : ground::BuildRules();
  const QString name = smooth ? tr("Level areas, smooth") : tr("Level areas, stepped");
  project::SourceData ground = smooth ? project::smoothed(areas_) : project::stepped(areas_);
  project::SourceInfo info;
  info.name = name.toStdString();
  if (!surveyed_) {
    const auto with = project::withSource(now, std::move(info), std::move(ground), now.surveyed());
    workspace_.commit(project::withRules(*with, now.surveyed(), rules), tr("take the level areas for the ground"));
    workspace_.chooseGround(now.surveyed());
  } else {
    const auto with = project::withLooseSource(now, std::move(info), std::move(ground));
    project::FromSources base;
    base.sources = {with->sources.back()->id}, base.rules = rules;
    const GroundId id{with->nextId};
    workspace_.commit(project::withNewGround(*with, name.toStdString(), base, now.finished()), tr("make %1").arg(name));
    workspace_.chooseGround(id);
  }
  accept();
}

}  // namespace inselberg::app
