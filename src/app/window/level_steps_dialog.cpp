#include "window/level_steps_dialog.h"

#include <QDialogButtonBox>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

#include "base/quantity.h"

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
  table_ = new QTableWidget(3, 4, this);
  table_->setObjectName("levelStepsTable");
  table_->setHorizontalHeaderLabels({tr("Ground"), tr("Cut m³"), tr("Fill m³"), tr("Fill less cut m³")});
  table_->verticalHeader()->hide();
  table_->setShowGrid(false);
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
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
  const auto &s = both.steppedOver, &m = both.smoothOver;
  const struct {
    QString name;
    double cut, fill;
  } lines[] = {{tr("stepped"), s.cut, s.fill},
               {tr("smooth"), m.cut, m.fill},
               {tr("smooth less stepped"), m.cut - s.cut, m.fill - s.fill}};
  for (int row = 0; row < 3; ++row) {
    const auto& [name, cut, fill] = lines[row];
    int column = 0;
    for (const QString& cell :
         {name, QString::fromStdString(formatNumber(cut, 1)), QString::fromStdString(formatNumber(fill, 1)),
          QString::fromStdString(formatNumber(fill - cut, 1))}) {
      auto* item = new QTableWidgetItem(cell);
      item->setTextAlignment((column == 0 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
      table_->setItem(row, column++, item);
    }
  }
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
