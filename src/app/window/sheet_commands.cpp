// Plan sheets: bringing them in, and taking what is drawn on them.
#include <QFileDialog>
#include <QFileInfo>
#include <QSettings>
#include <algorithm>

#include "project/features.h"
#include "sheet/document.h"
#include "sheets/sheets_dialog.h"
#include "tools/take_tool.h"
#include "window/bring_sheet.h"
#include "window/command.h"
#include "window/main_window.h"

namespace inselberg::app {
namespace {

void bring(MainWindow& w) {
  QSettings settings;
  const QStringList paths =
      QFileDialog::getOpenFileNames(&w, tr("Bring in plan sheets"), settings.value("folder").toString(),
                                    tr("Plan sheets (*.pdf *.png *.jpg *.jpeg *.tif *.tiff);;All files (*)"));
  if (paths.isEmpty()) return;
  settings.setValue("folder", QFileInfo(paths.front()).path());
  for (const QString& path : paths) {
    if (!bringSheet(w, path)) return;
  }
}

void showSheets(MainWindow& w) {
  SheetsDialog dialog(w.workspace(), w.plan().view().visible(), &w);
  QObject::connect(&dialog, &SheetsDialog::placeWanted, &w, [&w](project::SheetId id) { placeSheet(w, id); });
  QObject::connect(&dialog, &SheetsDialog::bringWanted, &w, [&w] { bring(w); });
  dialog.exec();
}

bool allHidden(const project::Project& project) {
  return !project.sheets.empty() &&
         std::all_of(project.sheets.begin(), project.sheets.end(), [](const auto& s) { return s->hidden; });
}

void hideSheets(Workspace& workspace, bool hide) {
  project::ProjectPtr next = workspace.project();
  for (const auto& s : workspace.project()->sheets) {
    project::SheetInfo info = *s;
    info.hidden = hide;
    next = project::withSheetInfo(*next, s->id, std::move(info));
  }
  workspace.commit(std::move(next), hide ? tr("hide the plan sheets") : tr("show the plan sheets"));
}

// Levels that stand on the sheets that are shown, as points of a source for each.
void takeLevels(MainWindow& w) {
  Workspace& workspace = w.workspace();
  const project::Project& now = *workspace.project();
  const project::Ground& into = workspace.drawnInto();
  project::ProjectPtr next = workspace.project();
  std::size_t count = 0;
  for (const project::PlanSheetPtr& sheet : now.sheets) {
    const auto lines = workspace.sheetContents().of(*sheet);
    if (!lines) continue;
    const plane::Box part = project::shownPart(*sheet);
    const sheet::Placement back = sheet->placement.inverse();
    std::vector<ground::Breakline> points;
    for (const sheet::SpotText& spot : lines->spots()) {
      if (part.contains(back(spot.at))) points.push_back({{{spot.at.x, spot.at.y, spot.level}}, false, false});
    }
    count += points.size();
    if (!points.empty())
      next = project::withTaken(*next, project::FeatureKind::point, points, into.id, sheet->name + ", " + into.name);
  }
  if (count == 0) {
    w.messages().say(tr("No levels stand on the sheets that are shown: numbers with decimals are taken as such."),
                     true);
    return;
  }
  w.view().alter([](Shown& s) { s.sources = true; });
  workspace.commit(std::move(next), tr("take levels off sheets"));
  w.messages().say(tr("%1 levels are points of %2 now. Look for mistyped ones among its doubts.")
                       .arg(count)
                       .arg(QString::fromStdString(into.name)),
                   false);
}

double intervalOf(MainWindow& w) {
  const auto* g = w.workspace().evaluation()->ground(w.workspace().chosenGround());
  if (g && g->tin && !g->tin->empty()) return w.contourInterval(*g->tin);
  return w.view().shown().interval > 0 ? w.view().shown().interval : 0.5;
}

}  // namespace

Commands sheetCommands(MainWindow& w) {
  Workspace& workspace = w.workspace();
  const auto any = [&workspace] { return !workspace.project()->sheets.empty(); };
  const auto takes = [&w, any] { return w.can().write && any(); };
  const auto base = [&](const char* id, const QString& text, const QString& words) {
    return Command{.id = id,
                   .text = text,
                   .menu = "&Survey",
                   .step = "Gather",
                   .button = "Sheets",
                   .icon = "sheet",
                   .words = words};
  };
  const auto plain = [&](const char* id, const QString& text, const QString& words, std::function<void()> run,
                         std::function<bool()> enabled) {
    Command command = base(id, text, words);
    command.run = std::move(run);
    command.enabled = std::move(enabled);
    return command;
  };
  const auto tool = [&](const char* id, const QString& text, const QString& words,
                        std::function<std::unique_ptr<Tool>()> make) {
    Command command = base(id, text, words);
    command.enabled = takes;
    command.run = [&w, id, make = std::move(make)] { w.use(id, make()); };
    command.checked = [&w, id] { return w.inHand() == id; };
    return command;
  };
  const auto take = [&](const char* id, const QString& text, const QString& words, TakenAs as) {
    return tool(id, text, words, [&w, as] { return std::make_unique<TakeTool>(w.plan(), as, intervalOf(w)); });
  };
  Command bringIn = plain(
      "bringSheet", tr("Bring in a plan sheet…"), tr("pdf scan picture image drawing underlay raster import"),
      [&w] { bring(w); }, [&w] { return w.can().write; });
  bringIn.begins = true;
  Command hide = plain(
      "hideSheets", tr("Hide the plan sheets"), tr("show visible underlay"),
      [&workspace] { hideSheets(workspace, !allHidden(*workspace.project())); }, takes);
  hide.icon = "eye";
  hide.key = Qt::Key_A;
  hide.checked = [&workspace] { return allHidden(*workspace.project()); };
  Command levels = tool("setLevels", tr("Set levels across contours"), tr("stroke order interval number"),
                        [&w] { return std::make_unique<LevelsTool>(w.plan(), intervalOf(w)); });
  levels.enabled = [&w] { return w.can().write && !w.workspace().project()->sources.empty(); };
  levels.key = Qt::Key_Z;
  return {
      bringIn,
      plain("sheets", tr("Plan sheets…"), tr("list place scale opacity order crop lock doubt"), [&w] { showSheets(w); },
            {}),
      hide,
      take("takeContours", tr("Take contours off a sheet"), tr("trace digitise lines level pdf"), TakenAs::contour),
      take("takeBreaklines", tr("Take breaklines off a sheet"), tr("trace digitise lines pdf"), TakenAs::breakline),
      take("takeBoundary", tr("Take a boundary off a sheet"), tr("trace outline limit pdf"), TakenAs::boundary),
      take("takeVoid", tr("Take voids off a sheet"), tr("trace hole building pdf"), TakenAs::voids),
      take("takePads", tr("Take pads off a sheet"), tr("trace building platform works pdf"), TakenAs::pad),
      plain(
          "takeLevels", tr("Take the levels off the sheets"), tr("spot numbers texts points pdf"),
          [&w] { takeLevels(w); }, takes),
      levels,
  };
}

}  // namespace inselberg::app
