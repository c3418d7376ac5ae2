// Undo and redo; drawing, choosing and balancing works.
#include "theme/theme.h"
#include "tools/draw_works_tool.h"
#include "tools/select_tool.h"
#include "window/command.h"
#include "window/main_window.h"

namespace inselberg::app {
namespace {

void remove(Workspace& workspace) {
  const auto placed = workspace.project()->works(workspace.chosenWorks());
  if (placed.ground)
    workspace.commit(project::withoutWorks(*workspace.project(), placed.works->id),
                     tr("remove %1").arg(QString::fromStdString(placed.works->name)));
}

// One for each kind of works.
Command drawCommand(MainWindow& w, const works::Kind& kind) {
  const QString id = "draw-" + QString::fromStdString(kind.name);
  const QString name = QString::fromStdString(kind.label).toLower();
  return {.id = id,
          .text = tr("Draw a %1").arg(name),
          .menu = "&Edit",
          .step = "Shape",
          .brief = QString::fromStdString(kind.label),
          .icon = QString::fromStdString(kind.name),
          .key = kind.name == "pad" ? QKeySequence(Qt::Key_P) : QKeySequence(),
          .words = QString::fromStdString(kind.meaning) + " " + tr("place new works design platform slope batter"),
          .run =
              [&w, &kind, id] {
                w.workspace().chooseGround(w.workspace().project()->finished());
                w.showStep("Shape");
                w.use(id, std::make_unique<DrawWorksTool>(w.plan(), kind));
              },
          .enabled = [&w] { return w.can().read && w.can().write; },
          .checked = [&w, id] { return w.inHand() == id; }};
}

}  // namespace

Commands worksCommands(MainWindow& w) {
  Workspace& workspace = w.workspace();
  const project::History& history = workspace.history();
  const auto chosen = [&w] { return w.workspace().chosenWorks().value != 0 && w.can().write; };
  const auto told = [](const QString& what, bool can, const std::string& text) {
    return can ? what + " " + QString::fromStdString(text) : what;
  };
  Commands list{
      {.id = "undo",
       .text = tr("Undo"),
       .menu = "&Edit",
       .icon = "undo",
       .key = QKeySequence::Undo,
       .words = tr("back revert mistake"),
       .run = [&workspace] { workspace.undo(); },
       .enabled = [&history] { return history.canUndo(); },
       .now = [&history, told] { return told(tr("Undo"), history.canUndo(), history.undoText()); }},
      {.id = "redo",
       .text = tr("Redo"),
       .menu = "&Edit",
       .icon = "redo",
       .key = QKeySequence::Redo,
       .words = tr("again forward"),
       .run = [&workspace] { workspace.redo(); },
       .enabled = [&history] { return history.canRedo(); },
       .now = [&history, told] { return told(tr("Redo"), history.canRedo(), history.redoText()); }},
      {.id = "select",
       .text = tr("Choose and shape works"),
       .menu = "&Edit",
       .begins = true,
       .step = "Shape",
       .brief = tr("Choose"),
       .icon = "select",
       .key = Qt::Key_V,
       .words = tr("select pick move drag edit corners handles level"),
       .run = [&w] { w.choose(); },
       .checked = [&w] { return w.inHand() == "select"; }},
  };
  for (const works::Kind* kind : works::standardKinds()) list.push_back(drawCommand(w, *kind));
  list.push_back({.id = "remove",
                  .text = tr("Remove the chosen works"),
                  .menu = "&Edit",
                  .words = tr("delete erase pad"),
                  .run = [&workspace] { remove(workspace); },
                  .enabled = chosen});
  list.push_back({.id = "balance",
                  .text = tr("Balance"),
                  .menu = "&Edit",
                  .begins = true,
                  .step = "Balance",
                  .icon = "balance",
                  .key = Qt::Key_B,
                  .words = tr("level cut equals fill earthwork volume optimise"),
                  .run = [&workspace] { workspace.balance(workspace.chosenWorks()); },
                  .enabled = chosen});
  return list;
}

}  // namespace inselberg::app
