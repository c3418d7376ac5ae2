#include "window/main_window.h"

#include <QActionGroup>
#include <QApplication>
#include <QClipboard>
#include <QCloseEvent>
#include <QComboBox>
#include <QDropEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QMenuBar>
#include <QMessageBox>
#include <QMimeData>
#include <QPushButton>
#include <QSettings>
#include <QStackedWidget>
#include <QStandardPaths>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>

#include "base/error.h"
#include "base/quantity.h"
#include "card/card_panel.h"
#include "column/column_panel.h"
#include "exchange/formats.h"
#include "exchange/geojson.h"
#include "exchange/ground_write.h"
#include "exchange/landxml.h"
#include "exchange/text_file.h"
#include "gather/import_dialog.h"
#include "gather/system_dialog.h"
#include "ground/contour_labels.h"
#include "ledger/ledger_panel.h"
#include "plan/plan_view.h"
#include "report/ledger.h"
#include "theme/theme.h"
#include "tools/draw_line_tool.h"
#include "tools/draw_works_tool.h"
#include "tools/edit_line_tool.h"
#include "tools/measure_tool.h"
#include "tools/mend_tool.h"
#include "tools/select_tool.h"
#include "window/command_finder.h"
#include "window/message_strip.h"

namespace inselberg::app {
namespace {

constexpr int kRecent = 8;

QString filters() {
  return QObject::tr(
      "Surveys, drawings and ground models (*.csv *.txt *.xyz *.pts *.xlsx *.ods *.dxf *.geojson *.json *.gpkg *.shp "
      "*.tif *.tiff *.asc *.xml *.landxml);;All files (*)");
}

}  // namespace

MainWindow::MainWindow(QWidget* parent) : QMainWindow(parent), workspace_(new Workspace(this)) {
  setStyleSheet(theme::styleSheet());
  setAcceptDrops(true);
  resize(1280, 800);
  plan_ = new PlanView(*workspace_, this);
  messages_ = new MessageStrip(plan_);
  column_ = new ColumnPanel(*workspace_, this);
  card_ = new CardPanel(*workspace_, this);
  ledger_ = new LedgerPanel(*workspace_, this);
  makeActions();

  auto* centre = new QWidget(this);
  auto* rows = new QVBoxLayout(centre);
  rows->setContentsMargins(0, 0, 0, 0);
  rows->setSpacing(0);
  rows->addWidget(makeStepBar());
  auto* middle = new QHBoxLayout;
  middle->setSpacing(0);
  middle->addWidget(column_);
  middle->addWidget(plan_, 1);
  middle->addWidget(card_);
  rows->addLayout(middle, 1);
  rows->addWidget(ledger_);
  setCentralWidget(centre);

  connect(workspace_, &Workspace::message, messages_, &MessageStrip::say);
  connect(plan_, &PlanView::pointed, ledger_, &LedgerPanel::point);
  connect(plan_, &PlanView::toolFinished, this, &MainWindow::choose);
  connect(plan_, &PlanView::importWanted, this, &MainWindow::import);
  connect(plan_, &PlanView::switchesChanged, this, &MainWindow::refreshActions);
  connect(card_, &CardPanel::placeWanted, plan_, &PlanView::showPlace);
  connect(card_, &CardPanel::otherWanted, this, [this](const QString& what, const WithOtherLine& then) {
    auto pick = std::make_unique<EditLineTool>(*plan_);
    pick->pickOther(what, then);
    use("editLines", std::move(pick));
  });
  connect(card_, &CardPanel::importWanted, this, &MainWindow::importFile);
  connect(column_, &ColumnPanel::worksShown, this, [this](WorksId id) {
    if (const auto placed = workspace_->project()->works(id); placed.ground)
      plan_->showPlace(works::placeOf(placed.works->shape));
  });
  connect(ledger_, &LedgerPanel::litWanted, this, [this](Lit part) {
    if (workspace_->chosenGround() == workspace_->project()->surveyed())
      workspace_->chooseGround(workspace_->project()->finished());
    // The same figure again puts the map away.
    const bool again = plan_->mode() == PlanMode::depth && plan_->lit() == part;
    plan_->setLit(again ? Lit::all : part);
    plan_->setMode(again ? PlanMode::relief : PlanMode::depth);
  });
  connect(ledger_, &LedgerPanel::worksWanted, workspace_, &Workspace::chooseWorks);
  connect(ledger_, &LedgerPanel::doubtsWanted, this, [this] {
    for (const auto& g : workspace_->evaluation()->grounds) {
      if (g.doubts.empty()) continue;
      workspace_->chooseGround(g.id);
      plan_->showPlace(g.doubts.front().where);
      return;
    }
  });
  connect(ledger_, &LedgerPanel::openChanged, this, &MainWindow::refreshActions);
  connect(ledger_, &LedgerPanel::baselineChanged, this, &MainWindow::refreshActions);
  for (const auto signal : {&Workspace::projectChanged, &Workspace::evaluationChanged, &Workspace::selectionChanged,
                            &Workspace::fileChanged}) {
    connect(workspace_, signal, this, &MainWindow::refreshActions);
  }
  connect(workspace_, &Workspace::fileChanged, this, &MainWindow::refreshTitle);
  refreshActions();
  refreshTitle();
  showStep(0);
  plan_->setFocus();
}

MainWindow::~MainWindow() = default;

template <class F>
bool MainWindow::guarded(F&& work) {
  try {
    work();
    return true;
  } catch (const Error& e) {
    messages_->say(QString::fromUtf8(e.what()), true);
  } catch (const std::bad_alloc&) {
    messages_->say(tr("There is not enough memory for this. Close other programs, or use a smaller part of the data."),
                   true);
  }
  return false;
}

QAction* MainWindow::add(const char* id, const QString& name, const char* icon, const QKeySequence& key,
                         std::function<void()> run) {
  auto* action = new QAction(name, this);
  action->setObjectName(id);
  if (*icon) action->setIcon(theme::icon(icon));
  action->setShortcut(key);
  action->setToolTip(key.isEmpty()
                         ? QString(name).remove("…")
                         : QString("%1 (%2)").arg(QString(name).remove("…"), key.toString(QKeySequence::NativeText)));
  connect(action, &QAction::triggered, this, std::move(run));
  addAction(action);
  actions_.insert(id, action);
  inOrder_ << action;
  return action;
}

void MainWindow::makeActions() {
  const auto toggle = [this](const char* id) { return actions_[id]->isChecked(); };
  add("new", tr("New project"), "", QKeySequence::New, [this] {
    if (mayLeave()) workspace_->startNew();
  });
  add("open", tr("Open…"), "open", QKeySequence::Open, [this] {
    if (!mayLeave()) return;
    const QString path = QFileDialog::getOpenFileName(this, tr("Open a project"), {},
                                                      tr("Inselberg projects (*.inselberg);;All files (*)"));
    if (!path.isEmpty()) openProject(path);
  });
  add("save", tr("Save"), "save", QKeySequence::Save, [this] { save(); });
  add("saveAs", tr("Save as…"), "", QKeySequence::SaveAs, [this] { saveAs(); });
  add("quit", tr("Quit"), "", QKeySequence::Quit, [this] { close(); });
  add("undo", tr("Undo"), "undo", QKeySequence::Undo, [this] { workspace_->undo(); });
  add("redo", tr("Redo"), "redo", QKeySequence::Redo, [this] { workspace_->redo(); });
  add("import", tr("Import…"), "import", Qt::CTRL | Qt::Key_I, [this] { import(); });
  add("system", tr("Coordinate system…"), "", {}, [this] {
    const auto chosen = SystemDialog::choose(
        SystemDialog::Of::project,
        tr("What the site's eastings and northings are in. Files in another system are moved into it as they come in; "
           "what is there already stays where it is."),
        workspace_->project()->system, {}, this);
    if (chosen && *chosen != workspace_->project()->system)
      workspace_->commit(project::withSystem(*workspace_->project(), *chosen), tr("choose the coordinate system"));
  });
  add("select", tr("Choose and shape"), "select", Qt::Key_V, [this] { choose(); })->setCheckable(true);
  add("drawPad", tr("Draw pad"), "pad", Qt::Key_P, [this] { drawPad(); })->setCheckable(true);
  add("remove", tr("Remove the chosen works"), "", {}, [this] {
    const auto placed = workspace_->project()->works(workspace_->chosenWorks());
    if (placed.ground)
      workspace_->commit(project::withoutWorks(*workspace_->project(), placed.works->id),
                         tr("remove %1").arg(QString::fromStdString(placed.works->name)));
  });
  add("balance", tr("Balance"), "balance", Qt::Key_B, [this] { workspace_->balance(workspace_->chosenWorks()); });
  add("fit", tr("Fit the whole site"), "fit", Qt::Key_F, [this] { plan_->fit(); });
  add("depth", tr("Depth map"), "depth", Qt::Key_D, [this, toggle] {
    plan_->setLit(Lit::all);
    plan_->setMode(toggle("depth") ? PlanMode::depth : PlanMode::relief);
  })->setCheckable(true);
  add("levels", tr("Levels by colour"), "levels", Qt::Key_J, [this, toggle] {
    plan_->setMode(toggle("levels") ? PlanMode::levels : PlanMode::relief);
  })->setCheckable(true);
  add("steepness", tr("Steepness by colour"), "steepness", Qt::Key_G, [this, toggle] {
    plan_->setMode(toggle("steepness") ? PlanMode::steepness : PlanMode::relief);
  })->setCheckable(true);
  add("contours", tr("Contours"), "contours", Qt::Key_C, [this, toggle] {
    plan_->setContours(toggle("contours"));
  })->setCheckable(true);
  add("triangles", tr("Triangles"), "triangles", Qt::Key_T, [this, toggle] {
    plan_->setTriangles(toggle("triangles"));
  })->setCheckable(true);
  add("snap", tr("Snap to points and corners"), "snap", Qt::Key_S, [this, toggle] {
    plan_->setSnapping(toggle("snap"));
  })->setCheckable(true);
  add("rightAngles", tr("Right angles only"), "right-angle", Qt::Key_R, [this, toggle] {
    plan_->setRightAngles(toggle("rightAngles"));
  })->setCheckable(true);
  add("ledger", tr("Ledger table"), "table", Qt::Key_L, [this, toggle] {
    ledger_->setOpen(toggle("ledger"));
  })->setCheckable(true);
  add("baseline", tr("Keep a baseline"), "baseline", Qt::Key_K, [this] {
    ledger_->toggleBaseline();
  })->setCheckable(true);
  makeSurveyActions();
  makeGroundActions();
  add("recompute", tr("Recompute"), "", Qt::Key_F5, [this] { workspace_->recompute(); });
  add("exportGround", tr("Ground…"), "export", Qt::CTRL | Qt::Key_E, [this] {
    const auto* ground = workspace_->project()->ground(workspace_->chosenGround());
    const QString path =
        askForSaving(tr("Write the ground %1").arg(QString::fromStdString(ground->name)),
                     QString::fromStdString(ground->name) + ".xml",
                     tr("LandXML (*.xml);;Drawing (*.dxf);;GeoTIFF, 1 m cells (*.tif);;ASCII grid, 1 m cells (*.asc);;"
                        "GeoJSON (*.geojson);;GeoPackage (*.gpkg);;OBJ (*.obj);;PLY (*.ply);;Points (*.csv)"));
    if (!path.isEmpty()) exportGround(path);
  });
  add("exportContours", tr("Contours…"), "contours", {}, [this] {
    const auto* ground = workspace_->project()->ground(workspace_->chosenGround());
    const QString path =
        askForSaving(tr("Write the contours of %1").arg(QString::fromStdString(ground->name)),
                     QString::fromStdString(ground->name) + "-contours.dxf", tr("DXF (*.dxf);;GeoJSON (*.geojson)"));
    if (!path.isEmpty()) exportContours(path);
  });
  add("copyLedger", tr("Copy the ledger as text"), "copy", {}, [this] {
    QApplication::clipboard()->setText(QString::fromStdString(report::asText(*workspace_->evaluation())));
    messages_->say(tr("The ledger is on the clipboard."), false);
  });
  add("find", tr("Find a command…"), "", Qt::CTRL | Qt::Key_K, [this] { findCommand(); });
  add("about", tr("About Inselberg"), "", {}, [this] {
    QMessageBox::about(this, tr("Inselberg"),
                       tr("<h3>Inselberg %1</h3><p>Earthworks for a site, from survey to balanced ground.</p>"
                          "<p>Free software under the GNU General Public License, version 3 or later.</p>")
                           .arg(INSELBERG_VERSION));
  });
  // Short names for the tools of a step, where the step says the rest.
  actions_["select"]->setIconText(tr("Choose"));
  actions_["exportGround"]->setIconText(tr("Ground…"));
  actions_["copyLedger"]->setIconText(tr("Copy ledger"));
  actions_["ledger"]->setIconText(tr("Ledger"));
  actions_["baseline"]->setIconText(tr("Baseline"));
  actions_["fit"]->setIconText(tr("Fit"));
  actions_["survey"]->setIconText(tr("Survey"));
  actions_["editLines"]->setIconText(tr("Lines"));
  actions_["slope"]->setIconText(tr("Slope"));
  actions_["water"]->setIconText(tr("Water"));
  actions_["contours"]->setChecked(true);
  actions_["snap"]->setChecked(true);
  actions_["select"]->setChecked(true);
}

QWidget* MainWindow::makeStepBar() {
  auto* bar = new QWidget(this);
  bar->setObjectName("stepBar");
  bar->setAttribute(Qt::WA_StyledBackground);
  bar->setFixedHeight(38);
  auto* layout = new QHBoxLayout(bar);
  layout->setContentsMargins(2, 0, 8, 0);
  layout->setSpacing(0);

  auto* menus = new QMenuBar(bar);
  menus->setNativeMenuBar(false);
  const auto menu = [&](const QString& title, std::initializer_list<const char*> ids) {
    QMenu* m = menus->addMenu(title);
    for (const char* id : ids) {
      if (*id) {
        m->addAction(actions_[id]);
        actions_[id]->setProperty("fullName",
                                  title.toLower().remove('&') + ": " + QString(actions_[id]->text()).remove("…"));
      } else {
        m->addSeparator();
      }
    }
    return m;
  };
  QMenu* project = menu(tr("&Project"), {"new", "open", "save", "saveAs", "", "import", "system", "exportGround",
                                         "exportContours", "copyLedger", "", "quit"});
  recent_ = new QMenu(tr("Open recent"), this);
  project->insertMenu(actions_["save"], recent_);
  connect(recent_, &QMenu::aboutToShow, this, &MainWindow::fillRecent);
  menu(tr("&Edit"), {"undo", "redo", "", "drawPad", "select", "remove", "balance"});
  menu(tr("&Survey"),
       {"survey", "editLines", "", "drawPoint", "drawBreakline", "drawContour", "drawBoundary", "drawVoid", "newDrawn",
        "hideDrawn", "", "mendSwap", "mendTriangle", "mendPoint", "mendAdd", "", "slope", "water"});
  menu(tr("&Grounds"), {"shiftGround", "simplifyGround", "keepInside", "keepOutside", "combineOver", "combineLower",
                        "combineHigher", "redraw", "", "freeze", "removeGround"});
  menu(tr("&View"),
       {"fit", "depth",  "levels",      "steepness", "contours",      "labelLine",  "clearLabels", "triangles",
        "",    "snap",   "snapCorners", "snapSides", "snapCrossings", "snapSquare", "snapGrid",    "rightAngles",
        "",    "ledger", "baseline",    "recompute"});
  menu(tr("&Help"), {"find", "about"});
  menus->setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Preferred);
  menus->ensurePolished();
  menus->setMinimumWidth(menus->sizeHint().width() + 12);
  layout->addWidget(menus, 0, Qt::AlignVCenter);
  const auto rule = [&] {
    auto* line = new QFrame(bar);
    line->setFixedSize(1, 22);
    line->setStyleSheet(QString("background: %1;").arg(theme::rule.name()));
    layout->addSpacing(6);
    layout->addWidget(line);
    layout->addSpacing(6);
  };
  rule();

