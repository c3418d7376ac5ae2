#include "workspace/workspace.h"

#include <QFileInfo>
#include <QTimer>
#include <chrono>
#include <thread>
#include <type_traits>

#include "balance/level_balance.h"
#include "base/error.h"
#include "base/measures.h"
#include "project/stage_place.h"
#include "store/project_file.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

project::EvaluationPtr nothingYet(const project::ProjectPtr& project) {
  auto evaluation = std::make_shared<project::Evaluation>();
  evaluation->project = project;
  for (const auto& g : project->column) evaluation->grounds.emplace_back().id = g->id;
  for (const project::Between& between : project->seams()) evaluation->seams.push_back({between, {}, {}});
  return evaluation;
}

// An early evaluation with the grounds it has not come to yet as they were before, so that none goes out of sight.
project::EvaluationPtr withMissingFrom(const project::Evaluation& early, const project::Evaluation& before) {
  auto filled = std::make_shared<project::Evaluation>(early);
  for (project::EvaluatedGround& g : filled->grounds) {
    const auto* old = before.ground(g.id);
    if (!g.tin && g.problem.empty() && old) g = *old;
  }
  return filled;
}

}  // namespace

Workspace::Workspace(QObject* parent)
    : QObject(parent),
      history_(project::emptyProject("New site")),
      evaluation_(nothingYet(history_.now())),
      saved_(history_.now()),
      kept_(history_.now()),
      quantityCache_(std::make_shared<report::QuantityCache>()),
      recoveryTimer_(new QTimer(this)),
      cache_(std::make_shared<project::Cache>()),
      cancelled_(std::make_shared<std::atomic<bool>>(false)),
      keeper_([this](const std::string& why) { tell("No recovery file could be kept", why); }),
      balancer_([this](const std::string& why) { tell("The balance could not be found", why); }),
      taker_([this](const std::string& why) { tell("The quantities could not be taken", why); }),
      evaluator_([this](const std::string& why) {
        QMetaObject::invokeMethod(
            this, [this] { Q_EMIT busy({}, -1); }, Qt::QueuedConnection);
        tell("The grounds could not be computed", why);
      }) {
  try {
    recovery_ = std::make_unique<store::Recovery>(store::stateFolder());
  } catch (const Error& e) {
    // Work goes on without; told once somebody listens.
    QMetaObject::invokeMethod(
        this,
        [this, text = QString::fromUtf8(e.what())] {
          Q_EMIT message(tr("Work is not kept against a crash, save often: %1").arg(text), true);
        },
        Qt::QueuedConnection);
  }
  connect(this, &Workspace::projectChanged, this, [this] { sheetContents_.follow(*project()); });
  recoveryTimer_->setSingleShot(true);
  recoveryTimer_->setInterval(200);
  connect(recoveryTimer_, &QTimer::timeout, this, &Workspace::keepRecovery);
  mendSelection();
  evaluate();
}

Workspace::~Workspace() {
  *cancelled_ = true;
  keeper_.finish();
}

bool Workspace::unsaved() const {
  return !project::sameContent(*history_.now(), *saved_);
}

void Workspace::commit(project::ProjectPtr next, const QString& what) {
  transient_ = nullptr;
  history_.commit(std::move(next), what.toStdString());
  changed();
}

void Workspace::setTransient(project::ProjectPtr next) {
  transient_ = std::move(next);
  evaluate();
  Q_EMIT projectChanged();
}

void Workspace::commitTransient(const QString& what) {
  if (!transient_) return;
  auto next = std::exchange(transient_, nullptr);
  history_.commit(std::move(next), what.toStdString());
  changed();
  comeToRest();
}

void Workspace::dropTransient() {
  if (!transient_) return;
  transient_ = nullptr;
  evaluate();
  Q_EMIT projectChanged();
  comeToRest();
}

void Workspace::whenAtRest(std::function<void()> edit) {
  waiting_.push_back(std::move(edit));
  if (!transient_ && longRuns_ == 0) comeToRest();
}

