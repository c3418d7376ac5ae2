#include "workspace/view_state.h"

#include <QRegularExpression>
#include <QSettings>
#include <QStringList>
#include <algorithm>

#include "base/error.h"
#include "base/quantity.h"

namespace inselberg::app {

QString SnapKinds::text(double step) const {
  QStringList on;
  if (corners) on << ViewState::tr("corners");
  if (sides) on << ViewState::tr("sides");
  if (crossings) on << ViewState::tr("crossings");
  if (squareOn) on << ViewState::tr("square on");
  if (grid) on << ViewState::tr("grid %1 m").arg(step);
  return on.isEmpty() ? ViewState::tr("nothing") : on.join(", ");
}

SteepnessLimits steepnessLimits(const QString& typed) {
  SteepnessLimits limits;
  static const QRegularExpression between("[\\s,;]+");
  for (QString text : typed.split(between, Qt::SkipEmptyParts)) {
    if (text == "%") continue;
    const QString told = text;
    if (text.endsWith('%')) text.chop(1);
    const QStringList ratio = text.split(':');
    const auto run = parseNumber(ratio[0].toStdString());
    const auto rise = ratio.size() == 2 ? parseNumber(ratio[1].toStdString()) : std::nullopt;
    if (!run || ratio.size() > 2 || (ratio.size() == 2 && (!rise || *run <= 0)))
      throw Error(ViewState::tr("\"%1\" is no steepness").arg(told).toStdString(), "write it in %, or like 3:1");
    const double limit = rise ? *rise / *run : *run / 100;
    if (!(limit > (limits.empty() ? 0 : limits.back())))
      throw Error(ViewState::tr("\"%1\" is not steeper than what stands before it").arg(told).toStdString(),
                  "write them from gentle to steep, above 0");
    limits.push_back(limit);
  }
  if (limits.empty() || limits.size() > kMostSteepnessLimits)
    throw Error(ViewState::tr("%1 limits are too many or too few").arg(limits.size()).toStdString(),
                ViewState::tr("give one to %1").arg(kMostSteepnessLimits).toStdString());
  return limits;
}

QString steepnessText(const SteepnessLimits& limits) {
  QStringList list;
  for (const double limit : limits) list << QString::number(100 * limit, 'g', 4);
  return list.join("  ");
}

namespace {
constexpr auto kSteepnessSetting = "steepness";
}

SteepnessLimits rememberedSteepness() {
  const QString kept = QSettings().value(kSteepnessSetting).toString();
  try {
    return kept.isEmpty() ? kUsualSteepness : steepnessLimits(kept);
  } catch (const Error&) {
    return kUsualSteepness;  // a setting that was written by hand
  }
}

void rememberSteepness(const SteepnessLimits& limits) {
  QSettings().setValue(kSteepnessSetting, steepnessText(limits));
}

ViewState::ViewState(Workspace& workspace, QObject* parent) : QObject(parent), workspace_(workspace) {
  shown_.steepness = rememberedSteepness();
  // A comparison is let go with the ground it was made on, and when one of its grounds goes.
  const auto mend = [this] {
    const auto& compared = shown_.compared;
    const project::Project& project = *workspace_.project();
    if (compared &&
        (ground_ != workspace_.chosenGround() || !project.ground(compared->from) || !project.ground(compared->to)))
      alter([](Shown& s) { s.compared.reset(); });
  };
  connect(&workspace_, &Workspace::selectionChanged, this, mend);
  connect(&workspace_, &Workspace::projectChanged, this, mend);
  connect(&workspace_, &Workspace::fileChanged, this, [this] {
    if (projectOf_ != workspace_.shown()) takeSection({});
    projectOf_ = workspace_.shown();
  });
}

void ViewState::alter(const std::function<void(Shown&)>& change) {
  Shown next = shown_;
  change(next);
  if (next.mode != PlanMode::depth) next.tolerance = 0;
  if (next == shown_) return;
  if (next.compared != shown_.compared) ground_ = workspace_.chosenGround();
  shown_ = std::move(next);
  Q_EMIT changed();
}

void ViewState::showDepths(Lit part, std::optional<project::Between> between) {
  alter([&](Shown& s) { s.mode = PlanMode::depth, s.lit = part, s.compared = between, s.tolerance = 0; });
}

void ViewState::showTolerance(const project::Between& between, double tolerance) {
  alter([&](Shown& s) { s.mode = PlanMode::depth, s.lit = Lit::all, s.compared = between, s.tolerance = tolerance; });
}

void ViewState::hideDepths() {
  alter([](Shown& s) { s.mode = PlanMode::relief, s.lit = Lit::all, s.compared.reset(); });
}

project::Between ViewState::depthsBetween() const {
  if (shown_.compared) return *shown_.compared;
  const project::Project& project = *workspace_.project();
  for (const project::Between& seam : project.seams()) {
    if (seam.to == workspace_.chosenGround()) return seam;
  }
  return {project.surveyed(), project.finished()};
}

const project::EvaluatedGround* ViewState::shownGround() const {
  const auto& e = *workspace_.evaluation();
  const GroundId wanted = shown_.mode == PlanMode::depth ? depthsBetween().to : workspace_.chosenGround();
  if (const auto* g = e.ground(wanted); g && g->tin) return g;
  for (auto it = e.grounds.rbegin(); it != e.grounds.rend(); ++it) {
    if (it->tin) return &*it;
  }
  return nullptr;
}

ground::TinPtr ViewState::beneath() const {
  const auto& e = *workspace_.evaluation();
  const project::Between between = depthsBetween();
  const auto* from = e.ground(between.from);
  const auto* shown = shownGround();
  return from && shown && shown->id == between.to ? from->tin : nullptr;
}

std::optional<double> ViewState::greatestDepth() const {
  const project::Between between = depthsBetween();
  for (const auto& seam : workspace_.evaluation()->seams) {
    if (seam.from == between.from && seam.to == between.to && seam.volume)
      return std::max({0.5, seam.volume->maxCut, seam.volume->maxFill});
  }
  return std::nullopt;
}

void ViewState::takeSection(std::vector<plane::Vec2> line) {
  line.erase(std::unique(line.begin(), line.end()), line.end());
  if (line == sectionLine_) return;
  sectionLine_ = std::move(line);
  Q_EMIT sectionChanged();
}

void ViewState::point(std::optional<plane::Vec2> place) {
  pointer_ = place;
  Q_EMIT pointed();
}

}  // namespace inselberg::app