  // The order of work. A step is listed once it has tools.
  tools_ = new QStackedWidget(bar);
  struct Step {
    QString name;
    std::vector<const char*> tools;
  };
  const std::vector<Step> steps{{tr("Gather"), {"import", "survey", "editLines"}},
                                {tr("Ground"), {"contours"}},
                                {tr("Shape"), {"select", "drawPad"}},
                                {tr("Measure"), {"depth", "ledger", "baseline"}},
                                {tr("Balance"), {"balance"}},
                                {tr("Issue"), {"exportGround", "exportContours", "copyLedger"}}};
  for (int i = 0; i < static_cast<int>(steps.size()); ++i) {
    auto* step = new QToolButton(bar);
    step->setText(steps[static_cast<std::size_t>(i)].name);
    step->setCheckable(true);
    step->setAutoExclusive(true);
    step->setProperty("step", true);
    connect(step, &QToolButton::clicked, this, [this, i] { showStep(i); });
    layout->addWidget(step);
    steps_ << step;
    auto* page = new QWidget(tools_);
    auto* row = new QHBoxLayout(page);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(2);
    for (const char* id : steps[static_cast<std::size_t>(i)].tools) {
      auto* tool = new QToolButton(page);
      tool->setDefaultAction(actions_[id]);
      tool->setToolButtonStyle(actions_[id]->icon().isNull() ? Qt::ToolButtonTextOnly
                               : i == 1                      ? Qt::ToolButtonIconOnly  // a crowded step
                                                             : Qt::ToolButtonTextBesideIcon);
      row->addWidget(tool);
    }
    if (i == 0)
      row->addWidget(menuButton(
          tr("Draw"), "draw",
          {"drawPoint", "drawBreakline", "drawContour", "drawBoundary", "drawVoid", "newDrawn", "hideDrawn"}));
    if (i == 1) {
      row->addWidget(
          menuButton(tr("Show"), "levels", {"triangles", "levels", "steepness", "labelLine", "clearLabels"}));
      row->addWidget(menuButton(tr("Mend"), "mend", {"mendSwap", "mendTriangle", "mendPoint", "mendAdd"}));
      row->addWidget(menuButton(tr("Read"), "slope", {"slope", "water"}));
      interval_ = new QComboBox(page);
      interval_->setObjectName("interval");
      interval_->setFixedWidth(90);
      interval_->addItem(tr("by relief"), 0.0);
      for (const double m : {0.1, 0.2, 0.25, 0.5, 1.0, 2.0, 5.0}) interval_->addItem(tr("%1 m").arg(m), m);
      interval_->setToolTip(tr("Level difference between contours: choose one, or type any"));
      interval_->setEditable(true);
      interval_->setInsertPolicy(QComboBox::NoInsert);
      interval_->setCompleter(nullptr);
      connect(interval_, &QComboBox::activated, this,
              [this] { plan_->setInterval(interval_->currentData().toDouble()); });
      connect(interval_->lineEdit(), &QLineEdit::editingFinished, this, &MainWindow::takeInterval);
      // Keys are the plan's again.
      connect(interval_->lineEdit(), &QLineEdit::returnPressed, this, [this] { plan_->setFocus(); });
      connect(interval_, &QComboBox::activated, this, [this] { plan_->setFocus(); });
      row->addWidget(interval_);
    }
    row->addStretch(1);
    tools_->addWidget(page);
  }
  rule();
  layout->addWidget(tools_, 1);
  // Always in sight: the locks of the pointer, and the way back.
  for (const char* id : {"snap", "rightAngles", "undo", "redo"}) {
    if (QString(id) == "undo") rule();
    auto* b = new QToolButton(bar);
    b->setDefaultAction(actions_[id]);
    b->setToolButtonStyle(Qt::ToolButtonIconOnly);
    layout->addWidget(b);
  }
  return bar;
}

