#include "window/main_window.h"

#include <QAction>
#include <QApplication>
#include <QCloseEvent>
#include <QComboBox>
#include <QDropEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QLineEdit>
#include <QMenu>
#include <QMenuBar>
#include <QMessageBox>
#include <QMimeData>
#include <QPushButton>
#include <QScrollArea>
#include <QSettings>
#include <QSplitter>
#include <QStackedWidget>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>

#include "card/card_panel.h"
#include "card/stage_lists.h"
#include "exchange/contours_write.h"
#include "exchange/ground_write.h"
#include "gather/import_dialog.h"
#include "jobs/long_work.h"
#include "plane/boxes.h"
#include "project/features.h"
#include "project/stage_place.h"
#include "sheet/document.h"
#include "theme/theme.h"
#include "tools/edit_line_tool.h"
#include "tools/select_tool.h"
#include "window/bring_sheet.h"
#include "window/command_finder.h"
#include "window/field_undo.h"
#include "window/pits_dialog.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

constexpr int kRecent = 8;
// Always in sight: the locks of the pointer, and the way back.
constexpr const char* kAlways[] = {"snap", "rightAngles", "undo", "redo"};

QString filters() {
  return QObject::tr(
      "Surveys, drawings and ground models (*.csv *.txt *.xyz *.pts *.xlsx *.ods *.dxf *.geojson *.json *.gpkg *.shp "
      "*.tif *.tiff *.asc *.xml *.landxml);;Plan sheets (*.pdf *.png *.jpg *.jpeg);;All files (*)");
}

QString toolTipOf(const QAction& action) {
  const QString text = QString(action.text()).remove("…");
  return action.shortcut().isEmpty()
             ? text
             : QString("%1 (%2)").arg(text, action.shortcut().toString(QKeySequence::NativeText));
}

// A place for a panel that is scrolled when it is taller than the window.
QScrollArea* scrolled(QWidget* panel, int width, QWidget* parent) {
  auto* area = new QScrollArea(parent);
  area->setFrameShape(QFrame::NoFrame);
  area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  area->setWidgetResizable(true);
  area->setWidget(panel);
  area->setFixedWidth(width);
  return area;
}

QFrame* upright(QWidget* parent) {
  auto* line = new QFrame(parent);
  line->setFixedSize(1, 22);
  line->setProperty("line", true);
  return line;
}

void addRule(QHBoxLayout& bar) {
  bar.addSpacing(6);
  bar.addWidget(upright(bar.parentWidget()));
  bar.addSpacing(6);
}

// Asks what to do; the number of the answer, -1 when the box was closed. The last answer changes nothing.
int ask(QWidget* parent, QMessageBox::Icon icon, const QString& text, const QStringList& answers) {
  QMessageBox box(icon, QObject::tr("Inselberg"), text, QMessageBox::NoButton, parent);
  QList<QPushButton*> buttons;
  for (int i = 0; i < answers.size(); ++i)
    buttons << box.addButton(answers[i], i == 0                    ? QMessageBox::AcceptRole
                                         : i + 1 == answers.size() ? QMessageBox::RejectRole
                                                                   : QMessageBox::DestructiveRole);
  box.setDefaultButton(buttons.front());
  box.exec();
  for (int i = 0; i < buttons.size(); ++i) {
    if (box.clickedButton() == buttons[i]) return i;
  }
  return -1;
}

}  // namespace

