// A ground after a few of the lines and points it was built from have changed, without building it anew.
#pragma once

#include <functional>
#include <optional>
#include <span>
#include <vector>

#include "base/progress.h"
#include "ground/tin.h"

namespace inselberg::ground {

// A part of a breakline, or a point, as it was and as it is. Vertices that stay are given at the ends of both; where a
// whole closed line changed, the first vertex is repeated at the end.
struct ChangedPart {
  std::vector<Vec3> before, after;
  bool startStays = false, endStays = false;  // the first of both is the same vertex, the last is
};

struct Patch {
  TinPtr tin;
  TinPtr facets;  // the triangles that are new
};

// The constrained Delaunay triangulation with the parts changed: triangles at what went and what came are triangulated
// anew, and more around them until every side is locally Delaunay (or a breakline) again. Time and memory are those of
// a copy of the flat arrays.
// `isClear(a, b)` says whether, from a to b, nothing else that the ground is built from lies within 2 mm. Nothing is
// given back where a change is not of this simple kind: not clear, a vertex that is none of the ground's, a border or a
// place without ground, lines that cross. REQUIRES: the ground was built from points and lines alone, without flats
// being cured.
std::optional<Patch> patched(const Tin& ground, std::span<const ChangedPart> parts,
                             const std::function<bool(Vec2, Vec2)>& isClear, const Progress& progress);

}  // namespace inselberg::ground