// An interval as chosen from the list, or typed: "0.3", "0.3 m"; anything else is put back.
void MainWindow::takeInterval() {
  const QString text = interval_->currentText();
  const int known = interval_->findText(text);
  if (known >= 0) {
    plan_->setInterval(interval_->itemData(known).toDouble());
    return;
  }
  const auto typed = parseLength(text.toStdString(), std::nullopt);
  if (typed && *typed >= 0.01 && *typed <= 1000)
    plan_->setInterval(*typed);
  else
    messages_->say(tr("Write the level difference between contours as a number of metres, like 0.3."), true);
  interval_->setEditText(plan_->interval() > 0 ? tr("%1 m").arg(plan_->interval()) : interval_->itemText(0));
}

double MainWindow::contourInterval(const ground::Tin& tin) const {
  return plan_->interval() > 0 ? plan_->interval() : proposedInterval(tin);
}

void MainWindow::showStep(int index) {
  steps_[index]->setChecked(true);
  tools_->setCurrentIndex(index);
}

void MainWindow::refreshActions() {
  const bool writable = !workspace_->readOnly();
  const auto& evaluation = *workspace_->evaluation();
  const auto* chosenGround = evaluation.ground(workspace_->chosenGround());
  const bool hasGround = evaluation.surveyed() && evaluation.surveyed()->tin;
  const bool hasWorks = workspace_->chosenWorks().value != 0;
  const auto& history = workspace_->history();
  actions_["undo"]->setEnabled(history.canUndo());
  actions_["undo"]->setText(history.canUndo() ? tr("Undo %1").arg(QString::fromStdString(history.undoText()))
                                              : tr("Undo"));
  actions_["redo"]->setEnabled(history.canRedo());
  actions_["redo"]->setText(history.canRedo() ? tr("Redo %1").arg(QString::fromStdString(history.redoText()))
                                              : tr("Redo"));
  for (const char* id : {"undo", "redo"})
    actions_[id]->setToolTip(actions_[id]->text() + " (" + actions_[id]->shortcut().toString(QKeySequence::NativeText) +
                             ")");
  actions_["save"]->setEnabled(workspace_->unsaved() && writable);
  actions_["import"]->setEnabled(writable);
  actions_["system"]->setEnabled(writable);
  actions_["drawPad"]->setEnabled(hasGround && writable);
  actions_["remove"]->setEnabled(hasWorks && writable);
  actions_["balance"]->setEnabled(hasWorks && writable);
  for (const char* id :
       {"fit", "depth", "levels", "steepness", "contours", "triangles", "labelLine", "baseline", "copyLedger"})
    actions_[id]->setEnabled(hasGround);
  for (const char* id : {"exportGround", "exportContours"})
    actions_[id]->setEnabled(chosenGround && chosenGround->tin && workspace_->upToDate());
  actions_["depth"]->setChecked(plan_->mode() == PlanMode::depth);
  actions_["levels"]->setChecked(plan_->mode() == PlanMode::levels);
  actions_["steepness"]->setChecked(plan_->mode() == PlanMode::steepness);
  actions_["clearLabels"]->setEnabled(writable && !workspace_->project()->labelLines.empty());
  actions_["snap"]->setChecked(plan_->snapping());
  actions_["rightAngles"]->setChecked(plan_->rightAngles());
  actions_["ledger"]->setChecked(ledger_->isOpen());
  actions_["baseline"]->setChecked(ledger_->hasBaseline());
  for (const char* id : {"select", "drawPad", "editLines", "drawPoint", "drawBreakline", "drawContour", "drawBoundary",
                         "drawVoid", "mendSwap", "mendTriangle", "mendPoint", "mendAdd", "slope", "water", "labelLine"})
    actions_[id]->setChecked(toolId_ == id);
  const bool hasOrigin = workspace_->project()->hasOrigin;
  for (const char* id : {"drawPoint", "drawBreakline", "drawContour", "drawBoundary", "drawVoid", "newDrawn"})
    actions_[id]->setEnabled(writable && hasOrigin);
  for (const char* id : {"mendSwap", "mendTriangle", "mendPoint", "mendAdd"})
    actions_[id]->setEnabled(writable && hasGround);
  for (const char* id : {"slope", "water"}) actions_[id]->setEnabled(hasGround);
  const bool canMake = writable && chosenGround && chosenGround->tin && workspace_->upToDate();
  for (const char* id : {"shiftGround", "simplifyGround", "keepInside", "keepOutside", "redraw", "freeze"})
    actions_[id]->setEnabled(canMake);
  const auto& column = workspace_->project()->column;
  for (const char* id : {"combineOver", "combineLower", "combineHigher"})
    actions_[id]->setEnabled(canMake && column.size() > 1);
  // The surveyed and the finished ground, and one that others are made from, stay.
  actions_["removeGround"]->setEnabled(writable && workspace_->project()->surveyed() != workspace_->chosenGround() &&
                                       workspace_->project()->finished() != workspace_->chosenGround() &&
                                       !project::isUsed(*workspace_->project(), workspace_->chosenGround()));
  const auto& sources = workspace_->project()->sources;
  actions_["editLines"]->setEnabled(!sources.empty());
  const bool drawn = std::any_of(sources.begin(), sources.end(), [](const auto& s) { return s->file.empty(); });
  actions_["hideDrawn"]->setEnabled(writable && drawn);
  actions_["hideDrawn"]->setChecked(drawn && std::all_of(sources.begin(), sources.end(),
                                                         [](const auto& s) { return !s->file.empty() || s->hidden; }));
  actions_["snapCorners"]->setChecked(plan_->snapKinds().corners);
  actions_["snapSides"]->setChecked(plan_->snapKinds().sides);
  actions_["snapCrossings"]->setChecked(plan_->snapKinds().crossings);
  actions_["snapSquare"]->setChecked(plan_->snapKinds().squareOn);
  actions_["snapGrid"]->setChecked(plan_->snapKinds().grid);
}

