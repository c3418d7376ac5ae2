// Undo and redo; drawing, choosing and balancing works.
#include <QInputDialog>
#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "card/sections_dialog.h"
#include "plane/offset.h"
#include "project/stage_place.h"
#include "theme/theme.h"
#include "tools/draw_places_tool.h"
#include "tools/select_tool.h"
#include "window/balance_dialog.h"
#include "window/command.h"
#include "window/limits_dialog.h"
#include "window/main_window.h"
#include "window/rows_dialog.h"
#include "works/spillway.h"
#include "works/transform.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

void remove(Workspace& workspace) {
  const auto placed = workspace.project()->works(workspace.chosenWorks());
  if (placed.ground)
    workspace.commit(project::withoutWorks(*workspace.project(), placed.works->id),
                     tr("remove %1").arg(QString::fromStdString(placed.works->name)));
}

// One for the window, which stays in use beside it.
void showSections(MainWindow& w) {
  auto* dialog = w.findChild<SectionsDialog*>();
  if (!dialog) dialog = new SectionsDialog(w.workspace(), w.view(), &w);
  dialog->show();
  dialog->raise();
  dialog->activateWindow();
}

// The chosen works, strip, undercut or build-up; 0: none.
WorksId ofColumn(const Workspace& workspace) {
  return workspace.chosenStage() ? workspace.chosenStage() : workspace.chosenWorks();
}

bool isLeftOut(const Workspace& workspace) {
  const WorksId id = ofColumn(workspace);
  if (const auto placed = workspace.project()->works(id); placed.works) return placed.works->leftOut;
  const project::Stages& stages = workspace.project()->stages;
  const auto at = project::placeOf(stages, id);
  return at && project::withListOf(stages, at->kind, [&](const auto& list) { return list[at->place].leftOut; });
}

// A name of the first's that no works of the ground has yet: the copy of a copy is another of the first.
std::string nameOfCopy(const project::Project& project, GroundId ground, const std::string& name) {
  const std::string start = name.substr(0, name.rfind(" copy")) + " copy";
  std::string free = start;
  const auto taken = [&] {
    const auto& all = project.ground(ground)->works;
    return std::any_of(all.begin(), all.end(), [&](const project::WorksPtr& w) { return w->name == free; });
  };
  for (int i = 2; taken(); ++i) free = start + " " + std::to_string(i);
  return free;
}

// Copies of the chosen works, moved by so much; chooses the last.
void copyBy(Workspace& workspace, const std::vector<plane::Vec2>& shifts) {
  const auto placed = workspace.project()->works(workspace.chosenWorks());
  if (!placed.ground || shifts.empty()) return;
  project::ProjectPtr project = workspace.project();
  WorksId last;
  for (const plane::Vec2 by : shifts) {
    last = WorksId{project->nextId};
    project =
        project::withNewWorks(*project, placed.ground->id, nameOfCopy(*project, placed.ground->id, placed.works->name),
                              works::shifted(placed.works->shape, by));
  }
  workspace.commit(project, tr("copy %1").arg(QString::fromStdString(placed.works->name)));
  workspace.chooseWorks(last);
}

constexpr double kGap = 5;  // m between a works and its copy

void copy(Workspace& workspace) {
  const auto placed = workspace.project()->works(workspace.chosenWorks());
  if (placed.ground) copyBy(workspace, {{works::boundsOf(placed.works->shape).width() + kGap, 0}});
}

void copyInRows(MainWindow& w) {
  const auto placed = w.workspace().project()->works(w.workspace().chosenWorks());
  if (!placed.ground) return;
  const plane::Box box = works::boundsOf(placed.works->shape);
  RowsDialog dialog(QString::fromStdString(placed.works->name), std::ceil(std::max(box.width(), box.height()) + kGap),
                    &w);
  if (dialog.exec() == QDialog::Accepted) copyBy(w.workspace(), dialog.shifts());
}

