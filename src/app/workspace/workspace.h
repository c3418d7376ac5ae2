// What the window works on: the project, its history, the latest evaluation, the selection. Views read from it and send
// edits to it; they never talk to each other.
#pragma once

#include <QObject>
#include <QString>
#include <memory>
#include <optional>

#include "balance/level_balance.h"
#include "jobs/worker.h"
#include "project/evaluate.h"
#include "project/features.h"
#include "project/history.h"
#include "report/figures.h"
#include "store/recovery.h"
#include "works/pond_storage.h"
#include "workspace/coverages.h"
#include "workspace/sheet_contents.h"

class QTimer;

namespace inselberg::app {

class Workspace : public QObject {
  Q_OBJECT

 public:
  explicit Workspace(QObject* parent = nullptr);
  ~Workspace() override;

  // How many projects were opened or begun so far: what was chosen in another is of no use in the next.
  int shown() const { return shown_; }

  // What is on the screen: the transient project during a drag, else the present of the history.
  const project::ProjectPtr& project() const { return transient_ ? transient_ : history_.now(); }
  // The latest evaluation (may be of an earlier project while a newer is computed). Never null.
  const project::EvaluationPtr& evaluation() const { return evaluation_; }
  // Whether the evaluation is whole and of the project on the screen.
  bool upToDate() const { return evaluation_->whole && evaluation_->project == project(); }

  // Edits. A transient one shows at once and leaves no undo step until committed.
  void commit(project::ProjectPtr next, const QString& what);
  void setTransient(project::ProjectPtr next);
  void commitTransient(const QString& what);
  void dropTransient();
  void undo();
  void redo();
  const project::History& history() const { return history_; }

  // The chosen works (0: none) and the ground the plan shows and new works go on.
  WorksId chosenWorks() const { return chosenWorks_; }
  GroundId chosenGround() const { return chosenGround_; }
  void chooseWorks(WorksId id);
  // The works whose facets lie at a place in plan, the last of several; 0: none.
  WorksId worksAt(plane::Vec2 p) const;
  // What the views draw: works of the grounds up to the chosen one that are not hidden, or chosen.
  std::vector<project::PlacedWorks> worksShown() const { return evaluation_->worksShown(chosenGround_, chosenWorks_); }
  // Takes works, a strip, undercut or build-up out of the grounds and figures, or back in.
  void leaveOutOrTakeIn(WorksId id);
  // The lines of works on the views; what they cost stays.
  void hideOrShow(WorksId id);
  void showAllWorks();
  // Works in place.
  void holdOrLetGo(WorksId id);
  // The chosen points, lines and outlines of sources; choosing works or a ground lets them go.
  const std::vector<project::Feature>& chosenFeatures() const { return chosenFeatures_; }
  void chooseFeatures(std::vector<project::Feature> features);
  void chooseGround(GroundId id);
  // Where what is drawn or taken goes: the chosen ground if it is built from sources, else the surveyed one.
  const project::Ground& drawnInto() const;
  // The chosen strip, undercut or build-up (0: none); choosing anything else lets it go.
  WorksId chosenStage() const { return chosenStage_; }
  void chooseStage(WorksId id);
  // Takes it out. REQUIRES: there is one.
  void removeStage();

  // A quantity as this project tells it, with its unit.
  QString told(double value, Quantity quantity) const;
  // All quantities of the evaluation of now, taken in the background from the first time they are asked for; null while
  // they are not known.
  std::shared_ptr<const report::Quantities> quantities();

  // What stands on the plan sheets that are shown.
  const SheetContents& sheetContents() const { return sheetContents_; }

  // What the areas of a use cover of the site, as it is on the screen.
  const project::Coverage& coverage(project::AreaUse use) { return coverages_.of(*project(), use); }

  // How long work is done: by default at once. Given the work and what it is called, it does the work and throws what
  // that throws. The project and the evaluation stay as they are until it is over, so that the work may read them from
  // its own thread; what is computed meanwhile comes soon after.
  using LongWork = std::function<void(const QString& what, const std::function<void(const Progress&)>& work)>;
  void doLongWorkBy(LongWork by) { longWork_ = std::move(by); }
  void doLong(const QString& what, const std::function<void(const Progress&)>& work);