void MainWindow::refreshTitle() {
  const QString file = workspace_->path().isEmpty() ? tr("not saved yet") : QFileInfo(workspace_->path()).fileName();
  const QString state = workspace_->readOnly() ? tr(" (open elsewhere: read only)") : QString();
  setWindowTitle(tr("%1[*] – %2%3 – Inselberg").arg(QString::fromStdString(workspace_->project()->name), file, state));
  setWindowModified(workspace_->unsaved());
}

void MainWindow::use(const QString& id, std::unique_ptr<Tool> tool) {
  toolId_ = id;
  plan_->setTool(std::move(tool));
  refreshActions();
  plan_->setFocus();
}

void MainWindow::choose() {
  workspace_->chooseFeatures({});
  use("select", std::make_unique<SelectTool>(*plan_));
}

// Drawing, editing and mending what grounds are built from, and reading them.
void MainWindow::makeSurveyActions() {
  const auto toggle = [this](const char* id) { return actions_[id]->isChecked(); };
  const auto tool = [this](const char* id, const QString& name, const char* icon, const QKeySequence& key, auto make) {
    add(id, name, icon, key, [this, id, make] { use(id, make()); })->setCheckable(true);
  };
  add("survey", tr("Survey on the plan"), "survey", Qt::Key_Y, [this, toggle] {
    plan_->setSources(toggle("survey"));
  })->setCheckable(true);
  tool("editLines", tr("Choose survey lines"), "edit-line", Qt::Key_E,
       [this] { return std::make_unique<EditLineTool>(*plan_); });
  const auto draw = [&](const char* id, const QString& name, const QKeySequence& key, Drawn kind) {
    tool(id, name, "draw", key, [this, kind] {
      const auto* g = workspace_->evaluation()->ground(workspace_->chosenGround());
      const double interval = g && g->tin ? contourInterval(*g->tin) : std::max(1.0, plan_->interval());
      return std::make_unique<DrawLineTool>(*plan_, kind, interval);
    });
  };
  draw("drawPoint", tr("Draw points"), Qt::Key_I, Drawn::point);
  draw("drawBreakline", tr("Draw a breakline"), Qt::Key_N, Drawn::breakline);
  draw("drawContour", tr("Draw contours"), Qt::Key_O, Drawn::contour);
  draw("drawBoundary", tr("Draw a boundary"), {}, Drawn::boundary);
  draw("drawVoid", tr("Draw a void"), {}, Drawn::voids);
  draw("labelLine", tr("Label contours along a line"), {}, Drawn::labels);
  add("clearLabels", tr("Remove the label lines"), "", {}, [this] {
    workspace_->commit(project::withLabelLines(*workspace_->project(), {}), tr("remove the label lines"));
  });
  add("newDrawn", tr("Start a new drawn source"), "", {}, [this] {
    const auto& project = *workspace_->project();
    std::size_t drawn = 1;
    for (const auto& s : project.sources) drawn += s->file.empty() ? 1 : 0;
    project::SourceInfo info;
    info.name = tr("drawn %1").arg(drawn).toStdString();
    workspace_->commit(project::withSource(project, std::move(info), {}, project.surveyed()),
                       tr("start a new drawn source"));
    messages_->say(tr("What is drawn from now on goes to a source of its own."), false);
  });
  add("hideDrawn", tr("Hide all that is drawn"), "eye", Qt::Key_H, [this, toggle] {
    project::ProjectPtr next = workspace_->project();
    for (const auto& s : workspace_->project()->sources) {
      if (!s->file.empty()) continue;
      project::SourceInfo info = *s;
      info.hidden = toggle("hideDrawn");
      next = project::withSourceInfo(*next, s->id, std::move(info));
    }
    workspace_->chooseFeatures({});
    workspace_->commit(std::move(next), toggle("hideDrawn") ? tr("hide what is drawn") : tr("show what is drawn"));
  })->setCheckable(true);
  const auto mend = [&](const char* id, const QString& name, Mending kind) {
    tool(id, name, "mend", {}, [this, kind] {
      plan_->setTriangles(true);
      actions_["triangles"]->setChecked(true);
      return std::make_unique<MendTool>(*plan_, kind);
    });
  };
  mend("mendSwap", tr("Swap sides of triangles"), Mending::swapEdge);
  mend("mendTriangle", tr("Delete triangles"), Mending::deleteTriangle);
  mend("mendPoint", tr("Delete points of the ground"), Mending::deletePoint);
  mend("mendAdd", tr("Add points to the ground"), Mending::addPoint);
  tool("slope", tr("Slope between two places"), "slope", Qt::Key_M,
       [this] { return std::make_unique<MeasureTool>(*plan_, Measuring::slope); });
  tool("water", tr("Way of the water"), "water", Qt::Key_U,
       [this] { return std::make_unique<MeasureTool>(*plan_, Measuring::water); });
  const auto snap = [&](const char* id, const QString& name, const QKeySequence& key, bool SnapKinds::*kind) {
    auto* action = add(id, name, "", key, [this, kind] {
      SnapKinds kinds = plan_->snapKinds();
      kinds.*kind = !(kinds.*kind);
      plan_->setSnapKinds(kinds);
    });
    action->setCheckable(true);
    action->setChecked(plan_->snapKinds().*kind);
  };
  snap("snapCorners", tr("Snap to corners"), Qt::ALT | Qt::Key_1, &SnapKinds::corners);
  snap("snapSides", tr("Snap to sides"), Qt::ALT | Qt::Key_2, &SnapKinds::sides);
  snap("snapCrossings", tr("Snap to crossings"), Qt::ALT | Qt::Key_3, &SnapKinds::crossings);
  snap("snapSquare", tr("Snap square on to lines"), Qt::ALT | Qt::Key_4, &SnapKinds::squareOn);
  snap("snapGrid", tr("Snap to the grid"), Qt::ALT | Qt::Key_5, &SnapKinds::grid);
}

