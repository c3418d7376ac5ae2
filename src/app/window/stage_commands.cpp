// The stages of earthwork: strips, undercuts, build-ups; regions, and the tables of quantities.
#include <QFileInfo>

#include "base/error.h"
#include "base/free_name.h"
#include "base/measures.h"
#include "base/quantity.h"
#include "exchange/text_file.h"
#include "ledger/quantities_dialog.h"
#include "project/design_doubts.h"
#include "project/stage_place.h"
#include "report/schedule.h"
#include "tools/draw_places_tool.h"
#include "window/command.h"
#include "window/main_window.h"
#include "window/measures_dialog.h"
#include "window/message_strip.h"
#include "window/stages_dialog.h"

namespace inselberg::app {
namespace {

template <class Items>
std::string freeName(const Items& items, const std::string& start) {
  return inselberg::freeName(start, [&](const std::string& name) {
    return std::any_of(items.begin(), items.end(), [&](const auto& i) { return i.name == name; });
  });
}

void change(MainWindow& w, const QString& what, const QString& tab, const std::function<void(project::Stages&)>& edit) {
  w.guarded([&] {
    project::Stages stages = w.workspace().project()->stages;
    edit(stages);
    w.workspace().commit(project::withStages(*w.workspace().project(), std::move(stages)), what);
    StagesDialog(w.workspace(), tab, &w).exec();
  });
}

// The chosen outline, sound; a message and nothing when there is none.
std::optional<plane::Polygon> outlineFor(MainWindow& w) {
  const auto chosen = w.chosenOutline();
  if (!chosen) {
    w.messages().say(tr("Choose the outline first: a closed line, boundary or void, or works."), true);
    return std::nullopt;
  }
  return plane::sound(*chosen, w.workspace().project()->origin);
}

void strip(MainWindow& w, const std::vector<plane::Ring>& outlines, const std::vector<WorksId>& under) {
  if (outlines.empty() && under.empty()) return;
  change(w, tr("strip topsoil"), "strips", [&](project::Stages& stages) {
    const auto add = [&](works::Strip strip) {
      strip.name = freeName(stages.strips, "Topsoil");
      stages.strips.push_back(std::move(strip));
    };
    for (const plane::Ring& outline : outlines) {
      works::Strip one;
      one.outline = outline;
      add(one);
    }
    if (under.empty()) return;
    works::Strip one;
    one.under = under, one.margin = 1;
    add(one);
  });
}

// Draws areas of stages one after the other: each is taken in as it is closed, and the tool stays in hand. `take` adds
// one of this outline, and gives its name.
void drawAreas(MainWindow& w, const QString& id, const QString& what, project::AreaUse use,
               const std::function<std::string(project::Stages&, const plane::Polygon&)>& take) {
  const auto done = [&w, what, take](const works::Places& points, std::optional<double>) {
    const project::Project& project = *w.workspace().project();
    const plane::Polygon area = plane::sound({points, {}}, project.origin);
    project::Stages stages = project.stages;
    const QString name = QString::fromStdString(take(stages, area));
    w.workspace().commit(project::withStages(project, std::move(stages)), tr("draw a %1").arg(what));
    w.messages().say(tr("%1: %2. The next one may follow; Stages and materials lists them all.")
                         .arg(name, QString::fromStdString(shown(plane::area(area), Quantity::area, project.measures))),
                     false);
  };
  w.use(id, std::make_unique<DrawPlacesTool>(w.plan(), ToDraw{what, true, use, done}));
}

void drawStrip(MainWindow& w) {
  drawAreas(w, "drawStrip", tr("strip"), project::AreaUse::strips,
            [](project::Stages& stages, const plane::Polygon& area) {
              works::Strip one;
              one.name = freeName(stages.strips, "Topsoil"), one.outline = area.outer;
              stages.strips.push_back(one);
              return one.name;
            });
}

void drawBuildUp(MainWindow& w) {
  drawAreas(w, "drawBuildUp", tr("build-up"), project::AreaUse::buildUps,
            [](project::Stages& stages, const plane::Polygon& area) {
              works::BuildUp one;
              one.name = freeName(stages.buildUps, "Build-up"), one.outline = area.outer;
              one.layers = {{"slab", 0.2}, {"base", 0.15}};
              stages.buildUps.push_back(one);
              return one.name;
            });
}

void drawRegion(MainWindow& w) {
  drawAreas(w, "drawRegion", tr("region"), project::AreaUse::regions,
            [](project::Stages& stages, const plane::Polygon& area) {
              stages.regions.push_back({freeName(stages.regions, "Region"), area});
              return stages.regions.back().name;
            });
}

void stripSite(MainWindow& w) {
  std::vector<plane::Ring> outlines;
  for (const plane::Polygon& part : project::siteOf(*w.workspace().project())) outlines.push_back(part.outer);
  if (outlines.empty())
    w.messages().say(tr("There is no site boundary. Draw one under Gather, or strip inside an outline."), true);
  strip(w, outlines, {});
}

void stripUnderWorks(MainWindow& w) {
  std::vector<WorksId> under;
  const project::Project& project = *w.workspace().project();
  for (const auto& works : project.ground(project.finished())->works) under.push_back(works->id);
  strip(w, {}, under);
}

void undercut(MainWindow& w) {
  const WorksId chosen = w.workspace().chosenWorks();
  change(w, tr("undercut"), "undercuts", [&](project::Stages& stages) {
    works::Undercut u;
    u.name = freeName(stages.undercuts, "Under " + w.workspace().project()->works(chosen).works->name);
    u.under = {chosen};
    u.wider = 0.5;
    stages.undercuts.push_back(std::move(u));
  });
}

// A trench or footing along a line drawn now; its card opens, to say the rest.
void drawTrench(MainWindow& w) {
  const auto done = [&w](const works::Places& line, std::optional<double>) {
    const project::Project& project = *w.workspace().project();
    project::Stages stages = project.stages;
    works::Undercut trench;
    trench.name = freeName(stages.undercuts, "Trench");
    trench.line = line;
    trench.backSlope = 0.5;
    stages.undercuts.push_back(trench);
    w.workspace().commit(project::withStages(project, std::move(stages)), tr("draw a trench"));
    w.workspace().chooseStage(w.workspace().project()->stages.undercuts.back().id);
    w.messages().say(tr("%1: a metre wide and deep. Its card says width, depth, slope and what fills it; the next one "
                        "may follow.")
                         .arg(QString::fromStdString(trench.name)),
                     false);
  };
  w.use("drawTrench", std::make_unique<DrawPlacesTool>(w.plan(), ToDraw{tr("trench"), false, std::nullopt, done}));
}

void buildUp(MainWindow& w) {
  const WorksId chosen = w.workspace().chosenWorks();
  change(w, tr("build up"), "buildUps", [&](project::Stages& stages) {
    works::BuildUp b;
    b.name = freeName(stages.buildUps, "On " + w.workspace().project()->works(chosen).works->name);
    b.over = {chosen};
    b.part = works::BuildUpPart::top;
    b.layers = {{"slab", 0.2}, {"base", 0.15}};
    stages.buildUps.push_back(std::move(b));
  });
}

void region(MainWindow& w) {
  w.guarded([&] {
    const auto outline = outlineFor(w);
    if (!outline) return;
    change(w, tr("add a region"), "regions", [&](project::Stages& stages) {
      stages.regions.push_back({freeName(stages.regions, "Region"), *outline});
    });
  });
}

void showQuantities(MainWindow& w) {
  const project::EvaluationPtr evaluation = w.workspace().evaluation();
  std::vector<report::Table> tables;
  std::vector<report::ScheduleItem> items;
  w.workspace().doLong(tr("Taking quantities"), [&](const Progress& progress) {
    const report::Quantities quantities = report::quantitiesOf(*evaluation, progress);
    tables = report::tablesOf(*evaluation, quantities);
    items = report::scheduleOf(*evaluation, quantities, progress);
  });
  QuantitiesDialog(std::move(tables), std::move(items), evaluation->project->measures, &w).exec();
}

void write(MainWindow& w) {
  const QString path =
      w.askForSaving(tr("Write the quantities"), "quantities.xlsx", tr("Spreadsheet (*.xlsx);;Text (*.csv)"));
  if (path.isEmpty()) return;
  w.guarded([&] {
    const project::EvaluationPtr evaluation = w.workspace().evaluation();
    std::vector<report::Table> made;
    w.workspace().doLong(tr("Taking quantities"),
                         [&](const Progress& progress) { made = report::reportTables(*evaluation, progress); });
    if (path.endsWith(".csv", Qt::CaseInsensitive)) {
      exchange::writeWhole(path.toStdString(), report::asCsv(made));
    } else {
      report::writeSpreadsheet(made, path.toStdString());
    }
    w.messages().say(tr("The quantities are written to %1.").arg(QFileInfo(path).fileName()), false);
  });
}

}  // namespace

Commands stageCommands(MainWindow& w) {
  const auto write_ = [&w] { return w.can().write && w.can().read; };
  const auto onWorks = [&w] { return w.workspace().chosenWorks().value != 0 && w.can().write; };
  const auto ready = [&w] { return w.can().read && w.workspace().upToDate(); };
  return {
      {.id = "stripOutline",
       .text = tr("Strip inside the chosen outline"),
       .menu = "&Grounds",
       .step = "Strip",
       .button = "Strip",
       .brief = tr("Outline"),
       .says = tr("Topsoil off inside the chosen outline."),
       .icon = "strip",
       .words = tr("topsoil clearing depth take off"),
       .run =
           [&w] {
             w.guarded([&] {
               if (const auto o = outlineFor(w)) strip(w, {o->outer}, {});
             });
           },
       .enabled = write_},
      {.id = "drawStrip",
       .text = tr("Draw a strip"),
       .menu = "&Grounds",
       .step = "Strip",
       .button = "Strip",
       .brief = tr("Draw"),
       .says = tr("Topsoil off inside an outline drawn now; several, one after the other."),
       .icon = "strip",
       .words = tr("topsoil clearing grub trace outline"),
       .run = [&w] { drawStrip(w); },
       .enabled = write_,
       .checked = [&w] { return w.inHand() == "drawStrip"; }},
      {.id = "stripSite",
       .text = tr("Strip the whole site"),
       .menu = "&Grounds",
       .step = "Strip",
       .button = "Strip",
       .brief = tr("Site"),
       .says = tr("Topsoil off inside the site boundary."),
       .icon = "strip",
       .words = tr("topsoil clearing boundary"),
       .run = [&w] { stripSite(w); },
       .enabled = write_},
      {.id = "stripUnder",
       .text = tr("Strip under all works"),
       .menu = "&Grounds",
       .step = "Strip",
       .button = "Strip",
       .brief = tr("Under works"),
       .says = tr("Topsoil off under all works, and a margin around."),
       .icon = "strip",
       .words = tr("topsoil footprint margin"),
       .run = [&w] { stripUnderWorks(w); },
       .enabled =
           [&w, write_] {
             const project::Project& project = *w.workspace().project();
             return write_() && !project.ground(project.finished())->works.empty();
           }},
      {.id = "undercut",
       .text = tr("Undercut below the chosen works"),
       .menu = "&Grounds",
       .begins = true,
       .step = "Strip",
       .button = "Undercut",
       .brief = tr("Undercut"),
       .says = tr("Digging below the chosen works, wider and sloped back."),
       .icon = "undercut",
       .words = tr("dig out replace soft excavation backfill"),
       .run = [&w] { undercut(w); },
       .enabled = onWorks},
      {.id = "drawTrench",
       .text = tr("Draw a trench"),
       .menu = "&Grounds",
       .step = "Strip",
       .button = "Undercut",
       .brief = tr("Trench"),
       .says = tr("Digging along a line drawn now, of a width and depth: a trench, a footing."),
       .icon = "undercut",
       .words = tr("undercut footing pipe bedding backfill line dig"),
       .run = [&w] { drawTrench(w); },
       .enabled = write_,
       .checked = [&w] { return w.inHand() == "drawTrench"; }},
      {.id = "buildUp",
       .text = tr("Build-up over the chosen works"),
       .menu = "&Grounds",
       .step = "Strip",
       .button = "Build-up",
       .brief = tr("Build-up"),
       .says = tr("Layers over the top of the chosen works."),
       .icon = "buildup",
       .words = tr("slab pavement layers thickness topsoil formation"),
       .run = [&w] { buildUp(w); },
       .enabled = onWorks},
      {.id = "drawBuildUp",
       .text = tr("Draw a build-up"),
       .menu = "&Grounds",
       .step = "Strip",
       .button = "Build-up",
       .brief = tr("Draw"),
       .says = tr("Layers inside an outline drawn now; several, one after the other."),
       .icon = "buildup",
       .words = tr("slab pavement layers trace outline"),
       .run = [&w] { drawBuildUp(w); },
       .enabled = write_,
       .checked = [&w] { return w.inHand() == "drawBuildUp"; }},
      {.id = "stages",
       .text = tr("Stages and materials…"),
       .menu = "&Grounds",
       .begins = true,
       .step = "Strip",
       .brief = tr("All…"),
       .icon = "quantities",
       .words = tr("strips undercuts build-ups regions materials accuracy factors bulking shrinkage rates"),
       .run = [&w] { StagesDialog(w.workspace(), "strips", &w).exec(); }},
      {.id = "removeStage",
       .text = tr("Remove the chosen strip, undercut or build-up"),
       .menu = "&Grounds",
       .words = tr("delete erase stage topsoil layers"),
       .run = [&w] { w.workspace().removeStage(); },
       .enabled = [&w] { return w.can().write && w.workspace().chosenStage(); }},
      {.id = "measures",
       .text = tr("Units and rounding…"),
       .menu = "&Grounds",
       .words = tr("metric imperial cubic yards acres feet metres round figures"),
       .run = [&w] { MeasuresDialog(w.workspace(), &w).exec(); },
       .enabled = write_},
      {.id = "drawRegion",
       .text = tr("Draw a region"),
       .menu = "&Grounds",
       .begins = true,
       .step = "Measure",
       .button = "Areas",
       .brief = tr("Region"),
       .says = tr("Lots, phases, zones that quantities are told by; one after the other."),
       .icon = "region",
       .words = tr("lot phase zone area break down quantities trace"),
       .run = [&w] { drawRegion(w); },
       .enabled = write_,
       .checked = [&w] { return w.inHand() == "drawRegion"; }},
      {.id = "region",
       .text = tr("Region from the chosen outline"),
       .menu = "&Grounds",
       .step = "Measure",
       .button = "Areas",
       .brief = tr("Outline"),
       .says = tr("A region of the chosen line, boundary, void or works."),
       .icon = "region",
       .words = tr("lot phase zone area break down quantities"),
       .run = [&w] { region(w); },
       .enabled = write_},
      {.id = "quantities",
       .text = tr("Quantities…"),
       .menu = "&Grounds",
       .step = "Measure",
       .brief = tr("Quantities"),
       .icon = "quantities",
       .words = tr("figures strip bulk undercut backfill build-up materials regions schedule phases group sort cost"),
       .run = [&w] { w.guarded([&] { showQuantities(w); }); },
       .enabled = ready},
      {.id = "writeQuantities",
       .text = tr("Write the quantities…"),
       .menu = "&Grounds",
       .step = "Issue",
       .brief = tr("Quantities…"),
       .icon = "export",
       .words = tr("spreadsheet xlsx csv report tables export"),
       .run = [&w] { write(w); },
       .enabled = ready},
  };
}

}  // namespace inselberg::app
