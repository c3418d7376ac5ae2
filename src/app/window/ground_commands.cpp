// New grounds from others, kept up with them.
#include <QInputDialog>
#include <QLineEdit>

#include "base/error.h"
#include "project/redraw.h"
#include "window/command.h"
#include "window/level_steps_dialog.h"
#include "window/main_window.h"
#include "window/message_strip.h"
#include "works/area_works.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

void derive(MainWindow& w, const QString& name, project::Derived base, GroundId after) {
  const project::Project& project = *w.workspace().project();
  const GroundId id{project.nextId};
  w.workspace().commit(project::withNewGround(project, name.toStdString(), std::move(base), after),
                       tr("make %1").arg(name));
  w.workspace().chooseGround(id);
}

void shift(MainWindow& w) {
  const GroundId of = w.workspace().chosenGround();
  const auto by = lengths::ask(&w, tr("Shift %1").arg(w.chosenGroundName()), tr("Up (minus: down)"), -0.3, -1000, 1000);
  if (by) derive(w, tr("%1 shifted").arg(w.chosenGroundName()), {{of}, project::Shift{*by}}, of);
}

void simplify(MainWindow& w) {
  const GroundId of = w.workspace().chosenGround();
  const auto within =
      lengths::ask(&w, tr("Simplify %1").arg(w.chosenGroundName()), tr("Stay within"), 0.05, -1000, 1000);
  if (within && *within > 0)
    derive(w, tr("%1 simplified").arg(w.chosenGroundName()), {{of}, project::Simplify{*within}}, of);
}

// The outline is the chosen boundary or void, or the chosen works'.
void keep(MainWindow& w, bool inside) {
  const GroundId of = w.workspace().chosenGround();
  const auto chosen = w.chosenOutline();
  if (!chosen) {
    w.messages().say(tr("Choose the outline first: a closed line, boundary or void, or works."), true);
    return;
  }
  w.guarded([&] {
    const plane::Polygon polygon = plane::sound(*chosen, w.workspace().project()->origin);
    derive(w, (inside ? tr("%1 inside") : tr("%1 outside")).arg(w.chosenGroundName()),
           {{of}, project::Keep{polygon, inside}}, of);
  });
}

void combine(MainWindow& w, quantity::Combine rule, const QString& title) {
  const auto other = w.askForOther(title, tr("%1 with").arg(w.chosenGroundName()));
  if (!other) return;
  const GroundId of = w.workspace().chosenGround();
  const project::ProjectPtr project = w.workspace().project();
  // It comes after both.
  GroundId after = of;
  for (const auto& g : project->column) {
    if (g->id == of || g->id == *other) after = g->id;
  }
  const QString with = QString::fromStdString(project->ground(*other)->name);
  derive(w, tr("%1 and %2").arg(w.chosenGroundName(), with), {{of, *other}, project::CombineAs{rule}}, after);
}

void freeze(MainWindow& w) {
  Workspace& workspace = w.workspace();
  const GroundId of = workspace.chosenGround();
  const QString name = w.chosenGroundName();
  w.guarded([&] {
    const project::ProjectPtr now = workspace.project();
    const ground::TinPtr tin = workspace.evaluation()->ground(of)->tin;
    project::ProjectPtr next;
    workspace.doLong(tr("Freezing %1").arg(name), [&](const Progress&) {
      next = project::withFrozen(*now, of, *tin, tr("%1 before").arg(name).toStdString());
    });
    workspace.commit(next, tr("freeze %1").arg(name));
    w.messages().say(tr("%1 is kept as it is now. What changes in %1 from here on is told between the two in the "
                        "column, beside the totals.")
                         .arg(name),
                     false);
  });
}

void redraw(MainWindow& w) {
  Workspace& workspace = w.workspace();
  const GroundId of = workspace.chosenGround();
  w.guarded([&] {
    const project::ProjectPtr now = workspace.project();
    const ground::TinPtr tin = workspace.evaluation()->ground(of)->tin;
    const double interval = w.contourInterval(*tin);
    project::Redrawn made;
    workspace.doLong(tr("Redrawing %1").arg(w.chosenGroundName()), [&](const Progress& progress) {
      made = project::withRedrawn(*now, of, *tin, interval, progress);
    });
    workspace.commit(made.project, tr("redraw %1").arg(w.chosenGroundName()));
    workspace.chooseGround(made.ground);
    w.messages().say(tr("Its contours are lines of your own now: choose them with E and move them."), false);
  });
}

void moveInColumn(MainWindow& w, int by) {
  const project::Project& project = *w.workspace().project();
  const GroundId of = w.workspace().chosenGround();
  const auto& column = project.column;
  const auto it = std::find_if(column.begin(), column.end(), [&](const auto& g) { return g->id == of; });
  const auto to = it - column.begin() + by;
  if (it == column.end() || to < 0 || to >= static_cast<std::ptrdiff_t>(column.size())) return;
  w.workspace().commit(project::withGroundAt(project, of, static_cast<std::size_t>(to)),
                       tr("move %1 in the column").arg(w.chosenGroundName()));
}

void remove(MainWindow& w) {
  const GroundId of = w.workspace().chosenGround();
  const QString name = w.chosenGroundName();
  w.workspace().commit(project::withoutGround(*w.workspace().project(), of), tr("remove %1").arg(name));
}

