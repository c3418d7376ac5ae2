// The right edge of the window: the card of the chosen works, or of the chosen ground.
#pragma once

#include <QWidget>

#include "card/line_card.h"
#include "workspace/workspace.h"

class QStackedWidget;

namespace inselberg::app {

class GroundCard;
class StageCard;
class WorksCard;

class CardPanel : public QWidget {
  Q_OBJECT

 public:
  explicit CardPanel(Workspace& workspace, QWidget* parent = nullptr);

 signals:
  void placeWanted(plane::Vec2 place);  // jump there on the plan
  void importWanted(const QString& path);
  void pitsWanted(WorksId strip);
  void depthsWanted();
  void otherWanted(const QString& what, const inselberg::app::WithOtherLine& then);

 private:
  void refresh();

  Workspace& workspace_;
  QStackedWidget* stack_;
  GroundCard* ground_;
  LineCard* lines_;
  WorksCard* works_;
  StageCard* stage_;
};

}  // namespace inselberg::app