MainWindow::MainWindow(QWidget* parent)
    : QMainWindow(parent), workspace_(new Workspace(this)), view_(new ViewState(*workspace_, this)) {
  workspace_->doLongWorkBy(
      [this](const QString& what, const std::function<void(const Progress&)>& work) { doLongWork(this, what, work); });
  theme::dressed(this, [this] { dress(); });  // before anything is measured
  setAcceptDrops(true);
  resize(1280, 800);
  plan_ = new PlanView(*workspace_, *view_, this);
  second_ = new SecondPlan(*workspace_, *view_, this);
  relief_ = new ReliefView(*workspace_, *view_, this);
  section_ = new SectionView(*workspace_, *view_, this);
  column_ = new ColumnPanel(*workspace_, *view_, this);
  card_ = new CardPanel(*workspace_, this);
  ledger_ = new LedgerPanel(*workspace_, *view_, this);
  plan_->setTool(std::make_unique<SelectTool>(*plan_));
  QWidget* const views = makeViews();
  makeActions();

  auto* centre = new QWidget(this);
  auto* rows = new QVBoxLayout(centre);
  rows->setContentsMargins(0, 0, 0, 0);
  rows->setSpacing(0);
  rows->addWidget(makeStepBar());
  auto* middle = new QHBoxLayout;
  middle->setSpacing(0);
  columnArea_ = scrolled(column_, 200, this);
  middle->addWidget(columnArea_);
  middle->addWidget(views, 1);
  middle->addWidget(scrolled(card_, 252, this));
  rows->addLayout(middle, 1);
  rows->addWidget(ledger_);
  setCentralWidget(centre);
  connectViews();
  refreshActions();
  refreshTitle();
  new FieldUndo(this);
  showStep("Gather");
  plan_->setFocus();
}

MainWindow::~MainWindow() = default;

// What is drawn once stays as it was drawn: icons, and the lists that are filled from the evaluation.
void MainWindow::dress() {
  QApplication::setPalette(theme::standardPalette());
  setStyleSheet(theme::styleSheet());
  for (const Command& command : commands_) {
    if (!command.icon.isEmpty()) actions_[command.id]->setIcon(theme::icon(command.icon));
  }
  Q_EMIT workspace_->evaluationChanged();
}

// Plan and relief side by side, the section below; messages lie over them.
QWidget* MainWindow::makeViews() {
  auto* stage = new QWidget(this);
  const auto splitter = [stage](Qt::Orientation way, const char* name) {
    auto* made = new QSplitter(way, stage);
    made->setObjectName(name);
    made->setChildrenCollapsible(false);
    made->setHandleWidth(4);
    return made;
  };
  auto* above = splitter(Qt::Horizontal, "groundViews");
  above->addWidget(plan_);
  above->addWidget(second_);
  above->addWidget(relief_);
  auto* views = splitter(Qt::Vertical, "views");
  views->addWidget(above);
  views->addWidget(section_);
  views->setStretchFactor(0, 1);
  auto* room = new QVBoxLayout(stage);
  room->setContentsMargins(0, 0, 0, 0);
  room->addWidget(views);
  messages_ = new MessageStrip(stage);
  connect(messages_, &MessageStrip::covers, plan_, &PlanView::coverTop);
  layOut();
  return stage;
}

void MainWindow::layOut() {
  const Layout layout = view_->shown().layout;
  const bool two = layout == Layout::both || layout == Layout::twoPlans;
  const bool comes = two && (plan_->isHidden() || (layout == Layout::both ? relief_->isHidden() : second_->isHidden()));
  plan_->setVisible(layout != Layout::relief);
  relief_->setVisible(layout == Layout::both || layout == Layout::relief);
  second_->setVisible(layout == Layout::twoPlans);
  if (comes) findChild<QSplitter*>("groundViews")->setSizes({1000, 1000, 1000});
  if (layout == Layout::twoPlans) second_->follow(plan_->view());
}