// New grounds from others, kept up with them.
void MainWindow::makeGroundActions() {
  const auto nameOf = [this](GroundId id) { return QString::fromStdString(workspace_->project()->ground(id)->name); };
  const auto commit = [this](const QString& name, project::Derived base, GroundId after) {
    const GroundId id{workspace_->project()->nextId};
    workspace_->commit(project::withNewGround(*workspace_->project(), name.toStdString(), std::move(base), after),
                       tr("make %1").arg(name));
    workspace_->chooseGround(id);
  };
  const auto amount = [this](const QString& title, const QString& label, double start) -> std::optional<double> {
    bool given = false;
    const double v =
        QInputDialog::getDouble(this, title, label, start, -1000, 1000, 3, &given, Qt::WindowFlags(), 0.05);
    return given ? std::optional(v) : std::nullopt;
  };
  add("shiftGround", tr("Shift…"), "", {}, [=, this] {
    const GroundId of = workspace_->chosenGround();
    const auto by = amount(tr("Shift %1").arg(nameOf(of)), tr("Metres up (minus: down)"), -0.3);
    if (by) commit(tr("%1 shifted").arg(nameOf(of)), {{of}, project::Shift{*by}}, of);
  });
  add("simplifyGround", tr("Simplify…"), "", {}, [=, this] {
    const GroundId of = workspace_->chosenGround();
    const auto within = amount(tr("Simplify %1").arg(nameOf(of)), tr("Stay within, m"), 0.05);
    if (within && *within > 0) commit(tr("%1 simplified").arg(nameOf(of)), {{of}, project::Simplify{*within}}, of);
  });
  const auto keep = [=, this](bool inside) {
    // The outline is the chosen boundary or void, or the chosen works'.
    const GroundId of = workspace_->chosenGround();
    const auto chosen = chosenOutline();
    if (!chosen) {
      messages_->say(tr("Choose the outline first: a closed line, boundary or void, or works."), true);
      return;
    }
    guarded([&] {
      const plane::Polygon polygon = plane::sound(*chosen, workspace_->project()->origin);
      commit(inside ? tr("%1 inside").arg(nameOf(of)) : tr("%1 outside").arg(nameOf(of)),
             {{of}, project::Keep{polygon, inside}}, of);
    });
  };
  add("keepInside", tr("Keep inside the chosen outline"), "", {}, [keep] { keep(true); });
  add("keepOutside", tr("Keep outside the chosen outline"), "", {}, [keep] { keep(false); });
  const auto combine = [=, this](quantity::Combine rule, const QString& title) {
    const GroundId of = workspace_->chosenGround();
    QStringList others;
    std::vector<GroundId> ids;
    for (const auto& g : workspace_->project()->column) {
      if (g->id == of) continue;
      others << QString::fromStdString(g->name);
      ids.push_back(g->id);
    }
    bool given = false;
    const QString with = QInputDialog::getItem(this, title, tr("%1 with").arg(nameOf(of)), others, 0, false, &given);
    if (!given) return;
    const GroundId other = ids[static_cast<std::size_t>(others.indexOf(with))];
    // It comes after both.
    GroundId after = of;
    for (const auto& g : workspace_->project()->column) {
      if (g->id == of || g->id == other) after = g->id;
    }
    commit(tr("%1 and %2").arg(nameOf(of), with), {{of, other}, project::CombineAs{rule}}, after);
  };
  add("combineOver", tr("Lay another ground over…"), "", {}, [=] { combine(quantity::Combine::over, tr("Lay over")); });
  add("combineLower", tr("Lower of two…"), "", {}, [=] { combine(quantity::Combine::lower, tr("Lower of two")); });
  add("combineHigher", tr("Higher of two…"), "", {}, [=] { combine(quantity::Combine::higher, tr("Higher of two")); });
  add("freeze", tr("Freeze as it is now"), "", {}, [=, this] {
    const GroundId of = workspace_->chosenGround();
    const auto* ground = workspace_->evaluation()->ground(of);
    const QString name = tr("%1 before").arg(nameOf(of));
    workspace_->commit(project::withFrozen(*workspace_->project(), of, *ground->tin, name.toStdString()),
                       tr("freeze %1").arg(nameOf(of)));
    messages_->say(
        tr("%1 is kept as it is now. What changes in %2 from here on is told between the two in the column, beside "
           "the totals.")
            .arg(nameOf(of), nameOf(of)),
        false);
  });
  add("redraw", tr("Redraw from contours"), "", {}, [=, this] {
    const GroundId of = workspace_->chosenGround();
    guarded([&] {
      const auto& tin = *workspace_->evaluation()->ground(of)->tin;
      const double interval = contourInterval(tin);
      project::SourceData lines;
      for (const auto& c : ground::contours(tin, ground::contourLevels(tin, interval), {})) {
        ground::Breakline line{{}, c.closed, true};
        for (const plane::Vec2 p : c.points) line.vertices.push_back({p.x, p.y, c.level});
        lines.breaklines.push_back(std::move(line));
      }
      const QString name = tr("%1 redrawn").arg(nameOf(of));
      auto next = std::make_shared<project::Project>(*workspace_->project());
      project::SourceInfo info;
      info.name = tr("contours of %1").arg(nameOf(of)).toStdString();
      const SourceId source{next->nextId++};
      next->sources.push_back(project::makeSource(source, std::move(info), std::move(lines)));
      const GroundId id{next->nextId};
      ground::BuildRules rules;
      rules.cureFlats = true;
      workspace_->commit(
          project::withNewGround(*next, name.toStdString(), project::FromSources{{source}, rules, {}}, of),
          tr("redraw %1").arg(nameOf(of)));
      workspace_->chooseGround(id);
      messages_->say(tr("Its contours are lines of your own now: choose them with E and move them."), false);
    });
  });
  add("removeGround", tr("Remove the chosen ground"), "", {}, [=, this] {
    const GroundId of = workspace_->chosenGround();
    workspace_->commit(project::withoutGround(*workspace_->project(), of), tr("remove %1").arg(nameOf(of)));
  });
}