// A pad at the level of the chosen works, its outline that one's moved out.
void drawAround(MainWindow& w) {
  Workspace& workspace = w.workspace();
  const auto placed = workspace.project()->works(workspace.chosenWorks());
  const plane::Ring outline = placed.ground ? works::outlineOf(placed.works->shape) : plane::Ring();
  if (outline.empty()) return;
  const auto by = lengths::ask(&w, tr("Pad around"), tr("Out from its outline (inwards below zero)"), lengths::nudge(2),
                               -1000, 1000);
  if (!by) return;
  const auto parts = plane::offset({outline, {}}, *by, plane::OffsetCorners::square);
  if (parts.size() != 1) {
    Q_EMIT workspace.message(parts.empty() ? tr("Nothing is left so far inside. Try less.")
                                           : tr("So far inside the outline falls apart. Try less."),
                             true);
    return;
  }
  works::Pad pad{parts[0].outer, works::levelOf(placed.works->shape).value_or(0), {}};
  works::Shape shape = pad;
  const auto* ground = workspace.evaluation()->ground(placed.ground->id);
  if (!works::levelOf(placed.works->shape) && ground && ground->tin) shape = works::startedOn(shape, *ground->tin);
  const WorksId id{workspace.project()->nextId};
  const std::string name = "Around " + placed.works->name;
  workspace.commit(project::withNewWorks(*workspace.project(), placed.ground->id, name, shape),
                   tr("draw %1").arg(QString::fromStdString(name)));
  workspace.chooseWorks(id);
}

// A channel over the crest of the chosen pond, placed after it.
void addSpillway(MainWindow& w) {
  Workspace& workspace = w.workspace();
  const auto* placed = workspace.evaluation()->works(workspace.chosenWorks());
  const auto* pond = placed ? placed->works->shape.as<works::Pond>() : nullptr;
  if (!pond) return;
  const double start = pond->hasWater() ? pond->water : pond->top - std::min(0.5, (pond->top - pond->bottom) / 4);
  constexpr double kWide = 2;  // m
  const auto level =
      lengths::ask(&w, tr("Spillway"), tr("Level at which the water leaves, %1 wide").arg(lengths::told(kWide, 2)),
                   start, pond->bottom, pond->top);
  if (!level) return;
  w.guarded([&] {
    const project::Project& project = *workspace.project();
    const WorksId id{project.nextId};
    const std::string name = "Spillway of " + placed->works->name;
    workspace.commit(project::withNewWorks(project, project.works(placed->works->id).ground->id, name,
                                           works::spillwayOf(*pond, *placed->placement, *placed->under, kWide, *level)),
                     tr("draw %1").arg(QString::fromStdString(name)));
    workspace.chooseWorks(id);
  });
}

void change(Workspace& workspace, const QString& what, const std::function<works::Shape(const works::Shape&)>& edit) {
  const auto placed = workspace.project()->works(workspace.chosenWorks());
  if (!placed.ground) return;
  works::Works changed = *placed.works;
  changed.shape = edit(placed.works->shape);
  workspace.commit(project::withWorks(*workspace.project(), changed), what.arg(QString::fromStdString(changed.name)));
}

void turn(MainWindow& w) {
  bool given = false;
  const double degrees = QInputDialog::getDouble(&w, tr("Turn"), tr("Degrees clockwise, about its middle"), 90, -360,
                                                 360, 3, &given, Qt::WindowFlags(), 5);
  if (given)
    change(w.workspace(), tr("turn %1"),
           [&](const works::Shape& s) { return works::turned(s, works::middleOf(s), degrees); });
}

void roundCorners(MainWindow& w) {
  const auto radius = lengths::ask(&w, tr("Round the corners"), tr("Radius"), lengths::nudge(3), 0.01, 1000);
  if (!radius) return;
  try {
    change(w.workspace(), tr("round %1"), [&](const works::Shape& s) { return works::rounded(s, *radius); });
  } catch (const Error& e) {
    Q_EMIT w.workspace().message(tr("The corners stay as they are: %1").arg(QString::fromUtf8(e.what())), true);
  }
}

