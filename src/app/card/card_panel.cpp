#include "card/card_panel.h"

#include <QStackedWidget>
#include <QVBoxLayout>

#include "card/ground_card.h"
#include "card/stage_card.h"
#include "card/works_card.h"

namespace inselberg::app {

CardPanel::CardPanel(Workspace& workspace, QWidget* parent) : QWidget(parent), workspace_(workspace) {
  setObjectName("cardPanel");
  setAttribute(Qt::WA_StyledBackground);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(12, 10, 12, 10);
  stack_ = new QStackedWidget(this);
  ground_ = new GroundCard(workspace, this);
  works_ = new WorksCard(workspace, this);
  lines_ = new LineCard(workspace, this);
  stage_ = new StageCard(workspace, this);
  for (QWidget* card : std::initializer_list<QWidget*>{ground_, works_, lines_, stage_}) {
    auto* page = new QWidget(this);
    auto* inner = new QVBoxLayout(page);
    inner->setContentsMargins(0, 0, 0, 0);
    inner->addWidget(card);
    if (card == works_ || card == stage_) inner->addStretch(1);
    stack_->addWidget(page);
  }
  layout->addWidget(stack_);
  connect(ground_, &GroundCard::placeWanted, this, &CardPanel::placeWanted);
  connect(lines_, &LineCard::otherWanted, this, &CardPanel::otherWanted);
  connect(stage_, &StageCard::pitsWanted, this, &CardPanel::pitsWanted);
  connect(stage_, &StageCard::depthsWanted, this, &CardPanel::depthsWanted);
  connect(ground_, &GroundCard::importWanted, this, &CardPanel::importWanted);
  for (const auto signal : {&Workspace::projectChanged, &Workspace::evaluationChanged, &Workspace::selectionChanged}) {
    connect(&workspace_, signal, this, &CardPanel::refresh);
  }
  refresh();
}

void CardPanel::refresh() {
  const auto placed = workspace_.project()->works(workspace_.chosenWorks());
  const bool features = !workspace_.chosenFeatures().empty();
  const bool stage = workspace_.chosenStage().value != 0;
  const int shown = features ? 2 : stage ? 3 : placed.ground ? 1 : 0;
  // Only the card on show takes room, so that a short one does not scroll for the sake of a long one.
  const std::initializer_list<QWidget*> cards{ground_, works_, lines_, stage_};
  for (int i = 0; i < stack_->count(); ++i) cards.begin()[i]->setVisible(i == shown);
  stack_->setCurrentIndex(shown);
  if (features) {
    lines_->refresh();
  } else if (stage) {
    stage_->refresh();
  } else if (placed.ground) {
    works_->refresh();
  } else {
    ground_->refresh();
  }
}

}  // namespace inselberg::app