// A button that opens a list of tools.
QToolButton* MainWindow::menuButton(const QString& text, const char* icon, std::initializer_list<const char*> ids) {
  auto* button = new QToolButton(this);
  button->setText(text);
  button->setIcon(theme::icon(icon));
  button->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
  button->setPopupMode(QToolButton::InstantPopup);
  auto* menu = new QMenu(button);
  for (const char* id : ids) menu->addAction(actions_[id]);
  button->setMenu(menu);
  return button;
}

void MainWindow::drawPad() {
  workspace_->chooseGround(workspace_->project()->finished());
  showStep(2);
  use("drawPad", std::make_unique<DrawWorksTool>(*plan_, *works::kindNamed("pad")));
}

void MainWindow::findCommand() {
  QList<QAction*> named;
  for (QAction* a : inOrder_) {
    if (a->objectName() != "find") named << a;
  }
  CommandFinder(named, this).exec();
}

// Files.

bool MainWindow::openProject(const QString& path) {
  return guarded([&] {
    workspace_->open(path);
    remember(path);
    choose();
  });
}

bool MainWindow::saveProject(const QString& path) {
  return guarded([&] {
    workspace_->saveAs(path);
    remember(path);
    messages_->say(tr("Saved to %1.").arg(QFileInfo(path).fileName()), false);
  });
}