// One for each works that is offered.
Command drawCommand(MainWindow& w, const works::Offer& offer) {
  const works::Kind& kind = offer.fresh.kind();
  const works::KindNames& names = offer.names;
  const QString id = "draw-" + QString::fromStdString(names.name);
  const QString name = QString::fromStdString(names.label).toLower();
  const bool areas = std::any_of(kind.fields().begin(), kind.fields().end(),
                                 [](const works::Field& f) { return f.measure == works::Measure::outline; });
  return {.id = id,
          .text = (names.name == "inlay" ? tr("Draw an %1") : tr("Draw a %1")).arg(name),
          .menu = "&Edit",
          .step = "Shape",
          .button = areas ? "Area" : "Line",
          .brief = QString::fromStdString(names.label),
          .says = QString::fromStdString(names.meaning),
          .icon = QString::fromStdString(names.name),
          .key = names.name == "pad" ? QKeySequence(Qt::Key_P) : QKeySequence(),
          .words = QString::fromStdString(names.meaning) + " " + tr("place new works design platform slope batter"),
          .run =
              [&w, offer, id] {
                w.workspace().chooseGround(w.workspace().project()->finished());
                w.showStep("Shape");
                w.use(id, std::make_unique<DrawPlacesTool>(w.plan(), worksToDraw(w.plan(), offer)));
              },
          // A level that is typed needs no ground.
          .enabled = [&w, &kind] { return w.can().write && (w.can().read || kind.name == "level_area"); },
          .checked = [&w, id] { return w.inHand() == id; }};
}

}  // namespace

