// What the layers of a file hold, what each is taken as, and the sources they become.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <vector>

#include "base/progress.h"
#include "exchange/imported.h"
#include "project/source.h"

namespace inselberg::exchange {

// What a layer is taken as.
//  skip:        nothing of it
//  points:      its points, and the vertices of its lines that have a level
//  breaklines:  its lines (triangles follow them), and its points
//  contours:    the same, known to be level lines
//  boundary:    its areas and closed lines; the ground is kept inside
//  voids:       its areas and closed lines; the ground is left out inside
//  works:       its areas and closed lines; outlines for works, no part of a ground
// Faces and rasters keep their own surface whatever the layer is taken as, unless it is skipped; `faces` says so of a
// layer that holds nothing else. An area beside points or lines is a boundary.
enum class Take { skip, points, breaklines, contours, boundary, voids, works, faces };

const char* word(Take take);  // "skip", "points", "breaklines", "contours", "boundary", "void", "works", "faces"
std::optional<Take> takeOf(const std::string& word);

struct LayerSummary {
  std::string name;
  std::size_t points = 0, lines = 0, areas = 0, faces = 0;
  std::size_t closedLines = 0;
  std::size_t levelLines = 0;                // lines of one level throughout, not zero
  std::size_t zeros = 0, levels = 0;         // vertices at exactly zero, and all with a level
  std::optional<double> minLevel, maxLevel;  // m; nothing without levels
  plane::Box bounds;
  Declared declared = Declared::nothing;
  Take guess = Take::skip;
};

// One for each layer, in order. The guess goes by what the format says of the layer, else by its name and what it
// holds; it is never more than an offer. Cells of a raster count as points.
std::vector<LayerSummary> summaries(const Imported& imported);

// The guesses of the summaries.
std::vector<Take> guesses(const Imported& imported);

struct TakeRules {
  double tolerance = 0.05;  // m, greatest level error of a raster made a model, and of a thinned cloud
  // Clouds of more points than this are thinned to the tolerance; never fewer.
  std::size_t cloud = 500'000;
};

struct TakenSource {
  std::string name;
  project::SourceData data;
};

struct TakenOutline {
  plane::Polygon polygon;       // sound, relative to the origin
  std::optional<double> level;  // of a line of one level, not zero
};

struct Taken {
  std::vector<TakenSource> sources;  // at most one without faces, first; then one for each model
  std::vector<TakenOutline> works;
  std::vector<std::string> remarks;  // what was thinned, made a model, or left out
};

// The layers as sources relative to the origin; `takes` has one for each layer. Throws Error for an area that is not
// sound, a layer whose faces all stand upright, and when nothing is taken; Cancelled.
Taken take(const Imported& imported, std::span<const Take> takes, const plane::Origin& origin,
           const TakeRules& rules = {}, const Progress& progress = {});

}  // namespace inselberg::exchange