// A ground that nothing is in yet; what is drawn and taken goes into it while it is chosen.
void begin(MainWindow& w) {
  bool given = false;
  const QString name =
      QInputDialog::getText(&w, tr("A ground to draw"), tr("Its name"), QLineEdit::Normal, tr("proposed"), &given)
          .trimmed();
  if (!given || name.isEmpty()) return;
  const project::Project& project = *w.workspace().project();
  const GroundId id{project.nextId};
  w.workspace().commit(project::withNewGround(project, name.toStdString(), project::FromSources{}, project.surveyed()),
                       tr("begin %1").arg(name));
  w.workspace().chooseGround(id);
  w.messages().say(
      tr("While %1 is chosen, what is drawn or taken off sheets goes into it. Then Grounds \u203a Lay into "
         "the finished ground.")
          .arg(w.chosenGroundName()),
      false);
}

// Over the finished ground wherever it reaches.
void layIn(MainWindow& w) {
  const project::Project& project = *w.workspace().project();
  const QString name = w.chosenGroundName();
  works::Inlay inlay;
  inlay.ground = {name.toStdString(), nullptr};
  const WorksId id{project.nextId};
  w.workspace().commit(
      project::withNewWorks(project, project.finished(), tr("%1 laid in").arg(name).toStdString(), std::move(inlay)),
      tr("lay in %1").arg(name));
  w.workspace().chooseWorks(id);
}

// The surveyed and the finished ground, and one that others are made from, stay.
bool removable(const Workspace& workspace) {
  const project::Project& project = *workspace.project();
  const GroundId chosen = workspace.chosenGround();
  return project.surveyed() != chosen && project.finished() != chosen && !project::isUsed(project, chosen);
}

}  // namespace

Commands groundCommands(MainWindow& w) {
  const auto makes = [&w] { return w.can().write && w.can().useChosen; };
  const auto twos = [&w, makes] { return makes() && w.workspace().project()->column.size() > 1; };
  const auto command = [&](const char* id, const QString& text, const QString& words, std::function<void()> run,
                           std::function<bool()> enabled, bool begins = false) {
    return Command{.id = id,
                   .text = text,
                   .menu = "&Grounds",
                   .begins = begins,
                   .words = words,
                   .run = std::move(run),
                   .enabled = std::move(enabled)};
  };
  return {
      command(
          "shiftGround", tr("Shift…"), tr("raise lower offset up down copy surface"), [&w] { shift(w); }, makes),
      command(
          "simplifyGround", tr("Simplify…"), tr("thin fewer triangles reduce decimate surface"), [&w] { simplify(w); },
          makes),
      command(
          "keepInside", tr("Keep inside the chosen outline"), tr("clip trim cut boundary surface"),
          [&w] { keep(w, true); }, makes, true),
      command(
          "keepOutside", tr("Keep outside the chosen outline"), tr("clip trim cut hole surface"),
          [&w] { keep(w, false); }, makes),
      command(
          "combineOver", tr("Lay another ground over…"), tr("merge paste combine surfaces"),
          [&w] { combine(w, quantity::Combine::over, tr("Lay over")); }, twos, true),
      command(
          "combineLower", tr("Lower of two…"), tr("minimum combine merge surfaces"),
          [&w] { combine(w, quantity::Combine::lower, tr("Lower of two")); }, twos),
      command(
          "combineHigher", tr("Higher of two…"), tr("maximum combine merge surfaces"),
          [&w] { combine(w, quantity::Combine::higher, tr("Higher of two")); }, twos),
      command(
          "newGround", tr("A ground to draw…"), tr("new empty proposed contours own surface trace"), [&w] { begin(w); },
          [&w] { return w.can().write; }, true),
      command(
          "layIn", tr("Lay into the finished ground"), tr("inlay proposed surface set in total"), [&w] { layIn(w); },
          [&w] {
            const project::Ground* chosen = w.workspace().project()->ground(w.workspace().chosenGround());
            return w.can().write && chosen && !project::isStage(chosen->role);
          }),
      command(
          "levelSteps", tr("Level areas as a ground…"), tr("stepped smooth contours between steps flats surface"),
          [&w] { w.guarded([&] { LevelStepsDialog(w.workspace(), &w).exec(); }); },
          [&w] { return w.can().write && !project::flatAreasOf(*w.workspace().project()).empty(); }, true),
      command(
          "redraw", tr("Redraw from contours"), tr("rebuild lines edit levels surface"), [&w] { redraw(w); }, makes,
          true),
      command(
          "freeze", tr("Freeze as it is now"), tr("keep copy snapshot compare before"), [&w] { freeze(w); }, makes,
          true),
      command(
          "groundUp", tr("Move the chosen ground up in the column"), tr("reorder order band"),
          [&w] { moveInColumn(w, 1); }, [&w] { return w.can().write; }, true),
      command(
          "groundDown", tr("Move the chosen ground down in the column"), tr("reorder order band"),
          [&w] { moveInColumn(w, -1); }, [&w] { return w.can().write; }),
      command(
          "removeGround", tr("Remove the chosen ground"), tr("delete surface"), [&w] { remove(w); },
          [&w] { return w.can().write && removable(w.workspace()); }),
  };
}

}  // namespace inselberg::app
