// Facets among other lines: they stay as they are, but where lines end on their border those there are split.
#pragma once

#include <cstdint>
#include <functional>
#include <optional>
#include <utility>
#include <vector>

#include "base/progress.h"
#include "ground/tin.h"
#include "ground/triangulate.h"
#include "plane/linework.h"

namespace inselberg::ground {

struct FacetSide {
  Index facet;
  int side;
};
// Those with a facet on one side only, in the order of facets.
std::vector<FacetSide> borderSides(const Tin& facets);

class FacetBorder {
 public:
  using Vertex = plane::Linework::Index;

  // Adds the border to lines that are still to be noded, with a tag that nothing else has. `sides`: in the order of
  // facets. The facets must live as long.
  FacetBorder(const Tin& facets, std::vector<FacetSide> sides, plane::Linework& work, std::uint32_t tag);
  // Once they are: finds what has become of each of its sides. Before what follows.
  void follow(const plane::Linework& work);

  // Its sides as they were split, with facets to their left and none to their right.
  const std::vector<Edge>& sides() const { return ways_; }
  // Per face of a triangulation of the lines: whether it lies inside the facets.
  std::vector<char> inside(const Triangulation& made, const Progress& progress) const;

  // Hands over all facets, as they are or split: pointAt(vertex of the lines, place) gives the number of a point, that
  // of a place beside all lines without a vertex; levelOn(side, place) the level where one of the border is split;
  // add(facet, corners, breaks) takes a triangle, in the order of facets.
  using PointAt = std::function<Index(std::optional<Vertex>, const Vec3&)>;
  using LevelOn = std::function<double(const FacetSide&, Vec2)>;
  using Add = std::function<void(Index facet, const Triangle& corners, std::uint8_t breaks)>;
  void eachFacet(const PointAt& pointAt, const LevelOn& levelOn, const Add& add) const;

 private:
  struct Side {
    Vertex a, b;                                   // in the order of its facet
    std::vector<std::pair<Vertex, Vec2>> between;  // that it was split at
  };

  const Tin& facets_;
  std::vector<FacetSide> border_;
  std::uint32_t tag_;
  std::vector<Side> sides_;  // of the border
  std::vector<Edge> ways_;   // sorted
};

}  // namespace inselberg::ground
