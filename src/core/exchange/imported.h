// What a reader found in a file: the neutral form between formats and sources. Easting, northing and level in metres,
// absolute (no origin taken off).
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "base/error.h"
#include "ground/raster.h"
#include "ground/tin.h"
#include "plane/polygon.h"

namespace inselberg::exchange {

using LayerIndex = std::uint32_t;  // into Imported::layers

// What a format itself says a layer holds; it rules over what the layer's name may hint at.
enum class Declared { nothing, points, breaklines, contours, boundary, voids };

struct ImportedLine {
  std::vector<plane::Vec3> vertices;  // a level that is not a number: none given
  bool closed = false;
  LayerIndex layer = 0;
  long line = 0;  // of the file
};

struct ImportedArea {
  plane::Polygon polygon;  // as it came, not yet sound
  LayerIndex layer = 0;
  long line = 0;
};

// A ground model that keeps its own triangles; at most one in a layer.
struct ImportedModel {
  std::vector<plane::Vec3> points;
  std::vector<ground::Triangle> triangles;
  LayerIndex layer = 0;
};

struct ImportedRaster {
  ground::Raster raster;
  LayerIndex layer = 0;
  ground::RasterFigures figures;  // of the raster; who alters it looks at it again
  void look() { figures = ground::figures(raster); }
};

// Something wrong with one place of the file. The item there was left out.
struct ImportProblem {
  long line = 0;
  std::string what;
  std::string hint;
  LayerIndex layer = 0;
};

struct Imported {
  std::string file;
  std::string format;         // "points", "GeoJSON", "DXF", "LandXML", ...
  std::string units = "m";    // of the file; what stands below is in metres
  bool unitsDeclared = true;  // by the file, or by the caller
  // The coordinate system of the positions: a code, URN or description; empty: none is known. In one of longitude and
  // latitude they are degrees.
  std::string system;
  std::string ownSystem;                // what the file itself tells, where it is known
  std::vector<std::string> attributes;  // of GIS files: those with numbers, any of which may hold levels
  std::vector<std::string> layers;      // names, as UTF-8; a file without layers has one, by the file's name
  std::vector<Declared> declared;       // empty, or one for each of the first layers; nothing for those beyond
  std::vector<plane::Vec3> points;
  std::vector<LayerIndex> pointLayers;      // empty (all in layer 0), or one for each point
  std::vector<std::string> numbers, codes;  // empty, or one for each point
  std::vector<long> pointLines;             // of the file; empty, or one for each point
  std::vector<ImportedLine> lines;
  std::vector<ImportedArea> areas;
  std::vector<ImportedModel> models;
  std::vector<ImportedRaster> rasters;
  std::vector<ImportProblem> problems;  // at most kMostProblems; what is beyond is counted in moreProblems
  std::size_t moreProblems = 0;
  std::vector<std::string> remarks;  // worth knowing, nothing left out

  LayerIndex layerOf(std::size_t point) const { return pointLayers.empty() ? 0 : pointLayers[point]; }
  // The layer of this name, added when there is none.
  LayerIndex layerNamed(const std::string& name, Declared kind = Declared::nothing);
  Declared declaredOf(std::size_t layer) const { return layer < declared.size() ? declared[layer] : Declared::nothing; }
  static constexpr std::size_t kMostProblems = 1000;
  // Takes the Error about one thing of the file down as a problem; the thing is left out.
  void leaveOut(const Error& error, LayerIndex layer);
  plane::Box bounds() const;
  // Nothing to take at all.
  bool empty() const;
};

// "name" of "folder/name.ending".
std::string stemOf(const std::string& path);

// Throws the first problem as an Error; for callers that take a file whole or not at all.
void requireClean(const Imported& imported);

// Easting and northing times `plan`, levels times `levels` (m per unit), and `units` said to be that; for files that do
// not declare their unit.
void scaleTo(Imported& imported, double plan, double levels, std::string units);

// Keeps what lies inside the polygon (sound): points and models' triangles by their place (centroid), lines cut at its
// ring with levels straight between, areas that reach into it, cells of rasters.
void limitTo(Imported& imported, const plane::Polygon& polygon);

// The polygon relative to the origin and sound. Throws Error that names the file and line.
plane::Polygon soundArea(plane::Polygon polygon, const std::string& file, long line, const plane::Origin& origin);

// A round origin near the middle of the data.
plane::Origin originFor(const Imported& imported);

// Keeps only triangles of positive plan area, turned counter-clockwise, and merges points with the same place and
// level. Returns the number of triangles left out.
std::size_t tidyModel(std::vector<plane::Vec3>& points, std::vector<ground::Triangle>& triangles);

}  // namespace inselberg::exchange
