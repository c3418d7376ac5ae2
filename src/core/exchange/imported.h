// What a reader found in a file: the neutral form between formats and sources. Easting, northing and level in metres,
// absolute (no origin taken off).
#pragma once

#include <string>
#include <vector>

#include "ground/tin.h"
#include "plane/polygon.h"
#include "project/source.h"

namespace inselberg::exchange {

struct ImportedLine {
  std::vector<plane::Vec3> vertices;  // a level that is not a number: none given
  bool closed = false;
  std::string layer;
  long line = 0;  // of the file
};

struct ImportedArea {
  plane::Polygon polygon;  // as it came, not yet sound
  long line = 0;
};

// Something wrong with one place of the file. The item there was left out.
struct ImportProblem {
  long line = 0;
  std::string what;
  std::string hint;
};

struct Imported {
  std::string file;
  std::string format;  // "points", "GeoJSON", "DXF", "LandXML"
  std::string units = "m";
  std::vector<plane::Vec3> points;
  std::vector<std::string> numbers, codes;  // empty, or one for each point
  std::vector<ImportedLine> lines;
  std::vector<ImportedArea> areas;
  std::vector<plane::Vec3> modelPoints;
  std::vector<ground::Triangle> modelTriangles;
  std::vector<long> pointLines;  // of the file, for each point
  std::vector<ImportProblem> problems;
  std::vector<std::string> remarks;  // worth knowing, nothing left out

  plane::Box bounds() const;
};

// Throws the first problem as an Error; for callers that take a file whole or not at all.
void requireClean(const Imported& imported);

// A round origin near the middle of the data.
plane::Origin originFor(const Imported& imported);

// As a source relative to the origin. Areas become boundaries. Throws Error for an area that is not sound.
project::SourceData toSource(const Imported& imported, const plane::Origin& origin);

// Keeps only triangles of positive plan area, turned counter-clockwise, and merges points with the same place and
// level. Returns the number of triangles left out.
std::size_t tidyModel(std::vector<plane::Vec3>& points, std::vector<ground::Triangle>& triangles);

}  // namespace inselberg::exchange
