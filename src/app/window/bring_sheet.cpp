#include "window/bring_sheet.h"

#include <QFileInfo>
#include <cmath>

#include "exchange/sheet_file.h"
#include "sheets/pages_dialog.h"
#include "sheets/place_dialog.h"
#include "window/main_window.h"

namespace inselberg::app {
namespace {

using plane::Vec2;

// The same sheet with its ground positions so much farther east and north.
project::SheetInfo moved(project::SheetInfo info, Vec2 by) {
  info.placement.c += by.x;
  info.placement.f += by.y;
  if (info.placedBy != project::PlacedBy::points) return info;
  for (sheet::Control& c : info.controls) c.ground = c.ground + by;
  return info;
}

// Round, near the sheet.
plane::Origin originNear(const project::SheetInfo& info) {
  const Vec2 corner = info.placement({0, 0});
  constexpr double kRound = 100;
  return {std::floor(corner.x / kRound) * kRound, std::floor(corner.y / kRound) * kRound};
}

Vec2 ofOrigin(const plane::Origin& origin) {
  return {origin.easting, origin.northing};
}

void tell(MainWindow& w, const project::SheetInfo& info) {
  const auto doubts = project::doubtsOf(info);
  QString text = tr("%1 lies over the plan at %2.")
                     .arg(QString::fromStdString(info.name), QString::fromStdString(project::scaleText(info)));
  if (doubts.empty() && !info.picture) text += tr(" Gather › Sheets takes contours, levels and outlines off it.");
  for (const std::string& doubt : doubts) text += " " + QString::fromStdString(doubt);
  w.messages().say(text, !doubts.empty());
}

// The project with a sheet that is placed in easting and northing; `located`: it says where, not only how large it is.
project::ProjectPtr withPlaced(MainWindow& w, project::SheetInfo info, const exchange::SheetFile& file, bool located) {
  project::ProjectPtr project = w.workspace().project();
  if (!project->hasOrigin) project = project::withOrigin(*project, located ? originNear(info) : plane::Origin{});
  if (located) {
    info = moved(std::move(info), -1 * ofOrigin(project->origin));
  } else if (w.workspace().project()->hasOrigin) {
    // In the middle of what is seen.
    info = moved(std::move(info), w.plan().view().visible().centre() - project::boundsOf(info).centre());
  }
  return project::withSheet(*project, std::move(info), file.bytes, file.world);
}

struct Opened {
  sheet::PageFacts facts;
  std::optional<exchange::SheetPlace> own;
};

// What a page tells of itself; one that lies in degrees has no place here.
Opened openPage(sheet::Document& document, int page, const std::string& name, const std::string& system) {
  Opened opened{document.facts(page), {}};
  try {
    opened.own = exchange::placeOf(document, page, name, system);
  } catch (const Error&) {
    // Points tell where it lies then.
  }
  return opened;
}

}  // namespace

bool bringSheet(MainWindow& w, const QString& path) {
  if (w.workspace().readOnly()) return false;
  const QString name = QFileInfo(path).fileName();
  bool brought = false;
  w.guarded([&] {
    exchange::SheetFile file = exchange::readSheetFile(path.toStdString());
    file.path = name.toStdString();
    const auto document = exchange::openSheet(file);
    std::vector<int> pages{1};
    if (document->pages() > 1) {
      PagesDialog dialog(name, file.bytes, document->pages(), &w);
      if (dialog.exec() != QDialog::Accepted) return;
      pages = dialog.chosen();
    }
    for (const int page : pages) {
      const Opened opened = openPage(*document, page, file.path, w.workspace().project()->system);
      project::SheetInfo info;
      info.name = QFileInfo(path).completeBaseName().toStdString();
      if (document->pages() > 1) info.name += tr(" p. %1").arg(page).toStdString();
      info.file = file.path;
      info.page = page;
      info.size = {opened.facts.width, opened.facts.height};
      info.picture = opened.facts.picture;
      bool located = opened.own.has_value();
      if (opened.own) {
        info.placement = opened.own->fit.placement;
        info.placedBy = project::PlacedBy::itself;
      } else {
        PlaceDialog dialog(*project::makePlanSheet({}, info, file.bytes, file.world), std::nullopt,
                           opened.facts.mmPerUnit, &w);
        if (dialog.exec() != QDialog::Accepted) return;
        info = dialog.placed();
        located = dialog.located();
      }
      w.workspace().commit(withPlaced(w, info, file, located),
                           tr("bring in the sheet %1").arg(QString::fromStdString(info.name)));
      tell(w, info);
      brought = true;
    }
  });
  return brought;
}

void placeSheet(MainWindow& w, project::SheetId id) {
  w.guarded([&] {
    const project::PlanSheetPtr sheet = [&] {
      for (const project::PlanSheetPtr& s : w.workspace().project()->sheets) {
        if (s->id == id) return s;
      }
      return project::PlanSheetPtr();
    }();
    if (!sheet) return;
    const auto document = sheet::openDocument(sheet->bytes, sheet->file, sheet->world);
    const Opened opened = openPage(*document, sheet->page, sheet->file, w.workspace().project()->system);
    const Vec2 origin = ofOrigin(w.workspace().project()->origin);
    PlaceDialog dialog(*project::makePlanSheet(id, moved(*sheet, origin), sheet->bytes, sheet->world),
                       opened.own ? std::optional(opened.own->fit.placement) : std::nullopt, opened.facts.mmPerUnit,
                       &w);
    if (dialog.exec() != QDialog::Accepted) return;
    project::SheetInfo info = dialog.placed();
    // A new scale alone leaves the lower left corner where it was.
    info = moved(std::move(info), dialog.located() ? -1 * origin : sheet->placement({0, 0}));
    w.workspace().commit(project::withSheetInfo(*w.workspace().project(), id, info),
                         tr("place the sheet %1").arg(QString::fromStdString(info.name)));
    tell(w, info);
  });
}

}  // namespace inselberg::app