void MainWindow::connectViews() {
  connect(workspace_, &Workspace::message, messages_, &MessageStrip::say);
  connect(plan_, &PlanView::toolFinished, this, &MainWindow::choose);
  connect(plan_, &PlanView::importWanted, this, &MainWindow::import);
  connect(plan_, &PlanView::moved, second_, &SecondPlan::follow);
  connect(second_, &SecondPlan::moved, plan_, &PlanView::look);
  connect(section_, &SectionView::keepWanted, this, [this] { actions_["keepSection"]->trigger(); });
  connect(card_, &CardPanel::placeWanted, plan_, &PlanView::showPlace);
  connect(card_, &CardPanel::otherWanted, this, [this](const QString& what, const WithOtherLine& then) {
    auto pick = std::make_unique<EditLineTool>(*plan_);
    pick->pickOther(what, then);
    use("editLines", std::move(pick));
  });
  connect(card_, &CardPanel::importWanted, this, &MainWindow::importFile);
  connect(card_, &CardPanel::pitsWanted, this, &MainWindow::askForPitsOf);
  connect(card_, &CardPanel::depthsWanted, this, &MainWindow::showDepthsOfChosen);
  connect(column_, &ColumnPanel::worksShown, this, [this](WorksId id) {
    if (const auto placed = workspace_->project()->works(id); placed.ground)
      plan_->showPlace(works::placeOf(placed.works->shape));
  });
  connect(ledger_, &LedgerPanel::doubtsWanted, this, &MainWindow::showDoubt);
  connect(ledger_, &LedgerPanel::openChanged, this, &MainWindow::refreshActions);
  connect(ledger_, &LedgerPanel::baselineChanged, this, &MainWindow::refreshActions);
  connect(view_, &ViewState::changed, this, &MainWindow::refreshActions);
  connect(view_, &ViewState::changed, this, &MainWindow::layOut);
  connect(view_, &ViewState::sectionChanged, this, &MainWindow::refreshActions);
  for (const auto signal : {&Workspace::projectChanged, &Workspace::evaluationChanged, &Workspace::selectionChanged,
                            &Workspace::fileChanged}) {
    connect(workspace_, signal, this, &MainWindow::refreshActions);
  }
  connect(workspace_, &Workspace::projectChanged, this, &MainWindow::fillIntervals);
  connect(workspace_, &Workspace::fileChanged, this, &MainWindow::refreshTitle);
  connect(workspace_, &Workspace::selectionChanged, this, [this] {
    const QRect row = workspace_->chosenWorks() ? column_->rowOf(workspace_->chosenWorks())
                                                : column_->bandOf(workspace_->chosenGround());
    if (!row.isEmpty()) columnArea_->ensureVisible(row.center().x(), row.center().y(), 0, 60);
  });
}

void MainWindow::showDoubt() {
  for (const auto& g : workspace_->evaluation()->grounds) {
    if (g.doubts.empty()) continue;
    workspace_->chooseGround(g.id);
    plan_->showPlace(g.doubts.front().where);
    return;
  }
}

bool MainWindow::guarded(const std::function<void()>& work) {
  try {
    work();
    return true;
  } catch (const Cancelled&) {
    messages_->say(tr("Stopped. Everything is as it was before."), false);
  } catch (const Error& e) {
    messages_->say(QString::fromUtf8(e.what()), true);
  } catch (const std::bad_alloc&) {
    messages_->say(tr("There is not enough memory for this. Close other programs, or use a smaller part of the data."),
                   true);
  }
  return false;
}

Abilities MainWindow::can() const {
  const auto& evaluation = *workspace_->evaluation();
  const auto* chosen = evaluation.ground(workspace_->chosenGround());
  return {!workspace_->readOnly(), evaluation.surveyed() && evaluation.surveyed()->tin,
          chosen && chosen->tin && workspace_->upToDate()};
}

void MainWindow::makeActions() {
  for (const auto list : {projectCommands, worksCommands, surveyCommands, sheetCommands, stageCommands, groundCommands,
                          viewCommands, reliefCommands, sectionCommands, helpCommands}) {
    for (Command& command : list(*this)) commands_.push_back(std::move(command));
  }
  for (const Command& command : commands_) {
    auto* action = new QAction(command.text, this);
    action->setObjectName(command.id);
    if (!command.icon.isEmpty()) action->setIcon(theme::icon(command.icon));
    if (!command.brief.isEmpty()) action->setIconText(command.brief);
    action->setShortcut(command.key);
    action->setToolTip(toolTipOf(*action));
    action->setCheckable(static_cast<bool>(command.checked));
    connect(action, &QAction::triggered, this, [this, run = command.run] {
      run();
      refreshActions();
    });
    addAction(action);
    actions_.insert(command.id, action);
  }
}

