// What the plan shows, what places are drawn to, and what is measured.
#include <QBuffer>
#include <QDate>
#include <QInputDialog>

#include "base/error.h"
#include "ledger/kept_dialog.h"
#include "ledger/ledger_panel.h"
#include "theme/theme.h"
#include "tools/draw_line_tool.h"
#include "window/command.h"
#include "window/depth_bands_dialog.h"
#include "window/main_window.h"
#include "window/message_strip.h"
#include "window/second_opinion_dialog.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

// The depths between the chosen ground and another that is asked for.
void compare(MainWindow& w) {
  const auto from = w.askForOther(tr("Depths between two grounds"), tr("Depths of %1 from").arg(w.chosenGroundName()));
  if (!from) return;
  w.view().showDepths(Lit::all, project::Between{*from, w.workspace().chosenGround()});
}

void keepResult(MainWindow& w) {
  Workspace& workspace = w.workspace();
  bool given = false;
  const QString name = QInputDialog::getText(&w, tr("Keep this result"), tr("Its name"), QLineEdit::Normal,
                                             tr("Result %1").arg(workspace.project()->kept.size() + 1), &given);
  if (!given || name.trimmed().isEmpty()) return;
  project::KeptResult kept = report::keptOf(*workspace.evaluation());
  kept.name = name.trimmed().toStdString();
  kept.when = QDate::currentDate().toString(Qt::ISODate).toStdString();
  QByteArray picture;
  QBuffer buffer(&picture);
  buffer.open(QIODevice::WriteOnly);
  w.plan().grab().scaledToWidth(640, Qt::SmoothTransformation).save(&buffer, "PNG");
  kept.picture = picture.toStdString();
  workspace.commit(project::withKept(*workspace.project(), std::move(kept)),
                   tr("keep the result %1").arg(name.trimmed()));
  w.messages().say(tr("Kept. View › Kept results shows it beside the figures of now."), false);
}

void showKept(MainWindow& w) {
  KeptDialog dialog(w.workspace(), &w);
  dialog.exec();
  if (const project::KeptPtr kept = dialog.compared()) w.ledger().compareWith(*kept);
}

void askForDepthSpacing(MainWindow& w) {
  const auto spacing =
      lengths::ask(&w, tr("Spacing of depth numbers"), tr("From one to the next (0: as there is room)"),
                   w.view().shown().depthSpacing, 0, 1000);
  if (spacing) w.view().alter([&](Shown& s) { s.depthSpacing = *spacing, s.mode = PlanMode::depth; });
}

// Nothing typed: the usual ones. They are kept for other projects too.
void askForSteepness(MainWindow& w) {
  bool given = false;
  const QString typed = QInputDialog::getText(&w, tr("Limits of steepness"),
                                              tr("From gentle to steep, in % or like 3:1; nothing for the usual ones:"),
                                              QLineEdit::Normal, steepnessText(w.view().shown().steepness), &given);
  if (!given) return;
  w.guarded([&] {
    const SteepnessLimits limits = typed.trimmed().isEmpty() ? kUsualSteepness : steepnessLimits(typed);
    w.view().alter([&](Shown& s) { s.steepness = limits, s.mode = PlanMode::steepness; });
    rememberSteepness(limits);
  });
}

Command modeCommand(MainWindow& w, Command command, PlanMode mode) {
  command.run = [&w, mode] {
    w.view().alter([mode](Shown& s) {
      s.mode = s.mode == mode ? PlanMode::relief : mode;
      s.lit = Lit::all;
      s.compared.reset();
    });
  };
  command.enabled = [&w] { return w.can().read; };
  command.checked = [&w, mode] { return w.view().shown().mode == mode; };
  return command;
}

template <class Member>
Command switchCommand(MainWindow& w, Command command, Member member) {
  command.run = [&w, member] {
    w.view().alter([member](Shown& s) { std::invoke(member, s) = !std::invoke(member, s); });
  };
  command.checked = [&w, member] { return std::invoke(member, w.view().shown()); };
  return command;
}

