// Sources: data as it came or was drawn. Never altered by design.
#pragma once

#include <atomic>
#include <functional>
#include <memory>
#include <string>
#include <utility>
#include <vector>

#include "base/hash.h"
#include "base/id.h"
#include "base/pieces.h"
#include "ground/build.h"
#include "ground/tin.h"
#include "plane/polygon.h"
#include "project/source_index.h"

namespace inselberg::project {

// What a source holds, all positions relative to the project's origin. Immutable once made.
struct SourceData {
  Pieces<plane::Vec3> points;
  Pieces<std::string> codes;  // empty, or one for each point
  Pieces<ground::Breakline> breaklines;
  std::vector<plane::Polygon> boundaries;  // sound
  std::vector<plane::Polygon> voids;       // sound
  Pieces<plane::Vec3> modelPoints;         // of a ground model that keeps its own triangles
  Pieces<ground::Triangle> modelTriangles;

  Hash hash() const;  // equal data, equal hash; the file names data by another (store/bulk.h)
};

// What is known about a source beside its data.
struct SourceInfo {
  std::string name = {};
  std::string file = {};  // where it came from; empty when drawn
  // Of an import: what each layer of the file was taken as, and what came in and what did not, a line each.
  std::vector<std::pair<std::string, std::string>> takes = {};
  std::vector<std::string> report = {};
  // How it is shown and edited. A hidden source still takes part in its grounds.
  bool hidden = false;
  bool locked = false;      // not changed by hand
  std::string colour = {};  // "#rrggbb"; empty: as its kind is drawn
  // How the file was read where it did not say so itself: "units", "system", "levels" (attribute), "limit" (corners as
  // "easting northing, ...": only what lies inside was taken), and the choice.
  std::vector<std::pair<std::string, std::string>> reading = {};
  bool operator==(const SourceInfo&) const = default;
};

struct Source : SourceInfo {
  SourceId id;
  std::shared_ptr<const SourceData> data;
  Hash hash;  // of the data
  // Calls f for every point and side that may touch the box; the same one may come several times. Looked up once
  // makeIndex is through, here or for the data this was changed from; walked through before. Safe from several threads.
  void eachNear(const plane::Box& box, const std::function<void(const SourceIndex::Entry&)>& f) const;
  // Makes ready what eachNear looks up in; while another thread does, nothing waits for it.
  void makeIndex() const;

  struct LazyIndex {
    std::atomic<bool> begun{false}, ready{false};
    std::unique_ptr<const SourceIndex> index;
    // That of other data, which differs in these features only.
    std::shared_ptr<LazyIndex> of;
    std::vector<std::pair<FeatureKind, std::size_t>> but;
  };
  std::shared_ptr<LazyIndex> lazyIndex;  // of the data
};

using SourcePtr = std::shared_ptr<const Source>;

// Texts that are not UTF-8 are made it.
SourcePtr makeSource(SourceId id, SourceInfo info, SourceData data);
// The source with other data: what `before` has, but for these features and those added behind.
SourcePtr changedSource(const Source& before, SourceData data,
                        std::vector<std::pair<FeatureKind, std::size_t>> changed);
// The same of data that is shared; `hash` is its own.
SourcePtr makeSource(SourceId id, SourceInfo info, std::shared_ptr<const SourceData> data, const Hash& hash);

}  // namespace inselberg::project