QWidget* MainWindow::makeStepBar() {
  auto* bar = new QWidget(this);
  bar->setObjectName("stepBar");
  bar->setAttribute(Qt::WA_StyledBackground);
  bar->setFixedHeight(38);
  auto* layout = new QHBoxLayout(bar);
  layout->setContentsMargins(2, 0, 8, 0);
  layout->setSpacing(0);
  makeMenus(*layout);
  addRule(*layout);
  makeSteps(*layout);
  for (const char* id : kAlways) {
    if (QString(id) == "undo") addRule(*layout);
    auto* b = new QToolButton(bar);
    b->setDefaultAction(actions_[id]);
    b->setToolButtonStyle(Qt::ToolButtonIconOnly);
    layout->addWidget(b);
  }
  return bar;
}

void MainWindow::makeMenus(QHBoxLayout& bar) {
  auto* menus = new QMenuBar(bar.parentWidget());
  menus->setNativeMenuBar(false);
  for (const char* title : kMenus) {
    QMenu* menu = menus->addMenu(tr(title));
    for (const Command& command : commands_) {
      if (QLatin1String(command.menu) != QLatin1String(title)) continue;
      if (command.begins) menu->addSeparator();
      menu->addAction(actions_[command.id]);
      if (command.id != "open") continue;
      recent_ = menu->addMenu(tr("Open recent"));
      connect(recent_, &QMenu::aboutToShow, this, &MainWindow::fillRecent);
    }
  }
  menus->setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Preferred);
  menus->ensurePolished();
  menus->setMinimumWidth(menus->sizeHint().width() + 2);
  bar.addWidget(menus, 0, Qt::AlignVCenter);
}

// Takes the words from buttons with an icon, the last first, until the window can be 1280 pixels wide; lists keep
// theirs as long as others have some.
void MainWindow::leaveRoom(QHBoxLayout& row) {
  constexpr int kRoom = 316;
  for (const bool lists : {false, true}) {
    for (int i = row.count() - 1; i >= 0; --i) {
      row.invalidate();
      if (row.minimumSize().width() <= kRoom) return;
      auto* button = qobject_cast<QToolButton*>(row.itemAt(i)->widget());
      if (button && !button->icon().isNull() && (lists || !button->menu()))
        button->setToolButtonStyle(Qt::ToolButtonIconOnly);
    }
  }
}

void MainWindow::makeSteps(QHBoxLayout& bar) {
  tools_ = new QStackedWidget(bar.parentWidget());
  for (const char* name : kSteps) {
    auto* page = new QWidget(tools_);
    auto* row = new QHBoxLayout(page);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(2);
    const bool withInterval = QLatin1String(name) == QLatin1String("Ground");
    QHash<QString, QToolButton*> lists;
    for (const Command& command : commands_) {
      if (QLatin1String(command.step) != QLatin1String(name)) continue;
      QAction* action = actions_[command.id];
      QToolButton* button = lists.value(command.button);
      if (!button) {
        button = new QToolButton(page);
        if (*command.button)
          makeList(*(lists[command.button] = button), command, *action);
        else
          button->setDefaultAction(action);
        button->setToolButtonStyle(button->icon().isNull() ? Qt::ToolButtonTextOnly : Qt::ToolButtonTextBesideIcon);
        button->ensurePolished();
        row->addWidget(button);
      }
      if (*command.button) addToList(*button, command, *action);
    }
    if (row->count() == 0) {
      delete page;
      continue;
    }
    if (withInterval) row->addWidget(interval_ = makeInterval(page)), fillIntervals();
    leaveRoom(*row);
    row->addStretch(1);
    const int index = tools_->addWidget(page);
    auto* step = new QToolButton(bar.parentWidget());
    step->setText(tr(name));
    step->setCheckable(true);
    step->setAutoExclusive(true);
    step->setProperty("step", true);
    connect(step, &QToolButton::clicked, this, [this, index] { tools_->setCurrentIndex(index); });
    bar.addWidget(step);
    steps_.insert(name, step);
  }
  addRule(bar);
  bar.addWidget(tools_, 1);
}