Command snapCommand(MainWindow& w, const QString& id, const QString& text, const QKeySequence& key,
                    bool SnapKinds::*kind) {
  return switchCommand(
      w, {.id = id, .text = text, .menu = "&View", .key = key, .words = tr("catch magnet lock on")},
      [kind](auto& shown) -> auto& { return shown.snapKinds.*kind; });
}

// What of the site the areas of a use cover, on the plan.
Command coverageCommand(MainWindow& w, const char* id, const QString& text, const QString& brief, const QString& says,
                        project::AreaUse use) {
  return {.id = id,
          .text = text,
          .menu = "&View",
          .step = "Measure",
          .button = "Areas",
          .brief = brief,
          .says = says,
          .icon = "region",
          .words = tr("cover tint left overlap sliver twice missing area"),
          .run =
              [&w, use] {
                w.view().alter([use](Shown& s) {
                  if (s.coverage == use) {
                    s.coverage.reset();
                  } else {
                    s.coverage = use;
                  }
                });
              },
          .enabled = [&w] { return w.can().read; },
          .checked = [&w, use] { return w.view().shown().coverage == use; }};
}

// A dialog on the two grounds that depths are told between now; what is to be done when it is accepted.
template <class Dialog>
void onDepths(
    MainWindow& w,
    const std::function<void(const Dialog&, const project::Between&)>& accepted = [](const auto&, auto&) {}) {
  w.guarded([&] {
    const project::Between between = w.view().depthsBetween();
    for (const GroundId id : {between.from, between.to}) {
      const auto* ground = w.workspace().evaluation()->ground(id);
      if (!ground || !ground->tin) throw Error("a ground is missing", "compare two grounds that are there");
    }
    Dialog dialog(w.workspace(), between, &w);
    if (dialog.exec() == QDialog::Accepted) accepted(dialog, between);
  });
}

}  // namespace