void Workspace::whenFree(std::function<void()> change) {
  if (longRuns_ == 0) return change();
  held_.push_back(std::move(change));
}

// Not before who asked for the work has taken what it found.
void Workspace::doLong(const QString& what, const std::function<void(const Progress&)>& work) {
  const auto over = [this] {
    if (--longRuns_ == 0) QMetaObject::invokeMethod(this, &Workspace::goOn, Qt::QueuedConnection);
  };
  ++longRuns_;
  try {
    longWork_(what, work);
  } catch (...) {
    over();
    throw;
  }
  over();
}

void Workspace::goOn() {
  if (longRuns_ > 0) return;
  for (const auto& change : std::exchange(held_, {})) change();
  if (!transient_) comeToRest();
}

void Workspace::comeToRest() {
  for (const auto& edit : std::exchange(waiting_, {})) edit();
}

void Workspace::tell(const char* what, const std::string& why) {
  QMetaObject::invokeMethod(
      this,
      [this, what, text = QString::fromUtf8(why.c_str())] { Q_EMIT message(tr("%1: %2").arg(tr(what), text), true); },
      Qt::QueuedConnection);
}

void Workspace::undo() {
  dropTransient();
  if (!history_.canUndo()) return;
  history_.undo();
  changed();
}

void Workspace::redo() {
  dropTransient();
  if (!history_.canRedo()) return;
  history_.redo();
  changed();
}

void Workspace::changed() {
  mendSelection();
  evaluate();
  // Not started anew by every edit: edits in quick succession must not put it off.
  if (!recoveryTimer_->isActive()) recoveryTimer_->start();
  Q_EMIT projectChanged();
  Q_EMIT fileChanged();
}

void Workspace::mendSelection() {
  const project::Project& p = *project();
  if (chosenWorks_ && !p.works(chosenWorks_).ground) {
    chosenWorks_ = {};
    Q_EMIT selectionChanged();
  }
  if (chosenStage_ && !project::placeOf(p.stages, chosenStage_)) {
    chosenStage_ = {};
    Q_EMIT selectionChanged();
  }
  const auto gone = std::erase_if(chosenFeatures_, [&](const project::Feature& f) { return !project::shapeOf(p, f); });
  if (gone > 0) Q_EMIT selectionChanged();
  if (!p.ground(chosenGround_)) {
    chosenGround_ = p.finished();
    Q_EMIT selectionChanged();
  }
}

WorksId Workspace::worksAt(plane::Vec2 p) const {
  WorksId found;
  for (const project::PlacedWorks& w : evaluation_->worksShown({}, chosenWorks_)) {
    if (w.placement->facets->locate(p) != ground::kNone) found = w.works->id;
  }
  return found;
}

namespace {

// Turns a mark of a works, strip, undercut or build-up; what was done, of two texts that take its name.
template <class T>
QString turned(T& one, bool T::*mark, const QString& on, const QString& off) {
  one.*mark = !(one.*mark);
  return (one.*mark ? on : off).arg(QString::fromStdString(one.name));
}

}  // namespace

bool Workspace::turnWorks(WorksId id, bool works::Works::*mark, const QString& on, const QString& off) {
  const auto placed = project()->works(id);
  if (!placed.ground) return false;
  works::Works changed = *placed.works;
  const QString done = turned(changed, mark, on, off);
  commit(project::withWorks(*project(), changed), done);
  return true;
}

void Workspace::leaveOutOrTakeIn(WorksId id) {
  const QString on = tr("leave out %1"), off = tr("take in %1");
  if (turnWorks(id, &works::Works::leftOut, on, off)) return;
  project::Stages stages = project()->stages;
  const auto at = project::placeOf(stages, id);
  if (!at) return;
  const QString done = project::withListOf(stages, at->kind, [&](auto& list) {
    using One = std::remove_cvref_t<decltype(list[at->place])>;
    return turned(list[at->place], &One::leftOut, on, off);
  });
  commit(project::withStages(*project(), std::move(stages)), done);
}

