// Files: opening, saving, bringing in, writing out.
#include <QApplication>
#include <QClipboard>
#include <QFileDialog>

#include "gather/system_dialog.h"
#include "report/ledger.h"
#include "window/command.h"
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
  const QString path =
      w.askForSaving(tr("Write the ground %1").arg(name), name + ".xml",
                     tr("LandXML (*.xml);;Drawing (*.dxf);;GeoTIFF, 1 m cells (*.tif);;ASCII grid, 1 m cells (*.asc);;"
                        "GeoJSON (*.geojson);;GeoPackage (*.gpkg);;OBJ (*.obj);;PLY (*.ply);;Points (*.csv)"));
  if (!path.isEmpty()) w.exportGround(path);
}

void writeContours(MainWindow& w) {
  const QString name = w.chosenGroundName();
  const QString path = w.askForSaving(tr("Write the contours of %1").arg(name), name + "-contours.dxf",
                                      tr("DXF (*.dxf);;GeoJSON (*.geojson)"));
  if (!path.isEmpty()) w.exportContours(path);
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
