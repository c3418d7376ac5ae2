// Drawing, editing and mending what grounds are built from, and reading them.
#include <algorithm>

#include "tools/contour_tool.h"
#include "tools/draw_line_tool.h"
#include "tools/edit_line_tool.h"
#include "tools/measure_tool.h"
#include "tools/mend_tool.h"
#include "window/command.h"
#include "window/main_window.h"
#include "window/message_strip.h"

namespace inselberg::app {
namespace {

using MakeTool = std::function<std::unique_ptr<Tool>()>;

// A command that takes a tool in hand.
Command toolCommand(MainWindow& w, Command command, MakeTool make) {
  command.run = [&w, id = command.id, make = std::move(make)] { w.use(id, make()); };
  command.checked = [&w, id = command.id] { return w.inHand() == id; };
  return command;
}

std::unique_ptr<Tool> drawing(MainWindow& w, Drawn kind) {
  const auto* g = w.workspace().evaluation()->ground(w.workspace().chosenGround());
  const double interval = g && g->tin ? w.contourInterval(*g->tin) : std::max(1.0, w.view().shown().interval);
  return std::make_unique<DrawLineTool>(w.plan(), kind, interval);
}

std::unique_ptr<Tool> mending(MainWindow& w, Mending kind) {
  w.view().alter([](Shown& s) { s.triangles = true; });
  return std::make_unique<MendTool>(w.plan(), kind);
}

void startDrawnSource(MainWindow& w) {
  const auto& project = *w.workspace().project();
  const auto drawn =
      std::count_if(project.sources.begin(), project.sources.end(), [](const auto& s) { return s->file.empty(); });
  project::SourceInfo info;
  info.name = tr("drawn %1").arg(drawn + 1).toStdString();
  w.workspace().commit(project::withSource(project, std::move(info), {}, w.workspace().drawnInto().id),
                       tr("start a new drawn source"));
  w.messages().say(tr("What is drawn from now on goes to a source of its own."), false);
}

bool anyDrawn(const project::Project& project) {
  return std::any_of(project.sources.begin(), project.sources.end(), [](const auto& s) { return s->file.empty(); });
}

bool drawnIsHidden(const project::Project& project) {
  return anyDrawn(project) && std::all_of(project.sources.begin(), project.sources.end(),
                                          [](const auto& s) { return !s->file.empty() || s->hidden; });
}

void hideDrawn(Workspace& workspace, bool hide) {
  project::ProjectPtr next = workspace.project();
  for (const auto& s : workspace.project()->sources) {
    if (!s->file.empty()) continue;
    project::SourceInfo info = *s;
    info.hidden = hide;
    next = project::withSourceInfo(*next, s->id, std::move(info));
  }
  workspace.chooseFeatures({});
  workspace.commit(std::move(next), hide ? tr("hide what is drawn") : tr("show what is drawn"));
}

}  // namespace

Commands surveyCommands(MainWindow& w) {
  Workspace& workspace = w.workspace();
  const auto draws = [&w] { return w.can().write && w.workspace().project()->hasOrigin; };
  const auto mends = [&w] { return w.can().write && w.can().read; };
  const auto reads = [&w] { return w.can().read; };
  const auto draw = [&](const char* id, const QString& text, const QKeySequence& key, const QString& words, Drawn kind,
                        bool begins = false) {
    return toolCommand(w,
                       {.id = id,
                        .text = text,
                        .menu = "&Survey",
                        .begins = begins,
                        .step = "Gather",
                        .button = "Draw",
                        .icon = "draw",
                        .key = key,
                        .words = words,
                        .enabled = draws},
                       [&w, kind] { return drawing(w, kind); });
  };
  const auto mend = [&](const char* id, const QString& text, const QString& words, Mending kind, bool begins = false) {
    return toolCommand(w,
                       {.id = id,
                        .text = text,
                        .menu = "&Survey",
                        .begins = begins,
                        .step = "Ground",
                        .button = "Mend",
                        .icon = "mend",
                        .words = words + " " + tr("edit correct fix triangle tin"),
                        .enabled = mends},
                       [&w, kind] { return mending(w, kind); });
  };
  return {
      {.id = "survey",
       .text = tr("Survey on the plan"),
       .menu = "&Survey",
       .step = "Gather",
       .brief = tr("Survey"),
       .icon = "survey",
       .key = Qt::Key_Y,
       .words = tr("show points lines sources breaklines"),
       .run = [&w] { w.view().alter([](Shown& s) { s.sources = !s.sources; }); },
       .checked = [&w] { return w.view().shown().sources; }},
      toolCommand(w,
                  {.id = "editLines",
                   .text = tr("Choose survey lines"),
                   .menu = "&Survey",
                   .step = "Gather",
                   .brief = tr("Lines"),
                   .icon = "edit-line",
                   .key = Qt::Key_E,
                   .words = tr("select edit move points breaklines contours vertices levels"),
                   .enabled = [&workspace] { return !workspace.project()->sources.empty(); }},
                  [&w] { return std::make_unique<EditLineTool>(w.plan()); }),
      draw("drawPoint", tr("Draw points"), Qt::Key_I, tr("spot level add"), Drawn::point, true),
      draw("drawBreakline", tr("Draw a breakline"), Qt::Key_N, tr("line edge ridge ditch"), Drawn::breakline),
      draw("drawContour", tr("Draw contours"), Qt::Key_O, tr("level line trace digitise"), Drawn::contour),
      draw("drawBoundary", tr("Draw a boundary"), {}, tr("limit edge outline extent"), Drawn::boundary),
      draw("drawVoid", tr("Draw a void"), {}, tr("hole building water leave out"), Drawn::voids),
      {.id = "newDrawn",
       .text = tr("Start a new drawn source"),
       .menu = "&Survey",
       .step = "Gather",
       .button = "Draw",
       .words = tr("layer"),
       .run = [&w] { startDrawnSource(w); },
       .enabled = draws},
      {.id = "hideDrawn",
       .text = tr("Hide all that is drawn"),
       .menu = "&Survey",
       .step = "Gather",
       .button = "Draw",
       .icon = "eye",
       .key = Qt::Key_H,
       .words = tr("show visible"),
       .run = [&workspace] { hideDrawn(workspace, !drawnIsHidden(*workspace.project())); },
       .enabled = [&w] { return w.can().write && anyDrawn(*w.workspace().project()); },
       .checked = [&workspace] { return drawnIsHidden(*workspace.project()); }},
      mend("mendSwap", tr("Swap sides of triangles"), tr("flip edge diagonal"), Mending::swapEdge, true),
      mend("mendTriangle", tr("Delete triangles"), tr("remove hole"), Mending::deleteTriangle),
      mend("mendPoint", tr("Delete points of the ground"), tr("remove spike"), Mending::deletePoint),
      mend("mendAdd", tr("Add points to the ground"), tr("insert level"), Mending::addPoint),
      toolCommand(w,
                  {.id = "slope",
                   .text = tr("Slope between two places"),
                   .menu = "&Survey",
                   .begins = true,
                   .step = "Ground",
                   .button = "Read",
                   .icon = "slope",
                   .key = Qt::Key_M,
                   .words = tr("measure grade gradient fall distance rise percent"),
                   .enabled = reads},
                  [&w] { return std::make_unique<MeasureTool>(w.plan(), Measuring::slope); }),
      toolCommand(w,
                  {.id = "water",
                   .text = tr("Way of the water"),
                   .menu = "&Survey",
                   .step = "Ground",
                   .button = "Read",
                   .icon = "water",
                   .key = Qt::Key_U,
                   .words = tr("drain flow runoff drop raindrop path"),
                   .enabled = reads},
                  [&w] { return std::make_unique<MeasureTool>(w.plan(), Measuring::water); }),
      toolCommand(w,
                  {.id = "catchment",
                   .text = tr("Land that drains to a place"),
                   .menu = "&Survey",
                   .step = "Ground",
                   .button = "Read",
                   .icon = "water",
                   .words = tr("catchment watershed basin runoff drainage area pond"),
                   .enabled = reads},
                  [&w] { return std::make_unique<MeasureTool>(w.plan(), Measuring::catchment); }),
      toolCommand(w,
                  {.id = "takeContour",
                   .text = tr("Take a contour out as a line"),
                   .menu = "&Survey",
                   .step = "Ground",
                   .button = "Read",
                   .icon = "contours",
                   .words = tr("extract level polyline breakline"),
                   .enabled = [&w] { return w.can().write && w.can().useChosen; }},
                  [&w] {
                    const auto* ground = w.workspace().evaluation()->ground(w.workspace().chosenGround());
                    return std::make_unique<ContourTool>(w.plan(), w.contourInterval(*ground->tin));
                  }),
  };
}

}  // namespace inselberg::app
