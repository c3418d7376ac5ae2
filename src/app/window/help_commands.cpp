// Finding commands, and what this program is.
#include <QMessageBox>

#include "window/command.h"
#include "window/main_window.h"

namespace inselberg::app {
Commands helpCommands(MainWindow& w) {
  return {
      {.id = "find",
       .text = tr("Find a command…"),
       .menu = "&Help",
       .key = Qt::CTRL | Qt::Key_K,
       .words = tr("search help how menu"),
       .run = [&w] { w.findCommand(); }},
      {.id = "about",
       .text = tr("About Inselberg"),
       .menu = "&Help",
       .words = tr("version licence"),
       .run =
           [&w] {
             QMessageBox::about(&w, tr("Inselberg"),
                                tr("<h3>Inselberg %1</h3><p>Earthworks for a site, from survey to balanced ground.</p>"
                                   "<p>Free software under the GNU General Public License, version 3 or later.</p>")
                                    .arg(INSELBERG_VERSION));
           }},
  };
}

}  // namespace inselberg::app