bool MainWindow::save() {
  if (workspace_->path().isEmpty() || workspace_->readOnly()) return saveAs();
  if (workspace_->changedOnDisk()) {
    QMessageBox ask(QMessageBox::Warning, tr("Inselberg"),
                    tr("%1 was changed on the disk since it was opened here. Saving over it loses that change.")
                        .arg(QFileInfo(workspace_->path()).fileName()),
                    QMessageBox::NoButton, this);
    auto* other = ask.addButton(tr("Save under another name…"), QMessageBox::AcceptRole);
    auto* over = ask.addButton(tr("Save over it"), QMessageBox::DestructiveRole);
    ask.addButton(tr("Do not save"), QMessageBox::RejectRole);
    ask.setDefaultButton(other);
    ask.exec();
    if (ask.clickedButton() == other) return saveAs();
    if (ask.clickedButton() != over) return false;
  }
  return saveProject(workspace_->path());
}

bool MainWindow::saveAs() {
  const QString name = workspace_->path().isEmpty() ? QString::fromStdString(workspace_->project()->name) + ".inselberg"
                                                    : workspace_->path();
  const QString path = askForSaving(tr("Save the project"), name, tr("Inselberg projects (*.inselberg)"));
  return !path.isEmpty() && saveProject(path);
}

QString MainWindow::askForSaving(const QString& title, const QString& name, const QString& filter) {
  QFileDialog dialog(this, title,
                     QFileInfo(name).isAbsolute() ? QFileInfo(name).path() : QSettings().value("folder").toString(),
                     filter);
  dialog.setAcceptMode(QFileDialog::AcceptSave);
  dialog.selectFile(QFileInfo(name).fileName());
  const QString first = filter.section("*.", 1, 1).section(")", 0, 0).section(" ", 0, 0);
  dialog.setDefaultSuffix(first);
  if (dialog.exec() != QDialog::Accepted) return {};
  QSettings().setValue("folder", QFileInfo(dialog.selectedFiles().front()).path());
  return dialog.selectedFiles().front();
}

void MainWindow::import() {
  QSettings settings;
  const QStringList paths =
      QFileDialog::getOpenFileNames(this, tr("Import"), settings.value("folder").toString(), filters());
  if (paths.isEmpty()) return;
  settings.setValue("folder", QFileInfo(paths.front()).path());
  for (const QString& path : paths) {
    if (!importFile(path)) return;
  }
}

bool MainWindow::importFile(const QString& path) {
  if (workspace_->readOnly()) return false;
  std::optional<plane::Box> site;
  const auto& evaluation = *workspace_->evaluation();
  const plane::Origin origin = workspace_->project()->origin;
  if (const auto* survey = evaluation.surveyed(); survey && survey->tin) {
    const plane::Box& b = survey->tin->bounds();
    site = plane::Box{b.minX + origin.easting, b.minY + origin.northing, b.maxX + origin.easting,
                      b.maxY + origin.northing};
  }
  ImportContext context;
  context.site = site;
  const project::Project& project = *workspace_->project();
  if (project.hasOrigin) context.origin = origin;
  context.system = project.system;
  for (const auto& source : project.sources) {
    if (source->file != path.toStdString()) continue;
    context.before = source->takes;
    context.reading = source->reading;
    context.cameBefore = true;
  }
  context.limits = importLimits();
  ImportDialog dialog(path, std::move(context), this);
  if (dialog.exec() != QDialog::Accepted) return false;
  return guarded([&] {
    const QString name = QFileInfo(path).fileName();
    workspace_->commit(imported(dialog, path, name), tr("import %1").arg(name));
    const QString left =
        dialog.leftOut() == 0 ? QString() : tr(" %n rows were left out.", nullptr, static_cast<int>(dialog.leftOut()));
    messages_->say(tr("%1 is in.%2 Its report is kept with the source, on the card of the ground.").arg(name, left),
                   false);
  });
}

// The outline of the chosen works, or of the one chosen line, boundary or void where that is closed; not yet sound.
std::optional<plane::Polygon> MainWindow::chosenOutline() const {
  plane::Polygon polygon;
  const auto placed = workspace_->project()->works(workspace_->chosenWorks());
  const auto& features = workspace_->chosenFeatures();
  if (placed.ground) {
    polygon.outer = works::outlineOf(placed.works->shape);
  } else if (features.size() == 1) {
    const auto shape = project::shapeOf(*workspace_->project(), features.front());
    if (shape->closed) {
      for (const auto& v : shape->vertices) polygon.outer.push_back(v.plan());
    }
  }
  return polygon.outer.empty() ? std::nullopt : std::optional(std::move(polygon));
}

// What the plan shows now, and the outline chosen there.
std::vector<ImportLimit> MainWindow::importLimits() const {
  const plane::Origin origin = workspace_->project()->origin;
  if (!workspace_->project()->hasOrigin) return {};
  const auto moved = [&](plane::Ring ring) {
    for (plane::Vec2& p : ring) p = {p.x + origin.easting, p.y + origin.northing};
    return plane::Polygon{std::move(ring), {}};
  };
  const plane::Box view = plan_->view().visible();
  std::vector<ImportLimit> limits{
      {tr("what the plan shows"),
       moved({{view.minX, view.minY}, {view.maxX, view.minY}, {view.maxX, view.maxY}, {view.minX, view.maxY}})}};
  try {
    if (const auto outline = chosenOutline())
      limits.push_back({tr("the chosen outline"), plane::sound(moved(outline->outer), {})});
  } catch (const Error&) {
    // An outline that crosses itself limits nothing.
  }
  return limits;
}

