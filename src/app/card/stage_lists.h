// The lists of the stages as texts that are typed: one description for the dialog that lists them all and for their
// cards.
#pragma once

#include <QCoreApplication>
#include <QStringList>
#include <functional>
#include <string>
#include <vector>

#include "workspace/workspace.h"

namespace inselberg::app {

struct StageList {
  Q_DECLARE_TR_FUNCTIONS(StageList)

 public:
  QString id, title, says;
  QStringList headings;  // the first is the name
  // The texts of each item, as many as there are headings; "–" where one does not apply.
  std::function<std::vector<QStringList>(const project::Project&)> rows;
  // Takes a typed text for a column of an item. Throws Error for what cannot be.
  std::function<void(project::Stages&, std::size_t row, int column, const std::string& typed)> take;
  std::function<void(project::Stages&, std::size_t row)> remove;
  std::function<void(project::Stages&, const project::Project&)> add;  // none: it is drawn
};

// "strips", "undercuts", "buildUps" (these in the order of project::StageKind), "regions", "materials" and "accuracy".
std::vector<StageList> stageLists();

// Takes an edit of the stages into the project, as one step of undo, where it alters anything.
void changeStages(Workspace& workspace, const std::function<void(project::Stages&)>& edit, const QString& what);

}  // namespace inselberg::app