void Workspace::hideOrShow(WorksId id) {
  turnWorks(id, &works::Works::hidden, tr("hide %1"), tr("show %1"));
}

void Workspace::holdOrLetGo(WorksId id) {
  turnWorks(id, &works::Works::held, tr("hold %1 in place"), tr("let %1 go"));
}

void Workspace::showAllWorks() {
  project::ProjectPtr shown = project();
  for (const auto& ground : project()->column) {
    for (const project::WorksPtr& w : ground->works) {
      if (!w->hidden) continue;
      works::Works changed = *w;
      changed.hidden = false;
      shown = project::withWorks(*shown, changed);
    }
  }
  if (shown != project()) commit(shown, tr("show all works"));
}

void Workspace::chooseWorks(WorksId id) {
  if (chosenWorks_ == id && !chosenStage_ && chosenFeatures_.empty()) return;
  chosenWorks_ = id;
  chosenStage_ = {};
  chosenFeatures_.clear();
  if (const auto placed = project()->works(id); placed.ground) chosenGround_ = placed.ground->id;
  Q_EMIT selectionChanged();
}

void Workspace::chooseGround(GroundId id) {
  if (chosenGround_ == id && !chosenWorks_ && !chosenStage_ && chosenFeatures_.empty()) return;
  chosenGround_ = id;
  chosenWorks_ = chosenStage_ = {};
  chosenFeatures_.clear();
  Q_EMIT selectionChanged();
}

void Workspace::chooseFeatures(std::vector<project::Feature> features) {
  if (features == chosenFeatures_) return;
  chosenFeatures_ = std::move(features);
  if (!chosenFeatures_.empty()) chosenWorks_ = chosenStage_ = {};
  Q_EMIT selectionChanged();
}

const project::Ground& Workspace::drawnInto() const {
  const project::Ground* chosen = project()->ground(chosenGround_);
  return chosen && std::holds_alternative<project::FromSources>(chosen->base)
             ? *chosen
             : *project()->ground(project()->surveyed());
}

void Workspace::chooseStage(WorksId id) {
  if (chosenStage_ == id) return;
  const auto place = project::placeOf(project()->stages, id);
  if (!place) return;
  chosenStage_ = id;
  chosenWorks_ = {};
  chosenFeatures_.clear();
  if (const project::Ground* ground = project()->withRole(project::roleOf(place->kind))) chosenGround_ = ground->id;
  Q_EMIT selectionChanged();
}

void Workspace::removeStage() {
  const project::Stages& stages = project()->stages;
  const QString name = QString::fromStdString(project::nameOf(stages, chosenStage_));
  commit(project::withStages(*project(), project::without(stages, chosenStage_)), tr("remove %1").arg(name));
}

QString Workspace::told(double value, Quantity quantity) const {
  return QString::fromStdString(inselberg::shown(value, quantity, project()->measures));
}

std::shared_ptr<const report::Quantities> Workspace::quantities() {
  quantitiesWanted_ = true;
  takeQuantities();
  return quantitiesOf_ == evaluation_ && upToDate() ? quantities_ : nullptr;
}

void Workspace::takeQuantities() {
  if (!quantitiesWanted_ || !upToDate() || quantitiesOf_ == evaluation_) return;
  quantitiesOf_ = evaluation_;
  quantities_ = nullptr;
  taker_.post([this, evaluation = evaluation_, cache = quantityCache_](const Worker::Token& token) {
    const Progress progress([&] { return token.superseded(); });
    const auto taken = std::make_shared<report::Quantities>(report::quantitiesOf(*evaluation, *cache, progress));
    QMetaObject::invokeMethod(
        this,
        [this, evaluation, taken] {
          if (quantitiesOf_ != evaluation) return;
          quantities_ = taken;
          Q_EMIT quantitiesTaken();
        },
        Qt::QueuedConnection);
  });
}