// A button that opens a list; where the list says what each is for, it has the last chosen at hand.
void MainWindow::makeList(QToolButton& button, const Command& first, QAction& action) {
  button.setMenu(new QMenu(&button));
  if (first.says.isEmpty()) {
    button.setText(tr(first.button));
    button.setIcon(action.icon());
    connect(&action, &QAction::changed, &button, [&button, &action] { button.setIcon(action.icon()); });
    button.setPopupMode(QToolButton::InstantPopup);
    return;
  }
  button.setObjectName(QStringLiteral("list-") + first.button);
  button.setPopupMode(QToolButton::MenuButtonPopup);
  button.setDefaultAction(&action);
}

void MainWindow::addToList(QToolButton& button, const Command& command, QAction& action) {
  if (command.says.isEmpty()) {
    button.menu()->addAction(&action);
    return;
  }
  // The words stand in a column of their own.
  auto* entry = button.menu()->addAction(action.icon(), command.brief + "\t" + command.says);
  entry->setObjectName("list-" + command.id);
  entry->setEnabled(action.isEnabled());
  connect(&action, &QAction::changed, entry, [entry, &action] {
    entry->setEnabled(action.isEnabled());
    entry->setIcon(action.icon());
  });
  connect(entry, &QAction::triggered, &action, &QAction::trigger);
  connect(&action, &QAction::triggered, &button, [&button, &action] { button.setDefaultAction(&action); });
}

QComboBox* MainWindow::makeInterval(QWidget* parent) {
  auto* box = new QComboBox(parent);
  box->setObjectName("interval");
  box->setFixedWidth(84);
  box->addItem(tr("by relief"), 0.0);
  box->setToolTip(tr("Level difference between contours: choose one, or type any"));
  box->setEditable(true);
  box->setInsertPolicy(QComboBox::NoInsert);
  box->setCompleter(nullptr);
  connect(box, &QComboBox::activated, this, &MainWindow::takeInterval);
  connect(box->lineEdit(), &QLineEdit::editingFinished, this, &MainWindow::takeInterval);
  // Keys are the plan's again.
  connect(box->lineEdit(), &QLineEdit::returnPressed, this, [this] { plan_->setFocus(); });
  connect(box, &QComboBox::activated, this, [this] { plan_->setFocus(); });
  return box;
}

// Of metres or feet, as lengths are told.
void MainWindow::fillIntervals() {
  if (interval_->itemText(1).endsWith(" " + lengths::unit())) return;
  const QSignalBlocker quiet(interval_);
  while (interval_->count() > 1) interval_->removeItem(1);
  static constexpr double kMetres[] = {0.1, 0.2, 0.25, 0.5, 1, 2, 5}, kFeet[] = {0.25, 0.5, 1, 2, 5, 10, 20};
  for (const double v : lengths::measures().imperial ? kFeet : kMetres)
    interval_->addItem(lengths::exact(v * lengths::inMetres()), v * lengths::inMetres());
  showInterval();
}

void MainWindow::showInterval() {
  const double now = view_->shown().interval;
  interval_->setEditText(now > 0 ? lengths::exact(now) : interval_->itemText(0));
}

// An interval as chosen from the list, or typed: "0.3", "0.3 m"; anything else is put back.
void MainWindow::takeInterval() {
  const QString text = interval_->currentText();
  const int known = interval_->findText(text);
  const auto typed = known >= 0 ? std::optional(interval_->itemData(known).toDouble()) : lengths::typed(text);
  if (typed && (known >= 0 || (*typed >= 0.01 && *typed <= 1000)))
    view_->alter([&](Shown& s) { s.interval = *typed; });
  else
    messages_->say(tr("Write the level difference between contours as a length, like 0.3."), true);
  showInterval();
}

double MainWindow::contourInterval(const ground::Tin& tin) const {
  const double wanted = view_->shown().interval;
  return wanted > 0 ? wanted : ground::proposedInterval(tin, lengths::measures());
}

void MainWindow::showStep(const QString& name) {
  if (QToolButton* step = steps_.value(name)) step->click();
}

void MainWindow::refreshActions() {
  for (const Command& command : commands_) {
    QAction* action = actions_[command.id];
    if (command.enabled) action->setEnabled(command.enabled());
    if (command.checked) action->setChecked(command.checked());
    if (!command.now) continue;
    action->setText(command.now());
    action->setToolTip(toolTipOf(*action));
  }
}

