#include "plane/exact_side.h"

#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>

namespace inselberg::plane::detail {

double exactSideSlow(Vec2 a, Vec2 b, Vec2 c) {
  using Point = CGAL::Exact_predicates_inexact_constructions_kernel::Point_2;
  return static_cast<double>(CGAL::orientation(Point(a.x, a.y), Point(b.x, b.y), Point(c.x, c.y)));
}

}  // namespace inselberg::plane::detail
