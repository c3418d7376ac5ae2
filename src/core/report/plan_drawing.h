// The plan as a draughtsperson draws it: to scale, on layers by meaning, for paper and for drawings.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "base/progress.h"
#include "drawing/paper.h"
#include "project/evaluate.h"

namespace inselberg::report {

struct PlanText {
  plane::Vec3 at;  // of its middle
  std::string text;
  double height = 2;  // mm on paper
  double turned = 0;  // degrees anticlockwise
  bool plate = true;  // what lies beneath is left out
};

struct PlanLayer {
  std::string name;  // by meaning: "finished contours", "crests", "batter ticks"
  drawing::Pen pen;
  std::vector<works::Line3> lines = {};
  std::vector<PlanText> texts = {};
};

// Positions relative to the project's origin.
struct PlanDrawing {
  std::string title, ground;
  double scale = 500;     // 1 to so much
  double interval = 0.5;  // m between contours
  Measures measures;      // that levels and depths are told in
  plane::Box extent;
  std::vector<PlanLayer> layers;  // the later over the earlier
};

struct PlanRules {
  double scale = 0;     // 0: the roundest with which the ground fits on A3 of its own (asPage)
  double interval = 0;  // 0: proposed
  // Depths are told at multiples of so many metres of the site's coordinates, from the first ground to the one that is
  // drawn; 0: nowhere.
  double depths = 0;
  GroundId depthsFrom = {};
  std::optional<plane::Box> window = {};  // what lies outside is left out; none: all of the ground
  Measures measures = {};
};

// Contours of the ground and of the existing one beneath it (an index contour every fifth), crests, daylight lines and
// batter ticks of the works up to this ground in the column, names and levels, falls, slopes of batters, levels of
// crests' corners, boundary and regions, depths (fill with a plus,
// cut with a minus). Contour labels read uphill, about every 12 cm on paper, and no text lies over
// another, over a batter (but slopes, which belong there), or over the edge. REQUIRES: the ground is there. Throws
// Error when there would be too many contours, Cancelled.
PlanDrawing planDrawing(const project::Evaluation& evaluation, GroundId ground, const PlanRules& rules,
                        const Progress& progress);

// The parts of lines that lie inside a box, at their levels.
std::vector<works::Line3> linesWithin(const plane::Box& box, const std::vector<works::Line3>& lines);

// Texts have their height on paper, at the plan's scale.
std::string asDxf(const PlanDrawing& plan, const plane::Origin& origin);

}  // namespace inselberg::report