Commands viewCommands(MainWindow& w) {
  const auto reads = [&w] { return w.can().read; };
  Workspace& workspace = w.workspace();
  Commands list{
      {.id = "fit",
       .text = tr("Fit the whole site"),
       .menu = "&View",
       .icon = "fit",
       .key = Qt::Key_F,
       .words = tr("zoom all extent whole"),
       .run = [&w] { w.plan().fit(); },
       .enabled = reads},
      modeCommand(w,
                  {.id = "depth",
                   .text = tr("Depth map"),
                   .menu = "&View",
                   .begins = true,
                   .step = "Measure",
                   .icon = "depth",
                   .key = Qt::Key_D,
                   .words = tr("cut fill volume heat colour isopach thickness difference")},
                  PlanMode::depth),
      {.id = "depthSpacing",
       .text = tr("Spacing of depth numbers…"),
       .menu = "&View",
       .words = tr("grid cut fill depth figures every metres"),
       .run = [&w] { askForDepthSpacing(w); },
       .enabled = reads},
      {.id = "compare",
       .text = tr("Depths between two grounds…"),
       .menu = "&View",
       .step = "Measure",
       .button = "Compare",
       .brief = tr("Compare…"),
       .says = tr("The depths between any two grounds, on the plan."),
       .words = tr("compare volume difference cut fill thickness surface"),
       .run = [&w] { compare(w); },
       .enabled = [&w] { return w.can().useChosen && w.workspace().project()->column.size() > 1; }},
      {.id = "secondOpinion",
       .text = tr("Second opinion…"),
       .menu = "&View",
       .step = "Measure",
       .button = "Compare",
       .brief = tr("Verify…"),
       .says = tr("The same by grid and by sections, and what lies in tolerance."),
       .icon = "second",
       .words = tr("check verify grid sections end area prismoidal tolerance map as-built volume"),
       .run =
           [&w] {
             onDepths<SecondOpinionDialog>(w, [&w](const auto& dialog, const project::Between& between) {
               w.view().showTolerance(between, dialog.tolerance());
             });
           },
       .enabled = [&w] { return w.can().useChosen && w.workspace().project()->column.size() > 1; }},
      {.id = "depthBands",
       .text = tr("Bands of depth…"),
       .menu = "&View",
       .step = "Measure",
       .button = "Compare",
       .brief = tr("Bands…"),
       .says = tr("How much is cut and filled how deep."),
       .icon = "second",
       .words = tr("histogram area volume table cut fill classes"),
       .run = [&w] { onDepths<DepthBandsDialog>(w); },
       .enabled = [&w] { return w.can().useChosen && w.workspace().project()->column.size() > 1; }},
      modeCommand(w,
                  {.id = "levels",
                   .text = tr("Levels by colour"),
                   .menu = "&View",
                   .step = "Ground",
                   .button = "Show",
                   .icon = "levels",
                   .key = Qt::Key_J,
                   .words = tr("elevation height tint bands")},
                  PlanMode::levels),
      modeCommand(w,
                  {.id = "steepness",
                   .text = tr("Steepness by colour"),
                   .menu = "&View",
                   .step = "Ground",
                   .button = "Show",
                   .icon = "steepness",
                   .key = Qt::Key_G,
                   .words = tr("slope grade gradient bands")},
                  PlanMode::steepness),
      {.id = "steepnessLimits",
       .text = tr("Limits of steepness…"),
       .menu = "&View",
       .step = "Ground",
       .button = "Show",
       .icon = "steepness",
       .words = tr("slope grade gradient bands percent choose"),
       .run = [&w] { askForSteepness(w); },
       .enabled = reads},
      modeCommand(w,
                  {.id = "worksColours",
                   .text = tr("Works in colours of their own"),
                   .menu = "&View",
                   .step = "Ground",
                   .button = "Show",
                   .icon = "pad",
                   .key = QKeySequence(Qt::SHIFT | Qt::Key_G),
                   .words = tr("paint tint each which footprint legend names")},
                  PlanMode::works),
      switchCommand(w,
                    {.id = "contours",
                     .text = tr("Contours"),
                     .menu = "&View",
                     .begins = true,
                     .step = "Ground",
                     .icon = "contours",
                     .key = Qt::Key_C,
                     .words = tr("lines level isolines"),
                     .enabled = reads},
                    &Shown::contours),
      {.id = "labelLine",
       .text = tr("Label contours along a line"),
       .menu = "&View",
       .step = "Ground",
       .button = "Show",
       .icon = "draw",
       .words = tr("text annotate numbers"),
       .run = [&w] { w.use("labelLine", std::make_unique<DrawLineTool>(w.plan(), Drawn::labels, 1)); },
       .enabled = reads,
       .checked = [&w] { return w.inHand() == "labelLine"; }},
      {.id = "clearLabels",
       .text = tr("Remove the label lines"),
       .menu = "&View",
       .step = "Ground",
       .button = "Show",
       .words = tr("delete text annotate"),
       .run =
           [&workspace] {
             workspace.commit(project::withLabelLines(*workspace.project(), {}), tr("remove the label lines"));
           },
       .enabled = [&w] { return w.can().write && !w.workspace().project()->labelLines.empty(); }},
      switchCommand(w,
                    {.id = "triangles",
                     .text = tr("Triangles"),
                     .menu = "&View",
                     .step = "Ground",
                     .button = "Show",
                     .icon = "triangles",
                     .key = Qt::Key_T,
                     .words = tr("tin mesh network edges"),
                     .enabled = reads},
                    &Shown::triangles),
      switchCommand(w,
                    {.id = "flow",
                     .text = tr("Flow arrows"),
                     .menu = "&View",
                     .step = "Ground",
                     .button = "Show",
                     .icon = "flow",
                     .key = Qt::Key_Q,
                     .words = tr("water runs drainage direction fall"),
                     .enabled = reads},
                    &Shown::flow),
      switchCommand(w,
                    {.id = "worksLabels",
                     .text = tr("Slopes and corner levels"),
                     .menu = "&View",
                     .step = "Ground",
                     .button = "Show",
                     .icon = "levels-written",
                     .key = QKeySequence(Qt::SHIFT | Qt::Key_C),
                     .words = tr("labels spot elevations batter ratio h:v annotate"),
                     .enabled = reads},
                    &Shown::worksLabels),
      coverageCommand(w, "coverRegions", tr("Coverage by regions"), tr("Cover by regions"),
                      tr("What regions cover of the site, what they leave, what they claim twice."),
                      project::AreaUse::regions),
      coverageCommand(w, "coverWorks", tr("Coverage by works"), tr("Cover by works"),
                      tr("The same of outlines of works."), project::AreaUse::works),
      coverageCommand(w, "coverStrips", tr("Coverage by strips"), tr("Cover by strips"), tr("The same of strips."),
                      project::AreaUse::strips),
      coverageCommand(w, "coverBuildUps", tr("Coverage by build-ups"), tr("Cover by build-ups"),
                      tr("The same of build-ups."), project::AreaUse::buildUps),
      switchCommand(w,
                    {.id = "snap",
                     .text = tr("Snap to points and corners"),
                     .menu = "&View",
                     .begins = true,
                     .icon = "snap",
                     .key = Qt::Key_S,
                     .words = tr("catch magnet lock on")},
                    &Shown::snapping),
      snapCommand(w, "snapCorners", tr("Snap to corners"), Qt::ALT | Qt::Key_1, &SnapKinds::corners),
      snapCommand(w, "snapSides", tr("Snap to sides"), Qt::ALT | Qt::Key_2, &SnapKinds::sides),
      snapCommand(w, "snapCrossings", tr("Snap to crossings"), Qt::ALT | Qt::Key_3, &SnapKinds::crossings),
      snapCommand(w, "snapSquare", tr("Snap square on to lines"), Qt::ALT | Qt::Key_4, &SnapKinds::squareOn),
      snapCommand(w, "snapGrid", tr("Snap to the grid"), Qt::ALT | Qt::Key_5, &SnapKinds::grid),
      switchCommand(w,
                    {.id = "rightAngles",
                     .text = tr("Right angles only"),
                     .menu = "&View",
                     .icon = "right-angle",
                     .key = Qt::Key_R,
                     .words = tr("orthogonal square perpendicular lock")},
                    &Shown::rightAngles),
      {.id = "ledger",
       .text = tr("Ledger table"),
       .menu = "&View",
       .begins = true,
       .step = "Measure",
       .brief = tr("Ledger"),
       .icon = "table",
       .key = Qt::Key_L,
       .words = tr("volumes quantities report figures cut fill totals"),
       .run = [&w] { w.ledger().setOpen(!w.ledger().isOpen()); },
       .checked = [&w] { return w.ledger().isOpen(); }},
      {.id = "baseline",
       .text = tr("Keep a baseline"),
       .menu = "&View",
       .step = "Measure",
       .brief = tr("Baseline"),
       .icon = "baseline",
       .key = Qt::Key_K,
       .words = tr("compare before change remember volumes"),
       .run = [&w] { w.ledger().toggleBaseline(); },
       .enabled = reads,
       .checked = [&w] { return w.ledger().hasBaseline(); }},
      {.id = "keepResult",
       .text = tr("Keep this result…"),
       .menu = "&View",
       .icon = "baseline",
       .key = Qt::SHIFT | Qt::Key_K,
       .words = tr("remember figures picture snapshot name volumes compare"),
       .run = [&w] { keepResult(w); },
       .enabled = [&w] { return w.can().write && w.workspace().upToDate(); }},
      {.id = "keptResults",
       .text = tr("Kept results…"),
       .menu = "&View",
       .words = tr("remember figures picture compare versions"),
       .run = [&w] { showKept(w); },
       .enabled = reads},
      {.id = "dark",
       .text = tr("Dark colours"),
       .menu = "&View",
       .words = tr("theme night light mode appearance contrast"),
       .run =
           [] {
             const auto other = theme::current() == theme::Theme::dark ? theme::Theme::light : theme::Theme::dark;
             theme::choose(other);
             theme::remember(other);
           },
       .checked = [] { return theme::current() == theme::Theme::dark; }},
      {.id = "recompute",
       .text = tr("Recompute"),
       .menu = "&View",
       .key = Qt::Key_F5,
       .words = tr("refresh update again calculate volumes"),
       .run = [&workspace] { workspace.recompute(); }},
  };
  return list;
}

}  // namespace inselberg::app
