// The one window: step bar, column, plan, card, ledger, and the commands that tie them to the workspace.
#pragma once

#include <QHash>
#include <QMainWindow>
#include <functional>

#include "base/error.h"
#include "column/column_panel.h"
#include "ledger/ledger_panel.h"
#include "plan/plan_view.h"
#include "plan/second_plan.h"
#include "relief/relief_view.h"
#include "section/section_view.h"
#include "window/command.h"
#include "window/message_strip.h"
#include "workspace/view_state.h"

class QComboBox;
class QHBoxLayout;
class QMenu;
class QScrollArea;
class QStackedWidget;
class QToolButton;

namespace inselberg::app {

struct ImportLimit;
class CardPanel;

// What can be done as things stand; commands are enabled by it.
struct Abilities {
  bool write = false;      // the project may be changed
  bool read = false;       // there is a surveyed ground
  bool useChosen = false;  // the chosen ground is there and up to date
};

class MainWindow : public QMainWindow {
  Q_OBJECT

 public:
  explicit MainWindow(QWidget* parent = nullptr);
  ~MainWindow() override;

  Workspace& workspace() { return *workspace_; }
  const Workspace& workspace() const { return *workspace_; }
  ViewState& view() { return *view_; }
  PlanView& plan() { return *plan_; }
  ReliefView& relief() { return *relief_; }
  SecondPlan& secondPlan() { return *second_; }
  SectionView& section() { return *section_; }
  ColumnPanel& column() { return *column_; }
  LedgerPanel& ledger() { return *ledger_; }
  MessageStrip& messages() { return *messages_; }
  const Commands& commands() const { return commands_; }

  // What the commands do once the user has named a file. False when it did not work out (and was told) or was
  // cancelled.
  bool openProject(const QString& path);
  bool saveProject(const QString& path);
  bool importFile(const QString& path);
  // Opens a project, and brings in other files, each by its dialog, until one is put aside.
  void take(const QStringList& paths);
  bool exportGround(const QString& path);
  bool exportContours(const QString& path);

  // For the commands.
  Abilities can() const;
  bool mayLeave();  // asks when something is not saved
  bool save();
  bool saveAs();
  void import();
  // Takes a tool in hand; `id` is the command that shows it.
  void use(const QString& id, std::unique_ptr<Tool> tool);
  QString inHand() const { return toolId_; }
  void choose();
  void showStep(const QString& name);
  void findCommand();
  QString askForSaving(const QString& title, const QString& name, const QString& filters);
  QString chosenGroundName() const;
  // Asks for a ground beside the chosen one; nothing when none was chosen.
  std::optional<GroundId> askForOther(const QString& title, const QString& label);
  // The interval of contours that is wanted, or suits the ground.
  double contourInterval(const ground::Tin& tin) const;
  // The outline of the chosen works, or of the one chosen line, boundary or void where that is closed; not yet sound.
  std::optional<plane::Polygon> chosenOutline() const;
  // Does the work; what it cannot go on from is told. False then.
  bool guarded(const std::function<void()>& work);

  // Offers what a crash left behind. Asks.
  void offerRecovery();

 protected:
  void closeEvent(QCloseEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;

 private:
  void connectViews();
  QWidget* makeViews();
  void layOut();
  void dress();
  void makeActions();
  QWidget* makeStepBar();
  void makeMenus(QHBoxLayout& bar);
  void makeSteps(QHBoxLayout& bar);
  static void leaveRoom(QHBoxLayout& row);
  void makeList(QToolButton& button, const Command& first, QAction& action);
  void addToList(QToolButton& button, const Command& command, QAction& action);
  QComboBox* makeInterval(QWidget* parent);
  void fillIntervals();
  void showInterval();
  void takeInterval();
  void showDoubt();
  void refreshActions();
  void refreshTitle();
  std::vector<ImportLimit> importLimits() const;
  bool offer(store::Abandoned& file);
  void remember(const QString& path);
  void fillRecent();

  void askForPitsOf(WorksId strip);
  void showDepthsOfChosen();

  Workspace* workspace_;
  ViewState* view_;
  PlanView* plan_;
  SecondPlan* second_;
  ReliefView* relief_;
  SectionView* section_;
  ColumnPanel* column_;
  QScrollArea* columnArea_;
  CardPanel* card_;
  LedgerPanel* ledger_;
  MessageStrip* messages_;
  Commands commands_;
  QHash<QString, QAction*> actions_;  // of the commands, by id
  QString toolId_ = "select";
  QMenu* recent_ = nullptr;
  QComboBox* interval_ = nullptr;
  QHash<QString, QToolButton*> steps_;
  QStackedWidget* tools_ = nullptr;
};

}  // namespace inselberg::app
