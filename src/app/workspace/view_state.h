// What is shown and how, beside what the project holds: shared by all views, saved by none.
#pragma once

#include <QObject>
#include <QString>
#include <functional>
#include <optional>

#include "workspace/workspace.h"

namespace inselberg::app {

// What the plan's colours tell.
enum class PlanMode { relief, depth, levels, steepness, works };
// Which part of the depth map is lit up.
enum class Lit { all, cut, fill };

// What places are drawn to. Each kind has a key of its own, 1 to 5, and shows in the plan's corner.
struct SnapKinds {
  bool corners = true;     // vertices of lines, outlines and works; survey points
  bool sides = false;      // the nearest place on a line
  bool crossings = false;  // where two lines cross
  bool squareOn = false;   // where a line is met at right angles from the last point
  bool grid = false;       // multiples of a round length
  bool operator==(const SnapKinds&) const = default;
  QString text(double gridStep) const;
};

// The limits between the bands of steepness, m of rise per m, rising: one at least, and so many at most. Usually even
// steps for drainage and traffic, then 1 in 3 and 1 in 2, at which earth is mown and stands.
using SteepnessLimits = std::vector<double>;
inline constexpr std::size_t kMostSteepnessLimits = 7;
inline const SteepnessLimits kUsualSteepness{0.01, 0.02, 0.05, 0.10, 0.20, 1.0 / 3, 0.50};
// As typed, in % or as H:V: "1, 2, 5, 3:1". Throws Error, saying what is wrong with them.
SteepnessLimits steepnessLimits(const QString& typed);
QString steepnessText(const SteepnessLimits& limits);
// Those that were chosen last, in whichever project; before the first time the usual ones.
SteepnessLimits rememberedSteepness();
void rememberSteepness(const SteepnessLimits& limits);

// What stands in the middle of the window.
enum class Layout { plan, both, relief, twoPlans };

struct Shown {
  PlanMode mode = PlanMode::relief;
  Lit lit = Lit::all;
  bool contours = true, triangles = false, sources = false, flow = false;
  bool worksLabels = true;  // slopes of batters and levels of corners
  double interval = 0;      // m between contours; 0: proposed
  bool snapping = true, rightAngles = false;
  SnapKinds snapKinds;
  // The two grounds whose depths are told; none: the seam into the chosen ground, or the whole.
  std::optional<project::Between> compared;
  // m: the depth map tells only what lies lower than so much, within it, and higher; 0: depths.
  double tolerance = 0;
  SteepnessLimits steepness = kUsualSteepness;
  double depthSpacing = 0;  // m between depths that are written on the map; 0: as there is room
  Layout layout = Layout::plan;
  std::optional<project::AreaUse> coverage;  // the use of the areas whose coverage of the site is told
  // Of the relief: levels raised by so much; the surveyed ground too, to be looked through; cut away along the section.
  double raise = 1;
  bool glass = false, cutAway = false;
  bool operator==(const Shown&) const = default;
};

class ViewState : public QObject {
  Q_OBJECT

 public:
  explicit ViewState(Workspace& workspace, QObject* parent = nullptr);

  const Shown& shown() const { return shown_; }
  const project::Evaluation& evaluation() const { return *workspace_.evaluation(); }
  void alter(const std::function<void(Shown&)>& change);

  // The depth map, of all depths or a part, between two grounds (none: as depthsBetween()); and the relief again.
  void showDepths(Lit part, std::optional<project::Between> between);
  void hideDepths();
  // Where the later of two grounds lies within so many metres of the other.
  void showTolerance(const project::Between& between, double tolerance);

  // The two grounds that depths are told between now: those compared, else the seam into the chosen ground, else from
  // the surveyed to the finished one.
  project::Between depthsBetween() const;

  // The ground on show: the chosen one, or the later of the two that depths are told between; null when none can be.
  const project::EvaluatedGround* shownGround() const;
  // The earlier of those two, when the later is on show.
  ground::TinPtr beneath() const;
  // What takes the full colour of the depth map, where the evaluation knows it.
  std::optional<double> greatestDepth() const;

  // Where a section is taken; fewer than two places: nowhere.
  const std::vector<plane::Vec2>& sectionLine() const { return sectionLine_; }
  bool hasSection() const { return sectionLine_.size() >= 2; }
  void takeSection(std::vector<plane::Vec2> line);

  // Where the pointer is in plan, on whichever view; nothing when it is on none.
  std::optional<plane::Vec2> pointer() const { return pointer_; }
  void point(std::optional<plane::Vec2> place);

 signals:
  void changed();
  void pointed();
  void sectionChanged();

 private:
  Workspace& workspace_;
  Shown shown_;
  std::optional<plane::Vec2> pointer_;
  std::vector<plane::Vec2> sectionLine_;
  int projectOf_ = 0;  // that the section line was taken in
  GroundId ground_;    // chosen when `compared` was
};

}  // namespace inselberg::app