void Workspace::show(project::ProjectPtr start, const QString& path) {
  history_ = project::History(start);
  ++shown_;
  transient_ = nullptr;
  waiting_.clear(), held_.clear();
  saved_ = kept_ = start;
  path_ = path;
  chosenWorks_ = chosenStage_ = {};
  chosenFeatures_.clear();
  chosenGround_ = {};
  evaluation_ = nothingYet(start);
  mendSelection();
  discardRecovery();
  evaluate();
  Q_EMIT evaluationChanged();
  Q_EMIT projectChanged();
  Q_EMIT selectionChanged();
  Q_EMIT fileChanged();
}

void Workspace::startNew() {
  lock_ = {};
  onDisk_ = {};
  readOnly_ = false;
  show(project::emptyProject("New site"), {});
}

void Workspace::open(const QString& path) {
  const std::string file = path.toStdString();
  // The lock first: what is read under it is what is saved over later. Ours already when it is the file that is open.
  const bool again = !path_.isEmpty() && lock_.held() && store::sameFile(file, path_.toStdString());
  store::FileLock lock;
  if (!again) lock = store::FileLock(file);
  const store::FileState onDisk = store::stateOf(file);
  store::Opened opened;
  doLong(tr("Opening %1").arg(QFileInfo(path).fileName()),
         [&](const Progress& progress) { opened = store::open(file, works::standardKinds(), progress); });
  if (!again) lock_ = std::move(lock);
  onDisk_ = onDisk;
  readOnly_ = lock_.heldByAnother();
  show(opened.project, QFileInfo(path).absoluteFilePath());
  if (readOnly_)
    Q_EMIT message(
        tr("This project is open in another window. Here it can be read; save it under another name to change it."),
        false);
}

void Workspace::recover(store::Abandoned file) {
  lock_ = {};
  onDisk_ = {};
  const QString original = QString::fromStdString(file.original);
  if (!original.isEmpty()) {
    lock_ = store::FileLock(file.original);
    onDisk_ = store::stateOf(file.original);
  }
  readOnly_ = lock_.heldByAnother();
  show(file.project, original);
  // What is saved is the file as it was before: the recovered state counts as unsaved.
  saved_ = std::make_shared<project::Project>();
  // What was left behind goes only when the work is safe in a file of our own.
  const auto left = std::make_shared<store::Abandoned>(std::move(file));
  keep([left] { store::remove(*left); });
  Q_EMIT fileChanged();
}

bool Workspace::changedOnDisk() const {
  if (path_.isEmpty()) return false;
  const store::FileState now = store::stateOf(path_.toStdString());
  return now != store::FileState{} && now != onDisk_;
}

void Workspace::saveAs(const QString& path) {
  const std::string file = path.toStdString();
  const bool ours = !path_.isEmpty() && !readOnly_ && lock_.held() && store::sameFile(file, path_.toStdString());
  if (!ours && store::FileLock(file).heldByAnother())
    throw Error("the project is open in another window", {file}, "save it under another name");
  store::FileLock next;
  const project::ProjectPtr now = history_.now();
  doLong(tr("Saving %1").arg(QFileInfo(path).fileName()), [&](const Progress& progress) {
    store::save(*now, file, {}, {.mode = {}, .ready = [&](int fd) { next.take(fd); }}, progress);
  });
  lock_ = std::move(next);
  onDisk_ = store::stateOf(file);
  saved_ = kept_ = now;
  path_ = QFileInfo(path).absoluteFilePath();
  readOnly_ = false;
  discardRecovery();
  // What came to rest meanwhile is not in the file.
  if (history_.now() != now) kept_ = now, recoveryTimer_->start();
  Q_EMIT fileChanged();
}

void Workspace::keepRecovery() {
  if (kept_ != history_.now()) keep([] {});
}

void Workspace::keep(std::function<void()> afterwards) {
  if (!recovery_) return;
  kept_ = history_.now();
  keeper_.post([this, project = unsaved() ? kept_ : nullptr, path = path_.toStdString(),
                afterwards = std::move(afterwards)](const Worker::Token&) {
    if (project) {
      recovery_->keep(*project, path);
    } else {
      recovery_->discard();
    }
    afterwards();
  });
}

