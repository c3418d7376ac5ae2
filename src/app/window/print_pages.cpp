#include "window/print_pages.h"

#include <QPainter>
#include <QPrintDialog>
#include <QPrinter>
#include <algorithm>

#include "base/error.h"
#include "canvas/paint_page.h"

namespace inselberg::app {

void printPages(QWidget* over, const QString& name, const std::vector<drawing::Page>& pages) {
  const drawing::Page& first = pages.front();
  QPrinter printer(QPrinter::HighResolution);
  const auto [shorter, longer] = std::minmax(first.width, first.height);
  printer.setPageSize(QPageSize(QSizeF(shorter, longer), QPageSize::Millimeter));
  printer.setPageOrientation(first.width > first.height ? QPageLayout::Landscape : QPageLayout::Portrait);
  printer.setFullPage(true);
  printer.setDocName(name);
  QPrintDialog dialog(&printer, over);
  if (dialog.exec() != QDialog::Accepted) return;
  QPainter painter;
  const Error refused("the printer does not take the sheet", "choose another one");
  if (!painter.begin(&printer)) throw refused;
  const double dots = printer.resolution() / 25.4;
  painter.scale(dots, dots);
  for (const drawing::Page& page : pages) {
    if (&page != &first && !printer.newPage()) throw refused;
    paintPage(painter, page);
  }
}

}  // namespace inselberg::app
