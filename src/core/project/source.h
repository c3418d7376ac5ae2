// Sources: data as it came or was drawn. Never altered by design.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "base/hash.h"
#include "base/id.h"
#include "ground/build.h"
#include "ground/tin.h"
#include "plane/polygon.h"

namespace inselberg::project {

// What a source holds, all positions relative to the project's origin. Immutable once made.
struct SourceData {
  std::vector<plane::Vec3> points;
  std::vector<std::string> codes;  // empty, or one for each point
  std::vector<ground::Breakline> breaklines;
  std::vector<plane::Polygon> boundaries;  // sound
  std::vector<plane::Vec3> modelPoints;    // of a ground model that keeps its own triangles
  std::vector<ground::Triangle> modelTriangles;

  Hash hash() const;
};

struct Source {
  SourceId id;
  std::string name;
  std::string file;  // where it came from; empty when drawn
  std::shared_ptr<const SourceData> data;
  Hash hash;  // of the data
};

std::shared_ptr<const Source> makeSource(SourceId id, std::string name, std::string file, SourceData data);

}  // namespace inselberg::project
