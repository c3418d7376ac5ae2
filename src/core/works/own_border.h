// A works' own area among other lines: it keeps its facets, but where lines end on its border facets there are split.
#pragma once

#include "works/own_area.h"

namespace inselberg::works {

class OwnBorder {
 public:
  // Adds the border to lines that are still to be noded, with a tag that nothing else has.
  OwnBorder(const OwnArea& own, plane::Linework& work, std::uint32_t tag);
  // Once they are: finds what has become of each of its sides. Before what follows.
  void follow(const plane::Linework& work);

  // Per face of a triangulation of the lines: whether it lies inside the area.
  std::vector<char> inside(const ground::Triangulation& made, const Progress& progress) const;
  // Adds the facets, and to `kinds` what they are.
  void addFacets(SurfaceMaker& maker, std::vector<FacetKind>& kinds) const;

 private:
  using Vertex = plane::Linework::Index;
  struct Side {
    Vertex a, b;                  // in the order of its facet
    std::vector<Vertex> between;  // that it was split at
  };

  const OwnArea& own_;
  std::uint32_t tag_;
  std::vector<Side> sides_;  // as the area has them
};

}  // namespace inselberg::works
