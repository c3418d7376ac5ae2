// The one window: step bar, column, plan, card, ledger, and the actions that tie them to the workspace.
#pragma once

#include <QHash>
#include <QMainWindow>
#include <functional>

#include "window/workspace.h"

class QComboBox;
class QHBoxLayout;
class QMenu;
class QStackedWidget;
class QToolButton;

namespace inselberg::app {

struct ImportLimit;
class CardPanel;
class ColumnPanel;
class ImportDialog;
class LedgerPanel;
class MessageStrip;
class PlanView;
class Tool;

class MainWindow : public QMainWindow {
  Q_OBJECT

 public:
  explicit MainWindow(QWidget* parent = nullptr);
  ~MainWindow() override;

  Workspace& workspace() { return *workspace_; }
  PlanView& plan() { return *plan_; }
  ColumnPanel& column() { return *column_; }
  LedgerPanel& ledger() { return *ledger_; }
  MessageStrip& messages() { return *messages_; }

  // What the actions do once the user has named a file. False when it did not work out (and was told) or was cancelled.
  bool openProject(const QString& path);
  bool saveProject(const QString& path);
  bool importFile(const QString& path);
  bool exportGround(const QString& path);
  bool exportContours(const QString& path);

  // Offers what a crash left behind. Asks.
  void offerRecovery();

 protected:
  void closeEvent(QCloseEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;

 private:
  QAction* add(const char* id, const QString& name, const char* icon, const QKeySequence& key,
               std::function<void()> run);
  void makeActions();
  QWidget* makeStepBar();
  void showStep(int index);
  void takeInterval();
  double contourInterval(const ground::Tin& tin) const;
  void refreshActions();
  void refreshTitle();
  void findCommand();
  bool mayLeave();
  bool save();
  bool saveAs();
  void import();
  void drawPad();
  // Takes a tool in hand; `id` is the action that shows it.
  void use(const QString& id, std::unique_ptr<Tool> tool);
  void makeSurveyActions();
  void makeGroundActions();
  QToolButton* menuButton(const QString& text, const char* icon, std::initializer_list<const char*> ids);
  void choose();
  std::optional<plane::Polygon> chosenOutline() const;
  std::vector<ImportLimit> importLimits() const;
  project::ProjectPtr imported(const ImportDialog& dialog, const QString& path, const QString& name) const;
  QString askForSaving(const QString& title, const QString& name, const QString& filters);
  void remember(const QString& path);
  void fillRecent();
  template <class F>
  bool guarded(F&& work);

  Workspace* workspace_;
  PlanView* plan_;
  ColumnPanel* column_;
  CardPanel* card_;
  LedgerPanel* ledger_;
  MessageStrip* messages_;
  QHash<QString, QAction*> actions_;
  QString toolId_ = "select";
  QList<QAction*> inOrder_;
  QMenu* recent_ = nullptr;
  QComboBox* interval_ = nullptr;
  QList<QToolButton*> steps_;
  QStackedWidget* tools_ = nullptr;
};

}  // namespace inselberg::app
