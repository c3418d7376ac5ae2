// Plan sheets as a picture to lay over the ground: where a sheet is white the ground shows, its lines stay dark. In
// dark colours light and dark change places.
#pragma once

#include <QImage>
#include <map>
#include <memory>
#include <vector>

#include "base/progress.h"
#include "canvas/view_transform.h"
#include "project/plan_sheet.h"
#include "workspace/open_sheet.h"

namespace inselberg::app {

// A part of a page as a picture, three bytes and one, of so many pixels.
QImage pagePicture(sheet::Document& document, int page, const plane::Box& part, QSize pixels, const Progress& progress);

// For one thread. Keeps files open and what was drawn of them: panning draws nothing anew.
class SheetLayer {
 public:
  // White where no sheet is; to be multiplied with what lies under it. In dark colours black, to be screened. Null
  // where none of them is seen. Sheets that cannot be drawn are left out. Throws Cancelled.
  const QImage& of(const std::vector<project::PlanSheetPtr>& sheets, const ViewTransform& view, double pixelRatio,
                   const Progress& progress);

 private:
  struct Drawn {
    int page = 0;
    Hash file;
    bool grey = false;
    plane::Box part;           // of the page
    double pixelsPerUnit = 0;  // of the page's unit
    QImage image;
  };
  const Drawn* drawn(const project::PlanSheet& sheet, const plane::Box& seen, double pixelsPerUnit,
                     const Progress& progress);
  void paint(QPainter& painter, const project::PlanSheet& sheet, const ViewTransform& view, double pixelRatio,
             const Progress& progress);

  std::map<Hash, std::shared_ptr<OpenSheet>> open_;  // pages of one file share it
  std::map<project::SheetId, Drawn> drawn_;
  std::vector<project::PlanSheetPtr> sheets_;  // that the layer is of
  ViewTransform view_;
  double pixelRatio_ = 0;
  QImage layer_;
};

}  // namespace inselberg::app
