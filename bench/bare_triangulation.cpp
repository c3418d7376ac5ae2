#include "bare_triangulation.h"

#include <CGAL/Constrained_Delaunay_triangulation_2.h>
#include <CGAL/Constrained_triangulation_plus_2.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>

namespace inselberg::bench {

std::size_t bareTriangulation(std::span<const plane::Vec2> points,
                              std::span<const std::pair<ground::Index, ground::Index>> segments) {
  using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
  using Vertex = CGAL::Triangulation_vertex_base_2<Kernel>;
  using Face = CGAL::Constrained_triangulation_face_base_2<Kernel>;
  using Structure = CGAL::Triangulation_data_structure_2<Vertex, Face>;
  using Delaunay = CGAL::Constrained_Delaunay_triangulation_2<Kernel, Structure, CGAL::Exact_predicates_tag>;
  std::vector<Kernel::Point_2> list;
  list.reserve(points.size());
  for (const plane::Vec2 p : points) list.emplace_back(p.x, p.y);
  Delaunay made;
  made.insert(list.begin(), list.end());
  for (const auto& [a, b] : segments) made.insert_constraint(list[a], list[b]);
  return made.number_of_faces();
}

}  // namespace inselberg::bench
