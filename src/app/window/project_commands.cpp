// Files: opening, saving, bringing in, writing out.
#include <QApplication>
#include <QClipboard>
#include <QFileDialog>
#include <QFileInfo>
#include <QInputDialog>

#include "base/error.h"
#include "base/quantity.h"
#include "exchange/text_file.h"
#include "gather/system_dialog.h"
#include "report/layout_page.h"
#include "report/ledger.h"
#include "report/plan_drawing.h"
#include "report/plan_page.h"
#include "section/section_view.h"
#include "window/command.h"
#include "window/drawing_scale.h"
#include "window/layouts_dialog.h"
#include "window/main_window.h"
#include "window/message_strip.h"

namespace inselberg::app {
namespace {

void chooseSystem(MainWindow& w) {
  Workspace& workspace = w.workspace();
  const auto chosen = SystemDialog::choose(
      SystemDialog::Of::project,
      tr("What the site's eastings and northings are in. Files in another system are moved into it as they come in; "
         "what is there already stays where it is."),
      workspace.project()->system, {}, &w);
  if (chosen && *chosen != workspace.project()->system)
    workspace.commit(project::withSystem(*workspace.project(), *chosen), tr("choose the coordinate system"));
}

void open(MainWindow& w) {
  if (!w.mayLeave()) return;
  const QString path =
      QFileDialog::getOpenFileName(&w, tr("Open a project"), {}, tr("Inselberg projects (*.inselberg);;All files (*)"));
  if (!path.isEmpty()) w.openProject(path);
}

void writeGround(MainWindow& w) {
  const QString name = w.chosenGroundName();
  const QString path = w.askForSaving(
      tr("Write the ground %1").arg(name), name + ".xml",
      tr("LandXML (*.xml);;Drawing (*.dxf);;GeoTIFF, 1 m cells (*.tif);;ASCII grid, 1 m cells (*.asc);;"
         "GeoJSON (*.geojson);;GeoPackage (*.gpkg);;OBJ (*.obj);;PLY (*.ply);;glTF (*.glb);;Points (*.csv)"));
  if (!path.isEmpty()) w.exportGround(path);
}

void writeContours(MainWindow& w) {
  const QString name = w.chosenGroundName();
  const QString path = w.askForSaving(tr("Write the contours of %1").arg(name), name + "-contours.dxf",
                                      tr("DXF (*.dxf);;GeoJSON (*.geojson)"));
  if (!path.isEmpty()) w.exportContours(path);
}

// The scale the plan is drawn at, 1 to so much (0: what fits on A3); nothing when it was let be.
std::optional<double> askForScale(MainWindow& w) {
  QStringList list{tr("what fits on A3")};
  for (const double scale : drawingScales()) list << scaleText(scale);
  bool given = false;
  const QString chosen = QInputDialog::getItem(&w, tr("Draw the plan"), tr("Scale"), list, 0, true, &given);
  if (!given) return std::nullopt;
  if (chosen == list.front()) return 0;
  if (const auto scale = scaleFrom(chosen)) return scale;
  w.messages().say(noScaleText(chosen), true);
  return std::nullopt;
}

void writePlan(MainWindow& w) {
  const auto scale = askForScale(w);
  if (!scale) return;
  const QString path =
      w.askForSaving(tr("Draw the plan of %1").arg(w.chosenGroundName()), w.chosenGroundName() + "-plan.pdf",
                     tr("Sheet (*.pdf);;Sheet (*.svg);;Drawing, on layers (*.dxf)"));
  if (path.isEmpty()) return;
  w.guarded([&] {
    const std::string name = path.toStdString();
    if (!report::isDrawingEnding(name))
      throw Error("the name has no known ending", {name}, "end it in .pdf .svg or .dxf");
    const project::EvaluationPtr evaluation = w.workspace().evaluation();
    const GroundId id = w.workspace().chosenGround();
    report::PlanRules rules;
    rules.scale = *scale, rules.interval = w.contourInterval(*evaluation->ground(id)->tin);
    rules.measures = report::measuresOn(name, evaluation->project->measures);
    // With the depth map on show, its numbers go with the plan, about every 2 cm on paper.
    if (w.view().shown().mode == PlanMode::depth) {
      const double mm = (*scale > 0 ? *scale : 1000) / 1000;
      rules.depths = roundStep(20 * mm), rules.depthsFrom = w.view().depthsBetween().from;
    }
    double drawnAt = 0;
    w.workspace().doLong(tr("Drawing the plan"), [&](const Progress& progress) {
      const report::PlanDrawing plan = report::planDrawing(*evaluation, id, rules, progress);
      exchange::writeWhole(name, report::contentOf(name, plan, evaluation->project->origin));
      drawnAt = plan.scale;
    });
    w.messages().say(tr("The plan is drawn at 1 : %1 to %2.").arg(drawnAt).arg(QFileInfo(path).fileName()), false);
  });
}

void showLayouts(MainWindow& w) {
  const section::Section& section = w.section().section();
  LayoutsDialog dialog(w.workspace(), {w.plan().view().centre, section.line}, &w);
  QObject::connect(&dialog, &LayoutsDialog::writeWanted, &w,
                   [&w](const QString& name, const std::vector<drawing::Page>& pages) {
                     const QString path = w.askForSaving(
                         tr("Write the layouts"), name + ".pdf",
                         pages.size() > 1 ? tr("Sheets (*.pdf)") : tr("Sheet (*.pdf);;Sheet (*.svg);;Picture (*.png)"));
                     if (path.isEmpty()) return;
                     w.guarded([&] {
                       exchange::writeWhole(path.toStdString(), report::contentOf(path.toStdString(), pages));
                       w.messages().say(tr("Written to %1.").arg(QFileInfo(path).fileName()), false);
                     });
                   });
  dialog.exec();
}

}  // namespace

Commands projectCommands(MainWindow& w) {
  Workspace& workspace = w.workspace();
  const auto writable = [&w] { return w.can().write; };
  const auto made = [&w] { return w.can().useChosen; };
  return {
      {.id = "new",
       .text = tr("New project"),
       .menu = "&Project",
       .key = QKeySequence::New,
       .words = tr("start empty site"),
       .run =
           [&w] {
             if (w.mayLeave()) w.workspace().startNew();
           }},
      {.id = "open",
       .text = tr("Open…"),
       .menu = "&Project",
       .icon = "open",
       .key = QKeySequence::Open,
       .words = tr("file load project"),
       .run = [&w] { open(w); }},
      {.id = "save",
       .text = tr("Save"),
       .menu = "&Project",
       .icon = "save",
       .key = QKeySequence::Save,
       .words = tr("file keep store"),
       .run = [&w] { w.save(); },
       .enabled = [&workspace, writable] { return workspace.unsaved() && writable(); }},
      {.id = "saveAs",
       .text = tr("Save as…"),
       .menu = "&Project",
       .key = QKeySequence::SaveAs,
       .words = tr("file copy another name"),
       .run = [&w] { w.saveAs(); }},
      {.id = "import",
       .text = tr("Import…"),
       .menu = "&Project",
       .begins = true,
       .step = "Gather",
       .icon = "import",
       .key = Qt::CTRL | Qt::Key_I,
       .words = tr("bring in survey points drawing model file csv dxf landxml raster cloud"),
       .run = [&w] { w.import(); },
       .enabled = writable},
      {.id = "system",
       .text = tr("Coordinate system…"),
       .menu = "&Project",
       .words = tr("projection epsg easting northing grid datum reference"),
       .run = [&w] { chooseSystem(w); },
       .enabled = writable},
      {.id = "exportGround",
       .text = tr("Write the ground…"),
       .menu = "&Project",
       .begins = true,
       .step = "Issue",
       .brief = tr("Ground…"),
       .icon = "export",
       .key = Qt::CTRL | Qt::Key_E,
       .words = tr("export surface model machine landxml dxf geotiff out"),
       .run = [&w] { writeGround(w); },
       .enabled = made},
      {.id = "exportContours",
       .text = tr("Write contours…"),
       .menu = "&Project",
       .step = "Issue",
       .brief = tr("Contours…"),
       .icon = "contours",
       .words = tr("export lines level dxf geojson out"),
       .run = [&w] { writeContours(w); },
       .enabled = made},
      {.id = "writePlan",
       .text = tr("Draw the plan…"),
       .menu = "&Project",
       .step = "Issue",
       .brief = tr("Plan…"),
       .icon = "draw",
       .words = tr("sheet pdf svg dxf paper scale drawing"),
       .run = [&w] { writePlan(w); },
       .enabled = made},
      {.id = "layouts",
       .text = tr("Layouts…"),
       .menu = "&Project",
       .step = "Issue",
       .icon = "layout",
       .key = QKeySequence::Print,
       .words = tr("print printer sheet paper title block legend pdf svg plot plan drawing"),
       .run = [&w] { showLayouts(w); },
       .enabled = made},
      {.id = "copyLedger",
       .text = tr("Copy the ledger as text"),
       .menu = "&Project",
       .step = "Issue",
       .brief = tr("Copy ledger"),
       .icon = "copy",
       .words = tr("report volumes quantities figures table clipboard"),
       .run =
           [&w] {
             QApplication::clipboard()->setText(QString::fromStdString(report::asText(*w.workspace().evaluation())));
             w.messages().say(tr("The ledger is on the clipboard."), false);
           },
       .enabled = [&w] { return w.can().read; }},
      {.id = "quit",
       .text = tr("Quit"),
       .menu = "&Project",
       .begins = true,
       .key = QKeySequence::Quit,
       .words = tr("exit close leave end"),
       .run = [&w] { w.close(); }},
  };
}

}  // namespace inselberg::app
