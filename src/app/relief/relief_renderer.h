// Draws grounds in three dimensions into an image, away from the window's thread, with OpenGL 3.3 (a processor alone is
// enough for it).
#pragma once

#include <QColor>
#include <QImage>
#include <memory>
#include <optional>
#include <vector>

#include "base/progress.h"
#include "canvas/works_tint.h"
#include "ground/tin.h"
#include "relief/camera.h"
#include "relief/cut_face.h"
#include "workspace/view_state.h"

class QOffscreenSurface;

namespace inselberg::app {

// Levels in a request are true ones; the camera's are raised by `raise` about `middle`.
struct ReliefRequest {
  ground::TinPtr shown;    // may be null
  ground::TinPtr pending;  // facets that take its place where they lie, and are not yet part of it; may be null
  ground::TinPtr beneath;  // that depths are told from; may be null
  ground::TinPtr glass;    // drawn too, to be looked through; may be null
  PlanMode mode = PlanMode::relief;
  Lit lit = Lit::all;
  SteepnessLimits steepness = kUsualSteepness;
  std::optional<double> greatestDepth;  // takes the full colour; nothing: the greatest at a corner
  double interval = 0;                  // m between contours; 0: none
  struct Line {
    std::vector<plane::Vec3> points;
    QColor colour;
  };
  std::vector<Line> lines;
  std::optional<ReliefCut> cut;
  std::vector<EarthStep> steps;  // what stands at the cut, in order of work; none: it is open
  std::vector<WorksTint> tints;  // of works in colours of their own
  plane::Vec3 middle;            // near the ground: what single precision is relative to
  double raise = 1;
  Camera camera;
  double pixelRatio = 1;
  bool moving = false;  // less detail, sooner

  double raised(double level) const { return middle.z + (level - middle.z) * raise; }
};

struct ReliefPicture {
  QImage image;
  Camera camera;
  plane::Vec3 middle;
  double raise = 1;
  bool moving = false;
  std::size_t triangles = 0;  // drawn
  double greatestDepth = 1;   // used

  plane::Vec3 raised(const plane::Vec3& p) const { return {p.x, p.y, middle.z + (p.z - middle.z) * raise}; }
  // The place of the ground seen at a pixel of the view; nothing where there is none. Good to about a pixel.
  std::optional<plane::Vec3> placeAt(QPointF pixel) const;
  // Whether a place can be seen, or something stands before it.
  bool sees(const plane::Vec3& place) const;

  // As the graphics tell them, for each pixel of the image from its bottom: 0 at `near` metres ahead of the eye, 1 at
  // `far`, where there is nothing.
  std::vector<float> depths;
  float near = 0, far = 0;
};

class ReliefRenderer {
 public:
  // On the window's thread, as the system wants it; all else on one thread of its own.
  ReliefRenderer();
  ~ReliefRenderer();

  // Throws Error where there is no OpenGL 3.3, and Cancelled.
  ReliefPicture render(const ReliefRequest& request, const Progress& progress);
  // Gives back what is held of the graphics; has to come before the end, on the thread that drew.
  void release();
  // Memory of what is held, here and in the graphics.
  std::size_t bytes() const;

 private:
  class Graphics;
  std::unique_ptr<QOffscreenSurface> surface_;
  std::unique_ptr<Graphics> graphics_;
};

}  // namespace inselberg::app
