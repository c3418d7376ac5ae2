// The relief: beside the plan or alone, and what it shows.
#include <QFileInfo>

#include "window/command.h"
#include "window/main_window.h"
#include "window/message_strip.h"

namespace inselberg::app {
namespace {

Command layoutCommand(MainWindow& w, Command command, Layout layout) {
  command.run = [&w, layout] {
    w.view().alter([layout](Shown& s) { s.layout = s.layout == layout ? Layout::plan : layout; });
    if (w.view().shown().layout == Layout::relief) w.relief().setFocus();
  };
  command.checked = [&w, layout] { return w.view().shown().layout == layout; };
  return command;
}

void writePicture(MainWindow& w) {
  const QString path = w.askForSaving(tr("Write the relief"), "relief.png", tr("Picture (*.png)"));
  if (path.isEmpty()) return;
  const bool written = w.relief().grab().save(path, "PNG");
  w.messages().say(written ? tr("Written to %1.").arg(QFileInfo(path).fileName())
                           : tr("%1 cannot be written. Choose another place.").arg(path),
                   !written);
}

}  // namespace

Commands reliefCommands(MainWindow& w) {
  const auto shown = [&w] {
    const Layout layout = w.view().shown().layout;
    return w.can().read && (layout == Layout::both || layout == Layout::relief);
  };
  return {
      layoutCommand(w,
                    {.id = "relief",
                     .text = tr("Relief beside the plan"),
                     .menu = "&View",
                     .begins = true,
                     .step = "Ground",
                     .button = "Show",
                     .icon = "relief",
                     .key = Qt::Key_W,
                     .words = tr("3d three dimensions perspective orbit model view")},
                    Layout::both),
      layoutCommand(w,
                    {.id = "reliefAlone",
                     .text = tr("Relief instead of the plan"),
                     .menu = "&View",
                     .step = "Ground",
                     .button = "Show",
                     .icon = "relief",
                     .key = Qt::SHIFT | Qt::Key_W,
                     .words = tr("3d three dimensions perspective orbit model view whole")},
                    Layout::relief),
      layoutCommand(w,
                    {.id = "twoPlans",
                     .text = tr("Another ground beside the plan"),
                     .menu = "&View",
                     .step = "Ground",
                     .button = "Show",
                     .icon = "twoPlans",
                     .key = Qt::CTRL | Qt::SHIFT | Qt::Key_W,
                     .words = tr("two plans side by side second compare kept result split before after")},
                    Layout::twoPlans),
      {.id = "reliefGlass",
       .text = tr("Relief: the land as it was as well"),
       .menu = "&View",
       .words = tr("3d glass transparent existing look through compare"),
       .run = [&w] { w.view().alter([](Shown& s) { s.glass = !s.glass; }); },
       .enabled = shown,
       .checked = [&w] { return w.view().shown().glass; }},
      {.id = "reliefCut",
       .text = tr("Relief: cut away at the section"),
       .menu = "&View",
       .words = tr("3d clipping plane slice"),
       .run = [&w] { w.view().alter([](Shown& s) { s.cutAway = !s.cutAway; }); },
       .enabled = [&w, shown] { return shown() && w.view().hasSection(); },
       .checked = [&w] { return w.view().shown().cutAway; }},
      {.id = "reliefPicture",
       .text = tr("Write the relief as a picture…"),
       .menu = "&View",
       .words = tr("3d png image export screenshot"),
       .run = [&w] { writePicture(w); },
       .enabled = shown},
  };
}

}  // namespace inselberg::app
