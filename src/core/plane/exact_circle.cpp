#include "plane/exact_circle.h"

#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>

namespace inselberg::plane::detail {

bool insideCircleSlow(Vec2 a, Vec2 b, Vec2 c, Vec2 d) {
  using Point = CGAL::Exact_predicates_inexact_constructions_kernel::Point_2;
  return CGAL::side_of_oriented_circle(Point(a.x, a.y), Point(b.x, b.y), Point(c.x, c.y), Point(d.x, d.y)) ==
         CGAL::ON_POSITIVE_SIDE;
}

}  // namespace inselberg::plane::detail
