// Draws grounds into an image, away from the window's thread: relief or depth, contours, triangles.
#pragma once

#include <QImage>
#include <memory>
#include <vector>

#include "base/progress.h"
#include "ground/contours.h"
#include "ground/tin.h"
#include "plan/view_transform.h"

namespace inselberg::app {

enum class PlanMode { relief, depth };
// Which part of the depth map is lit up.
enum class Lit { all, cut, fill };

struct PlanRequest {
  ground::TinPtr shown;    // the ground on show; may be null
  ground::TinPtr pending;  // facets over it that are not yet part of it; may be null
  ground::TinPtr beneath;  // the ground before it in the column; null for the first
  PlanMode mode = PlanMode::relief;
  Lit lit = Lit::all;
  bool triangles = false;
  bool contours = true;
  double interval = 0;       // m between contours; 0: by the ground and the scale
  double greatestDepth = 1;  // full colour of the depth map
  ViewTransform view;        // of the image to make, in logical pixels
  double pixelRatio = 1;
};

struct PlanPicture {
  QImage image;
  ViewTransform view;
  PlanMode mode = PlanMode::relief;
  double interval = 0;  // used
};

class TriangleBuffer;

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
  };
  struct Lines {
    ground::TinPtr tin;
    ViewTransform view;
    double pixelRatio = 0, interval = 0;
    bool existing = false, contours = false, triangles = false;
    QImage image;  // transparent where there is no line
  };

  const Contours& contoursOf(const ground::TinPtr& tin, double interval, const Progress& progress);
  const TriangleBuffer& bufferOf(Layer& layer, const ground::TinPtr& tin, const PlanRequest& request,
                                 const Progress& progress);
  const QImage& linesOf(Lines& lines, const ground::TinPtr& tin, bool existing, double interval,
                        const PlanRequest& request, const Progress& progress);
  void colour(const PlanRequest& request, QImage& image, const QImage* lines, const Progress& progress);

  std::vector<Contours> contours_;
  Layer shown_, beneath_;
  Lines shownLines_, beneathLines_;
  std::uint64_t round_ = 0;
};

// The depth bands of the map: their width in metres, so that the greatest depth takes about four.
double depthBand(double greatestDepth);

// An interval of 1, 2 or 5 times a power of ten that gives about 30 contours over the relief.
double proposedInterval(const ground::Tin& tin);

}  // namespace inselberg::app