// The project with what the dialog took; outlines of works become pads on the last ground.
project::ProjectPtr MainWindow::imported(const ImportDialog& dialog, const QString& path, const QString& name) const {
  auto start = std::make_shared<project::Project>(*workspace_->project());
  start->origin = dialog.origin();
  start->system = dialog.system();
  start->hasOrigin = true;
  std::vector<project::NewSource> sources;
  for (const exchange::TakenSource& s : dialog.taken().sources) {
    // The points and lines of a file go by the file's name, its models by their own.
    const bool model = !s.data.modelTriangles.empty() && dialog.taken().sources.size() > 1;
    project::SourceInfo info;
    info.name = model ? s.name : name.toStdString();
    info.file = path.toStdString();
    info.takes = dialog.takes();
    info.reading = dialog.reading();
    info.report = dialog.report();
    info.locked = true;  // data as it came is not changed by a slip of the mouse
    sources.push_back({std::move(info), s.data});
  }
  project::ProjectPtr next = start;
  const GroundId first = start->surveyed(), last = start->finished();
  if (dialog.replaces()) {
    next = project::withFileAgain(*next, path.toStdString(), std::move(sources), first);
  } else {
    for (auto& s : sources) next = project::withSource(*next, std::move(s.info), std::move(s.data), first);
  }
  int number = 0;
  const auto* ground = workspace_->evaluation()->ground(last);
  for (const exchange::TakenOutline& outline : dialog.taken().works) {
    const std::optional<double> under =
        ground ? ground->levelAt(plane::boundsOf(outline.polygon.outer).centre()) : std::nullopt;
    works::Pad pad{outline.polygon.outer, outline.level.value_or(std::round(under.value_or(0) * 20) / 20), {}};
    next = project::withNewWorks(
        *next, last, tr("%1 %2").arg(QFileInfo(name).completeBaseName()).arg(++number).toStdString(), std::move(pad));
  }
  return next;
}

bool MainWindow::exportGround(const QString& path) {
  return guarded([&] {
    const auto& evaluation = *workspace_->evaluation();
    const auto* ground = evaluation.ground(workspace_->chosenGround());
    const std::string name = evaluation.project->ground(ground->id)->name;
    exchange::writeGround(*ground->tin, {evaluation.project->origin, evaluation.project->system}, name,
                          path.toStdString(), 1, {});
    messages_->say(tr("The ground %1 is written to %2.").arg(QString::fromStdString(name), QFileInfo(path).fileName()),
                   false);
  });
}

bool MainWindow::exportContours(const QString& path) {
  return guarded([&] {
    const auto& evaluation = *workspace_->evaluation();
    const auto& tin = *evaluation.ground(workspace_->chosenGround())->tin;
    const double interval = contourInterval(tin);
    const auto lines = ground::contours(tin, ground::contourLevels(tin, interval), {});
    std::vector<ground::ContourLabel> labels;
    for (const auto& line : evaluation.project->labelLines) {
      const auto more = ground::labelsAlong(lines, line);
      labels.insert(labels.end(), more.begin(), more.end());
    }
    exchange::writeWhole(path.toStdString(), path.endsWith(".dxf", Qt::CaseInsensitive)
                                                 ? exchange::contoursToDxf(lines, evaluation.project->origin, labels)
                                                 : exchange::contoursToGeoJson(lines, {evaluation.project->origin,
                                                                                       evaluation.project->system}));
    messages_->say(tr("%1 contours, every %2 m, are written to %3.")
                       .arg(lines.size())
                       .arg(interval)
                       .arg(QFileInfo(path).fileName()),
                   false);
  });
}

void MainWindow::remember(const QString& path) {
  QSettings settings;
  QStringList files = settings.value("recent").toStringList();
  const QString full = QFileInfo(path).absoluteFilePath();
  files.removeAll(full);
  files.prepend(full);
  settings.setValue("recent", QStringList(files.mid(0, kRecent)));
}

void MainWindow::fillRecent() {
  recent_->clear();
  for (const QString& path : QSettings().value("recent").toStringList()) {
    if (!QFileInfo::exists(path)) continue;
    recent_->addAction(path, this, [this, path] {
      if (mayLeave()) openProject(path);
    });
  }
  if (recent_->isEmpty()) recent_->addAction(tr("None yet"))->setEnabled(false);
}

bool MainWindow::mayLeave() {
  if (!workspace_->unsaved()) return true;
  QMessageBox ask(QMessageBox::Question, tr("Inselberg"),
                  tr("%1 has changes that are not saved.").arg(QString::fromStdString(workspace_->project()->name)),
                  QMessageBox::NoButton, this);
  auto* keep = ask.addButton(tr("Save"), QMessageBox::AcceptRole);
  auto* drop = ask.addButton(tr("Leave without saving"), QMessageBox::DestructiveRole);
  ask.addButton(tr("Stay"), QMessageBox::RejectRole);
  ask.setDefaultButton(keep);
  ask.exec();
  if (ask.clickedButton() == keep) return save();
  return ask.clickedButton() == drop;
}

void MainWindow::offerRecovery() {
  store::Found found;
  try {
    found = store::abandoned(store::stateFolder());
  } catch (const Error&) {
    return;  // the workspace has told that recovery is off
  }
  if (!found.damaged.empty())
    messages_->say(tr("Unsaved work was left in a file that cannot be read; it stays where it is. %1")
                       .arg(QString::fromStdString(found.damaged.front())),
                   true);
  for (auto& file : found.files) {
    const QString name = QString::fromStdString(file.project->name);
    const QString original = file.original.empty() ? tr("It had not been saved yet.")
                                                   : tr("It belongs to %1.").arg(QString::fromStdString(file.original));
    QMessageBox ask(QMessageBox::Question, tr("Inselberg"),
                    tr("Unsaved work on %1 was left when the program ended unexpectedly. %2").arg(name, original),
                    QMessageBox::NoButton, this);
    auto* take = ask.addButton(tr("Take it up again"), QMessageBox::AcceptRole);
    auto* drop = ask.addButton(tr("Throw it away"), QMessageBox::DestructiveRole);
    ask.addButton(tr("Ask again next time"), QMessageBox::RejectRole);
    ask.setDefaultButton(take);
    ask.exec();
    if (ask.clickedButton() == take) {
      guarded([&] { workspace_->recover(std::move(file)); });
      return;
    }
    if (ask.clickedButton() == drop) store::remove(file);
  }
}

void MainWindow::closeEvent(QCloseEvent* event) {
  if (!mayLeave()) {
    event->ignore();
    return;
  }
  workspace_->discardRecovery();
  event->accept();
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
  if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
  QStringList paths;
  for (const QUrl& url : event->mimeData()->urls()) {
    if (url.isLocalFile()) paths << url.toLocalFile();
  }
  event->acceptProposedAction();
  // The dialogs come after the drop has ended, so that the file manager is not held up.
  QTimer::singleShot(0, this, [this, paths] {
    for (const QString& path : paths) {
      if (path.endsWith(".inselberg", Qt::CaseInsensitive)) {
        if (mayLeave()) openProject(path);
      } else if (!importFile(path)) {
        return;
      }
    }
  });
}

}  // namespace inselberg::app
