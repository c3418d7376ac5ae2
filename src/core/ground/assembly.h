// A ground put together from what is kept of an old one and what a recut has anew.
#pragma once

#include <cstdint>
#include <vector>

#include "ground/recut.h"
#include "ground/tin.h"

namespace inselberg::ground {

// Puts together a ground from kept triangles of an old one and faces of a recut.
class Assembly {
 public:
  // `kept` per triangle of the ground.
  Assembly(const Tin& ground, const std::vector<char>& kept, const Triangulation& cut);

  // Takes over face f of the recut, with levels from triangle t of `surface` (the ground itself or facets). Faces of
  // the ground must be added before all else, so that the ground's own points are found again.
  void add(Index face, const Tin& surface, Index t);

  // The point at a point of the recut with a level: one that is there already where its level is that. And a point
  // beside the recut.
  Index pointAt(Index local, double z);
  Index pointAt(const Vec3& p);
  // A triangle of such points; one that has nothing inside is left out.
  void add(const Triangle& corners, std::uint8_t breaks);

  // What is kept has its numbers, but for the last of it where the ground becomes smaller.
  TinPtr finish();

 private:
  struct Level {
    double z;
    Index point;
  };
  Index pointOf(Index local, const Tin& surface, Index t);
  class Numbers;
  std::vector<char> usedPoints() const;
  void moveKept(TinParts& parts, const Numbers& points, const Numbers& triangles) const;
  void join(TinParts& parts, const Numbers& triangles) const;

  const Tin& ground_;
  const std::vector<char>& kept_;
  const Triangulation& cut_;
  std::vector<Vec3> newPoints_;
  std::vector<Triangle> newTriangles_;
  std::vector<std::uint8_t> newBreaks_;
  std::vector<std::vector<Level>> levels_;  // per point of the recut
};

}  // namespace inselberg::ground