void Workspace::discardRecovery() {
  recoveryTimer_->stop();
  kept_ = history_.now();
  if (recovery_) keeper_.post([this](const Worker::Token&) { recovery_->discard(); });
}

void Workspace::cancel() {
  *cancelled_ = true;
}

void Workspace::evaluate() {
  lengths::use(project()->measures);
  cancelled_ = std::make_shared<std::atomic<bool>>(false);
  evaluator_.post([this, project = project(), cache = cache_, cancelled = cancelled_,
                   atRest = !transient_](const Worker::Token& token) {
    // Placed works are published before a newer project may take over, so that a fast mouse starves nothing.
    bool published = false;
    const Progress progress([&] { return token.leaving() || *cancelled || (published && token.superseded()); },
                            [&](std::string_view stage, double fraction) {
                              QMetaObject::invokeMethod(
                                  this,
                                  [this, text = QString::fromUtf8(stage.data(), static_cast<int>(stage.size())),
                                   fraction] { Q_EMIT busy(text, fraction); },
                                  Qt::QueuedConnection);
                            });
    const auto publish = [&](project::EvaluationPtr evaluation) {
      // What the first look under the pointer would have to make, before the window asks.
      for (const auto& g : evaluation->grounds) {
        if (g.tin) g.tin->locate(g.tin->bounds().centre());
      }
      QMetaObject::invokeMethod(
          this,
          [this, evaluation = std::move(evaluation)] {
            whenFree([this, evaluation] {
              evaluation_ = evaluation->whole ? evaluation : withMissingFrom(*evaluation, *evaluation_);
              if (evaluation->whole) Q_EMIT busy({}, -1);
              Q_EMIT evaluationChanged();
            });
          },
          Qt::QueuedConnection);
    };
    try {
      publish(project::evaluate(
          project, *cache, progress,
          [&](project::EvaluationPtr early) {
            const bool wait = early->patched && !atRest;
            publish(std::move(early));
            published = true;
            // What takes long to build is built when the hand rests.
            for (int i = 0; wait && i < 40 && !token.superseded() && !token.leaving(); ++i)
              std::this_thread::sleep_for(std::chrono::milliseconds(5));
          },
          atRest ? works::Detail::full : works::Detail::draft));
      for (const auto& source : project->sources) {
        if (atRest && !token.superseded() && !source->hidden) source->makeIndex();
      }
    } catch (const Cancelled&) {
      if (*cancelled) {
        QMetaObject::invokeMethod(
            this,
            [this] {
              Q_EMIT busy({}, -1);
              Q_EMIT message(tr("Stopped. The figures shown are not up to date; change something or press Recompute."),
                             true);
            },
            Qt::QueuedConnection);
      }
    }
  });
}

void Workspace::balance(WorksId id) {
  const auto* placed = evaluation_->works(id);
  const auto current = project()->works(id);
  if (!placed || !current.ground) {
    Q_EMIT message(tr("There is nothing to balance yet: the ground under it is missing."), true);
    return;
  }
  const auto level = works::levelOf(current.works->shape);
  if (!level) {
    Q_EMIT message(tr("%1 has no level of its own to balance.").arg(QString::fromStdString(current.works->name)), true);
    return;
  }
  const auto works = withItsSections(id, tr("%1 cannot be balanced: %2"));
  if (!works) return;
  const auto cancelled = std::make_shared<std::atomic<bool>>(false);
  cancelled_ = cancelled;
  balancer_.post([this, works = *works, under = placed->under, origin = project()->origin, cancelled, level = *level,
                  shown = shown_](const Worker::Token& token) {
    const Progress progress([&] { return token.leaving() || *cancelled; });
    const auto limits = balance::limitsOn(*under);
    const auto found =
        balance::balanceLevel([&](double z) { return balance::costAtLevel(works.shape, z, *under, origin, progress); },
                              level, limits.lowest, limits.highest, 0, progress);
    QMetaObject::invokeMethod(
        this,
        [this, id = works.id, found, shown] {
          if (shown == shown_) whenAtRest([this, id, found] { setBalanced(id, found); });
        },
        Qt::QueuedConnection);
  });
}