  // Files. Throw Error, and Cancelled when stopped; what was open stays open then.
  void startNew();
  void open(const QString& path);
  void recover(store::Abandoned file);
  void saveAs(const QString& path);
  const QString& path() const { return path_; }
  bool readOnly() const { return readOnly_; }
  // Whether somebody else wrote or replaced the file since it was opened or saved here.
  bool changedOnDisk() const;
  bool unsaved() const;
  // The recovery file, written in the background: discarded when nothing in it is wanted any more, written now when
  // something changed since.
  void discardRecovery();
  void keepRecovery();
  // Waits until the recovery file is as asked.
  void finishRecovery() { keeper_.finish(); }

  // Finds the level at which the works balances, in the background; one undo step at the end.
  void balance(WorksId id);
  // Finds the size at which a pond holds so many cubic metres, likewise.
  void sizePond(WorksId id, double volume, works::SizeBy by);
  // Where the water of the chosen pond leaves, and at what level; nothing when it is not known.
  struct Spill {
    plane::Vec2 at;
    double level = 0;
  };
  const std::optional<Spill>& spill() const { return spill_; }
  void showSpill(std::optional<Spill> spill);
  // Computes what is on the screen anew, from what is known.
  void recompute() { evaluate(); }
  // Stops what is being computed.
  void cancel();

 signals:
  void projectChanged();
  void evaluationChanged();
  void selectionChanged();
  void spillChanged();
  void quantitiesTaken();
  void fileChanged();                                // path or saved state
  void busy(const QString& stage, double fraction);  // fraction below 0: nothing is being computed
  void message(const QString& text, bool wrong);

 private:
  // Turns a mark of a works, as one step named by either text; false when it is none.
  bool turnWorks(WorksId id, bool works::Works::*mark, const QString& on, const QString& off);
  void show(project::ProjectPtr start, const QString& path);
  void changed();
  void evaluate();
  void mendSelection();
  void takeQuantities();
  void setBalanced(WorksId id, const balance::LevelBalance& found);
  void setSized(WorksId id, const works::SizedPond& found, works::SizeBy by);
  // A works with the legs of its sections; nothing, and a message, where one of them is missing.
  std::optional<works::Works> withItsSections(WorksId id, const QString& cannot);
  // Writes the recovery file in the background, then, only when that went well, does what is to come afterwards.
  void keep(std::function<void()> afterwards);
  // Tells in the window what a worker could not go on from; from any thread.
  void tell(const char* what, const std::string& why);
  // What other work found is set in when nothing is being dragged, so that neither edit is lost.
  void whenAtRest(std::function<void()> edit);
  void comeToRest();
  // What would change the evaluation waits for the end of long work; and goes on then.
  void whenFree(std::function<void()> change);
  void goOn();

  LongWork longWork_ = [](const QString&, const auto& work) { work(Progress()); };
  project::History history_;
  Coverages coverages_;
  int shown_ = 0;  // projects shown so far: what was begun for another is of no use
  project::ProjectPtr transient_;
  project::EvaluationPtr evaluation_;
  project::ProjectPtr saved_;
  project::ProjectPtr kept_;  // last written to the recovery file
  QString path_;
  bool readOnly_ = false;
  store::FileLock lock_;                        // of the file at path_
  store::FileState onDisk_;                     // that file as it was read or written last
  std::vector<std::function<void()>> waiting_;  // for the end of a drag, and of long work
  std::vector<std::function<void()>> held_;     // for the end of long work
  int longRuns_ = 0;
  WorksId chosenWorks_;
  std::optional<Spill> spill_;
  GroundId chosenGround_;
  WorksId chosenStage_;
  std::shared_ptr<const report::Quantities> quantities_;
  project::EvaluationPtr quantitiesOf_;  // they were taken of, or are being
  bool quantitiesWanted_ = false;
  std::shared_ptr<report::QuantityCache> quantityCache_;
  std::vector<project::Feature> chosenFeatures_;
  std::unique_ptr<store::Recovery> recovery_;  // null: there is no place for it
  QTimer* recoveryTimer_;
  std::shared_ptr<project::Cache> cache_;
  std::shared_ptr<std::atomic<bool>> cancelled_;
  SheetContents sheetContents_;
  Worker keeper_;
  Worker balancer_;
  Worker taker_;
  Worker evaluator_;
};

}  // namespace inselberg::app