void MainWindow::refreshTitle() {
  const QString file = workspace_->path().isEmpty() ? tr("not saved yet") : QFileInfo(workspace_->path()).fileName();
  const QString state = workspace_->readOnly() ? tr(" (open elsewhere: read only)") : QString();
  setWindowTitle(tr("%1[*] – %2%3 – Inselberg").arg(QString::fromStdString(workspace_->project()->name), file, state));
  setWindowModified(workspace_->unsaved());
}

void MainWindow::use(const QString& id, std::unique_ptr<Tool> tool) {
  toolId_ = id;
  // Tools work on the plan.
  if (id != "select" && view_->shown().layout == Layout::relief)
    view_->alter([](Shown& s) { s.layout = Layout::both; });
  plan_->setTool(std::move(tool));
  refreshActions();
  plan_->setFocus();
}

void MainWindow::choose() {
  workspace_->chooseFeatures({});
  use("select", std::make_unique<SelectTool>(*plan_));
}

void MainWindow::findCommand() {
  CommandFinder finder(commands_, actions_, this);
  finder.exec();
}

QString MainWindow::chosenGroundName() const {
  return QString::fromStdString(workspace_->project()->ground(workspace_->chosenGround())->name);
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
    const int answer = ask(this, QMessageBox::Warning,
                           tr("%1 was changed on the disk since it was opened here. Saving over it loses that change.")
                               .arg(QFileInfo(workspace_->path()).fileName()),
                           {tr("Save under another name…"), tr("Save over it"), tr("Do not save")});
    if (answer == 0) return saveAs();
    if (answer != 1) return false;
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
  // A TIFF is a raster of levels here; as a plan sheet it has a command of its own.
  if (sheet::isSheetEnding(path.toStdString()) && !path.contains(".tif", Qt::CaseInsensitive))
    return bringSheet(*this, path);
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
    // As things stand now: time has passed in the dialog.
    const project::ProjectPtr now = workspace_->project();
    const project::EvaluationPtr known = workspace_->evaluation();
    const auto* ground = known->ground(now->finished());
    exchange::BroughtIn chosen = dialog.chosen();
    const std::string units = chosen.units;
    project::ProjectPtr next;
    workspace_->doLong(tr("Bringing in %1").arg(name), [&](const Progress&) {
      next = exchange::withBroughtIn(*now, std::move(chosen),
                                     [ground](plane::Vec2 p) { return ground ? ground->levelAt(p) : std::nullopt; });
    });
    // Who begins with a survey in feet works in feet.
    const bool inFeet = now->sources.empty() && !now->measures.imperial && (units == "ft" || units == "us-ft");
    if (inFeet) next = project::withMeasures(*next, {.imperial = true, .roundTo = now->measures.roundTo});
    workspace_->commit(next, tr("import %1").arg(name));
    const QString left =
        dialog.leftOut() == 0 ? QString() : tr(" %n rows were left out.", nullptr, static_cast<int>(dialog.leftOut()));
    const QString feet =
        inFeet ? tr(" It is in feet, and so is the project: Grounds › Units and rounding.") : QString();
    messages_->say(
        tr("%1 is in.%2%3 Its report is kept with the source, on the card of the ground.").arg(name, left, feet),
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
  const auto view = plane::cornersOf(plan_->view().visible());
  std::vector<ImportLimit> limits{{tr("what the plan shows"), moved(plane::Ring(view.begin(), view.end()))}};
  try {
    if (const auto outline = chosenOutline())
      limits.push_back({tr("the chosen outline"), plane::sound(moved(outline->outer), {})});
  } catch (const Error&) {
    // An outline that crosses itself limits nothing.
  }
  return limits;
}

std::optional<GroundId> MainWindow::askForOther(const QString& title, const QString& label) {
  QStringList names;
  std::vector<GroundId> ids;
  for (const auto& g : workspace_->project()->column) {
    if (g->id == workspace_->chosenGround()) continue;
    names << QString::fromStdString(g->name);
    ids.push_back(g->id);
  }
  bool given = false;
  const QString chosen = QInputDialog::getItem(this, title, label, names, 0, false, &given);
  if (!given) return std::nullopt;
  const GroundId id = ids[static_cast<std::size_t>(names.indexOf(chosen))];
  // Time has passed in the dialog.
  return workspace_->project()->ground(id) ? std::optional(id) : std::nullopt;
}

bool MainWindow::exportGround(const QString& path) {
  return guarded([&] {
    const project::EvaluationPtr evaluation = workspace_->evaluation();
    const auto* ground = evaluation->ground(workspace_->chosenGround());
    const std::string name = evaluation->project->ground(ground->id)->name;
    workspace_->doLong(tr("Writing %1").arg(QFileInfo(path).fileName()), [&](const Progress& progress) {
      exchange::writeGround(*ground->tin, {evaluation->project->origin, evaluation->project->system}, name,
                            path.toStdString(), 1, progress);
    });
    messages_->say(tr("The ground %1 is written to %2.").arg(QString::fromStdString(name), QFileInfo(path).fileName()),
                   false);
  });
}

bool MainWindow::exportContours(const QString& path) {
  return guarded([&] {
    const project::EvaluationPtr evaluation = workspace_->evaluation();
    const project::Project& project = *evaluation->project;
    const auto& tin = *evaluation->ground(workspace_->chosenGround())->tin;
    const double interval = contourInterval(tin);
    std::size_t count = 0;
    workspace_->doLong(tr("Writing %1").arg(QFileInfo(path).fileName()), [&](const Progress& progress) {
      count = exchange::writeContours(tin, {project.origin, project.system}, interval, project.labelLines,
                                      path.toStdString(), progress);
    });
    messages_->say(tr("%1 contours, every %2, are written to %3.")
                       .arg(count)
                       .arg(lengths::exact(interval), QFileInfo(path).fileName()),
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
  const int answer =
      ask(this, QMessageBox::Question,
          tr("%1 has changes that are not saved.").arg(QString::fromStdString(workspace_->project()->name)),
          {tr("Save"), tr("Leave without saving"), tr("Stay")});
  return answer == 0 ? save() : answer == 1;
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
    if (offer(file)) return;
  }
}

// True when it was taken up.
bool MainWindow::offer(store::Abandoned& file) {
  const QString original = file.original.empty() ? tr("It had not been saved yet.")
                                                 : tr("It belongs to %1.").arg(QString::fromStdString(file.original));
  const int answer = ask(this, QMessageBox::Question,
                         tr("Unsaved work on %1 was left when the program ended unexpectedly. %2")
                             .arg(QString::fromStdString(file.project->name), original),
                         {tr("Take it up again"), tr("Throw it away"), tr("Ask again next time")});
  if (answer == 0) guarded([&] { workspace_->recover(std::move(file)); });
  if (answer == 1) store::remove(file);
  return answer == 0;
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
  QTimer::singleShot(0, this, [this, paths] { take(paths); });
}

void MainWindow::take(const QStringList& paths) {
  for (const QString& path : paths) {
    if (path.endsWith(".inselberg", Qt::CaseInsensitive)) {
      if (mayLeave()) openProject(path);
    } else if (!importFile(path)) {
      return;
    }
  }
}

void MainWindow::askForPitsOf(WorksId id) {
  const auto at = project::placeOf(workspace_->project()->stages, id);
  if (!at || at->kind != project::StageKind::strip) return;
  changeStages(
      *workspace_,
      [&](project::Stages& stages) { askForPits(stages.strips[at->place], workspace_->project()->origin, this); },
      tr("change the pits of %1").arg(QString::fromStdString(workspace_->project()->stages.strips[at->place].name)));
}

// Between the chosen ground and the stage before it; again puts them away.
void MainWindow::showDepthsOfChosen() {
  for (const project::Between& between : workspace_->project()->seams()) {
    if (!between.counted || between.to != workspace_->chosenGround()) continue;
    const bool again = view_->shown().mode == PlanMode::depth && view_->shown().compared == between;
    again ? view_->hideDepths() : view_->showDepths(Lit::all, between);
  }
}

}  // namespace inselberg::app
