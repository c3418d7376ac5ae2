// Draws grounds into an image, away from the window's thread: relief or depth, contours, triangles.
#pragma once

#include <QImage>
#include <array>
#include <memory>
#include <unordered_map>
#include <vector>

#include "base/progress.h"
#include "canvas/sheet_layer.h"
#include "canvas/view_transform.h"
#include "canvas/works_tint.h"
#include "ground/contour_labels.h"
#include "ground/contours.h"
#include "ground/tin.h"
#include "project/source.h"
#include "report/works_labels.h"
#include "works/hachures.h"
#include "workspace/view_state.h"

class QPainter;

namespace inselberg::app {

struct PlanRequest {
  ground::TinPtr shown;    // the ground on show; may be null
  ground::TinPtr pending;  // facets over it that are not yet part of it; may be null
  ground::TinPtr beneath;  // the ground before it in the column; null for the first
  PlanMode mode = PlanMode::relief;
  Lit lit = Lit::all;
  bool triangles = false;
  bool contours = true;
  bool flow = false;         // arrows the way water runs
  bool worksLabels = false;  // slopes of batters and levels of corners are wanted
  double interval = 0;       // m between contours; 0: by the ground and the scale
  // What takes the full colour of the depth map; nothing: the greatest depth there is between the two grounds.
  std::optional<double> greatestDepth;
  SteepnessLimits steepness = kUsualSteepness;
  double tolerance = 0;  // m: the depth map only tells what lies beyond it; within, the relief stays
  std::vector<std::vector<plane::Vec2>> labelLines;  // contours are labelled along these; none: as fits
  std::vector<project::SourcePtr> sources;           // drawn over the ground; empty: not shown
  std::vector<project::PlanSheetPtr> sheets;         // laid over the ground, under all lines of the program's own
  std::vector<project::PlacedWorks> works;           // whose hachures are wanted
  std::vector<WorksTint> tints;                      // of works in colours of their own
  ViewTransform view;                                // of the image to make, in logical pixels
  plane::Box window;                                 // what is seen of it now: no label lies over its edge; empty: all
  double pixelRatio = 1;
  Measures measures;  // of levels
};

// The level of a corner of works, and where the middle of its text stands.
struct CornerLevel {
  plane::Vec3 corner;
  plane::Vec2 at;
};

struct PlanPicture {
  QImage image;
  ViewTransform view;
  PlanMode mode = PlanMode::relief;
  double interval = 0;       // used
  double greatestDepth = 1;  // used
  std::vector<works::HachureStroke> hachures;
  std::vector<ground::ContourLabel> labels;  // written in it
  // To be written over it.
  std::vector<report::SlopeLabel> slopes;
  std::vector<CornerLevel> corners;
};

class TriangleBuffer;
using CornerLights = std::vector<std::array<float, 3>>;  // for each triangle

class PlanRenderer {
 public:
  PlanRenderer();
  ~PlanRenderer();

  // Throws Cancelled.
  PlanPicture render(const PlanRequest& request, const Progress& progress);

 private:
  // Contours of a ground, kept while it is on show.
  struct Contours {
    ground::TinPtr tin;
    double interval = 0;
    std::vector<ground::Contour> lines;
    std::vector<plane::Box> boxes;
    std::uint64_t used = 0;
  };
  // What a ground looks like in one view: kept while only pending facets change.
  struct Layer {
    ground::TinPtr tin;
    ViewTransform view;
    double pixelRatio = 0;
    std::unique_ptr<const TriangleBuffer> triangles;
    ground::TinPtr litTin;  // whose lights these are
    double exaggeration = 0;
    CornerLights lights;
  };
  struct Lines {
    ground::TinPtr tin;
    ViewTransform view;
    double pixelRatio = 0, interval = 0;
    bool existing = false, contours = false, triangles = false;
    QImage image;  // transparent where there is no line
  };

  struct Survey {
    std::vector<project::SourcePtr> sources;
    ViewTransform view;
    double pixelRatio = 0;
    QImage image;
  };

  void paintGround(const PlanRequest& request, PlanPicture& picture, const Progress& progress);
  void paintSurvey(QPainter& painter, const PlanRequest& request, const Progress& progress);
  const Contours& contoursOf(const ground::TinPtr& tin, double interval, const Progress& progress);
  const TriangleBuffer& bufferOf(Layer& layer, const ground::TinPtr& tin, const PlanRequest& request,
                                 const Progress& progress);
  static const CornerLights& lightsOf(Layer& layer, double exaggeration, const Progress& progress);
  const QImage& linesOf(Lines& lines, const ground::TinPtr& tin, bool existing, double interval,
                        const PlanRequest& request, const Progress& progress);
  void colour(const PlanRequest& request, QImage& image, const QImage* lines, double greatest,
              const Progress& progress);

  struct Hachures {
    std::shared_ptr<const works::Placement> of;
    double scale = 0;
    plane::Box area;
    std::vector<works::HachureStroke> strokes;
  };
  std::vector<works::HachureStroke> hachures(const PlanRequest& request, const Progress& progress);

  struct Depth {
    ground::TinPtr from, to;
    double greatest = 1;
  };
  double greatestDepth(const PlanRequest& request, const Progress& progress);

  std::vector<Contours> contours_;
  Depth depth_;
  std::unordered_map<WorksId, Hachures> hachures_;
  Layer shown_, beneath_;
  Lines shownLines_, beneathLines_;
  Survey survey_;
  SheetLayer sheets_;
  std::uint64_t round_ = 0;
};

}  // namespace inselberg::app