Commands worksCommands(MainWindow& w) {
  Workspace& workspace = w.workspace();
  const project::History& history = workspace.history();
  const auto chosen = [&w] { return w.workspace().chosenWorks().value != 0 && w.can().write; };
  const auto isMarked = [&workspace](bool works::Works::*mark) {
    return [&workspace, mark] {
      const auto placed = workspace.project()->works(workspace.chosenWorks());
      return placed.works && (*placed.works).*mark;
    };
  };
  const auto isHeld = isMarked(&works::Works::held);
  const auto free = [chosen, isHeld] { return chosen() && !isHeld(); };
  const auto told = [](const QString& what, const std::string& text) {
    return (what + " " + QString::fromStdString(text)).trimmed();
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
       .now = [&history, told] { return told(tr("Undo"), history.undoText()); }},
      {.id = "redo",
       .text = tr("Redo"),
       .menu = "&Edit",
       .icon = "redo",
       .key = QKeySequence::Redo,
       .words = tr("again forward"),
       .run = [&workspace] { workspace.redo(); },
       .enabled = [&history] { return history.canRedo(); },
       .now = [&history, told] { return told(tr("Redo"), history.redoText()); }},
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
  for (const works::Offer& offer : works::offers()) list.push_back(drawCommand(w, offer));
  list.push_back({.id = "sections",
                  .text = tr("Typical sections…"),
                  .menu = "&Edit",
                  .step = "Shape",
                  .brief = tr("Sections"),
                  .icon = "section",
                  .words = tr("leg batter template road bank cross profile bench"),
                  .run = [&w] { showSections(w); },
                  .enabled = [&w] { return w.can().write; }});
  list.push_back({.id = "limits",
                  .text = tr("Limits of the design…"),
                  .menu = "&Edit",
                  .words = tr("steepest slope least fall freeboard drain building check doubts"),
                  .run = [&w] { LimitsDialog(w.workspace(), &w).exec(); },
                  .enabled = [&w] { return w.can().write; }});
  list.push_back({.id = "remove",
                  .text = tr("Remove the chosen works"),
                  .menu = "&Edit",
                  .words = tr("delete erase pad"),
                  .run = [&workspace] { remove(workspace); },
                  .enabled = free});
  list.push_back({.id = "holdWorks",
                  .text = tr("Hold the chosen works in place"),
                  .menu = "&Edit",
                  .words = tr("freeze lock pin still fix"),
                  .run = [&workspace] { workspace.holdOrLetGo(workspace.chosenWorks()); },
                  .enabled = chosen,
                  .checked = isHeld});
  list.push_back({.id = "leaveOutWorks",
                  .text = tr("Leave out what is chosen"),
                  .menu = "&Edit",
                  .words = tr("turn off exclude without takes part works strip undercut build-up"),
                  .run = [&workspace] { workspace.leaveOutOrTakeIn(ofColumn(workspace)); },
                  .enabled = [&w] { return ofColumn(w.workspace()).value != 0 && w.can().write; },
                  .checked = [&workspace] { return isLeftOut(workspace); }});
  list.push_back({.id = "hideWorks",
                  .text = tr("Hide the chosen works"),
                  .menu = "&Edit",
                  .words = tr("invisible lines eye conceal"),
                  .run = [&workspace] { workspace.hideOrShow(workspace.chosenWorks()); },
                  .enabled = chosen,
                  .checked = isMarked(&works::Works::hidden)});
  list.push_back({.id = "showAllWorks",
                  .text = tr("Show all works"),
                  .menu = "&Edit",
                  .words = tr("unhide visible lines eye"),
                  .run = [&workspace] { workspace.showAllWorks(); },
                  .enabled =
                      [&w] {
                        const auto& column = w.workspace().project()->column;
                        return w.can().write && std::any_of(column.begin(), column.end(), [](const auto& ground) {
                                 return std::any_of(ground->works.begin(), ground->works.end(),
                                                    [](const auto& works) { return works->hidden; });
                               });
                      }});
  list.push_back({.id = "copyWorks",
                  .text = tr("Copy the chosen works"),
                  .menu = "&Edit",
                  .begins = true,
                  .icon = "copy",
                  .key = QKeySequence(Qt::CTRL | Qt::Key_D),
                  .words = tr("duplicate repeat another pad"),
                  .run = [&workspace] { copy(workspace); },
                  .enabled = chosen});
  list.push_back({.id = "rowsOfWorks",
                  .text = tr("Copies of the chosen works in rows…"),
                  .menu = "&Edit",
                  .words = tr("array grid repeat several"),
                  .run = [&w] { copyInRows(w); },
                  .enabled = chosen});
  list.push_back({.id = "padAround",
                  .text = tr("Pad around the chosen works…"),
                  .menu = "&Edit",
                  .words = tr("offset outline parallel margin"),
                  .run = [&w] { drawAround(w); },
                  .enabled =
                      [&w, chosen] {
                        const auto placed = w.workspace().project()->works(w.workspace().chosenWorks());
                        return chosen() && placed.ground && !works::outlineOf(placed.works->shape).empty();
                      }});
  list.push_back({.id = "spillway",
                  .text = tr("Spillway for the chosen pond…"),
                  .menu = "&Edit",
                  .words = tr("overflow notch outlet weir"),
                  .run = [&w] { addSpillway(w); },
                  .enabled =
                      [&w, chosen] {
                        const auto placed = w.workspace().project()->works(w.workspace().chosenWorks());
                        return chosen() && placed.ground && placed.works->shape.as<works::Pond>() &&
                               w.workspace().upToDate();
                      }});
  list.push_back({.id = "roundCorners",
                  .text = tr("Round the corners of the chosen works…"),
                  .menu = "&Edit",
                  .words = tr("radius fillet arc curve"),
                  .run = [&w] { roundCorners(w); },
                  .enabled = free});
  list.push_back({.id = "turnWorks",
                  .text = tr("Turn the chosen works…"),
                  .menu = "&Edit",
                  .words = tr("rotate angle bearing pad"),
                  .run = [&w] { turn(w); },
                  .enabled = free});
  list.push_back({.id = "mirrorWorks",
                  .text = tr("Mirror the chosen works"),
                  .menu = "&Edit",
                  .words = tr("reflect east west pad"),
                  .run =
                      [&workspace] {
                        change(workspace, tr("mirror %1"),
                               [](const works::Shape& s) { return works::mirrored(s, works::middleOf(s), 0); });
                      },
                  .enabled = free});
  list.push_back({.id = "balance",
                  .text = tr("Balance"),
                  .menu = "&Edit",
                  .begins = true,
                  .step = "Balance",
                  .icon = "balance",
                  .key = Qt::Key_B,
                  .words = tr("level cut equals fill earthwork volume optimise"),
                  .run = [&workspace] { workspace.balance(workspace.chosenWorks()); },
                  .enabled = free});
  list.push_back({.id = "balanceSite",
                  .text = tr("Balance the site…"),
                  .menu = "&Edit",
                  .step = "Balance",
                  .brief = tr("Site"),
                  .icon = "balance",
                  .key = QKeySequence(Qt::SHIFT | Qt::Key_B),
                  .words = tr("several works shift surplus import export shrinkage factors materials strip"),
                  .run = [&w] { BalanceDialog(w.workspace(), &w).exec(); },
                  .enabled = [&w] { return w.can().write && w.can().read && w.workspace().upToDate(); }});
  return list;
}

}  // namespace inselberg::app