void Workspace::setBalanced(WorksId id, const balance::LevelBalance& found) {
  const auto now = project()->works(id);
  if (!now.ground || !works::levelOf(now.works->shape)) return;
  works::Works changed = *now.works;
  changed.shape = works::atLevel(changed.shape, found.best.level);
  const QString name = QString::fromStdString(changed.name);
  commit(project::withWorks(*project(), changed), tr("balance %1").arg(name));
  const QString level = lengths::told(found.best.level, 3);
  Q_EMIT message(found.closed ? tr("%1 balances at %2.").arg(name, level)
                              : tr("No level balances %1 exactly; %2 is the nearest.").arg(name, level),
                 !found.closed);
}

std::optional<works::Works> Workspace::withItsSections(WorksId id, const QString& cannot) {
  works::Works works = *project()->works(id).works;
  try {
    works.shape = project::withSectionsOf(*project(), works.shape);
    return works;
  } catch (const Error& e) {
    Q_EMIT message(cannot.arg(QString::fromStdString(works.name), QString::fromUtf8(e.what())), true);
    return std::nullopt;
  }
}

void Workspace::sizePond(WorksId id, double volume, works::SizeBy by) {
  const auto* placed = evaluation_->works(id);
  if (!placed || !project()->works(id).ground) {
    Q_EMIT message(tr("There is no pond to size yet: the ground under it is missing."), true);
    return;
  }
  const auto works = withItsSections(id, tr("%1 cannot be sized: %2"));
  if (!works || !works->shape.as<works::Pond>()) return;
  const auto cancelled = std::make_shared<std::atomic<bool>>(false);
  cancelled_ = cancelled;
  balancer_.post([this, works = *works, under = placed->under, origin = project()->origin, cancelled, volume, by,
                  shown = shown_](const Worker::Token& token) {
    const Progress progress([&] { return token.leaving() || *cancelled; });
    const auto found = works::sizedFor(*works.shape.as<works::Pond>(), volume, by, *under, origin, progress);
    QMetaObject::invokeMethod(
        this,
        [this, id = works.id, found, by, shown] {
          if (shown == shown_) whenAtRest([this, id, found, by] { setSized(id, found, by); });
        },
        Qt::QueuedConnection);
  });
}

void Workspace::setSized(WorksId id, const works::SizedPond& found, works::SizeBy by) {
  const auto now = project()->works(id);
  const auto* pond = now.ground ? now.works->shape.as<works::Pond>() : nullptr;
  if (!pond) return;
  // Only what was looked for, so that what was changed meanwhile stays, and sections keep their names.
  works::Pond sized = *pond;
  if (by == works::SizeBy::outline) {
    sized.outline = found.pond.outline;
  } else {
    sized.bottom = found.pond.bottom, sized.top = found.pond.top, sized.water = found.pond.water;
  }
  works::Works changed = *now.works;
  changed.shape = sized;
  const QString name = QString::fromStdString(changed.name);
  commit(project::withWorks(*project(), changed), tr("size %1").arg(name));
  const QString held = QString::fromStdString(inselberg::shown(found.held, Quantity::volume, project()->measures));
  Q_EMIT message(found.reached ? tr("%1 holds %2.").arg(name, held)
                 : by == works::SizeBy::level
                     ? tr("%1 holds %2, the nearest its levels give: size it by its outline.").arg(name, held)
                     : tr("%1 holds %2, the nearest its outline gives: size it by its levels.").arg(name, held),
                 !found.reached);
}

void Workspace::showSpill(std::optional<Spill> spill) {
  if (!spill && !spill_) return;
  spill_ = spill;
  Q_EMIT spillChanged();
}

}  // namespace inselberg::app
