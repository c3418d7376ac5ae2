// By CGAL (natural neighbour coordinates).
#include "works/pit_depths.h"

#include <CGAL/Delaunay_triangulation_2.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/natural_neighbor_coordinates_2.h>

#include <algorithm>
#include <limits>
#include <map>

#include "plane/polygon.h"

namespace inselberg::works {

using plane::Vec2;
using plane::Vec3;
using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
using Delaunay = CGAL::Delaunay_triangulation_2<Kernel>;
using Point = Kernel::Point_2;

constexpr double kThere = 1e-6;  // m

struct PitDepths::Inner {
  Delaunay triangulation;
  std::map<Point, double> depths;
  std::vector<std::pair<Vec2, Vec2>> hull;
  std::vector<std::pair<double, double>> hullDepths;
  plane::Ring ring;  // of the hull
};

PitDepths::PitDepths(const std::vector<Vec3>& pits) : inner_(std::make_unique<Inner>()) {
  for (const Vec3& p : pits) {
    const Point at(p.x, p.y);
    inner_->triangulation.insert(at);
    inner_->depths.try_emplace(at, p.z);
  }
  const auto depthAt = [&](const Point& p) { return inner_->depths.at(p); };
  const auto& t = inner_->triangulation;
  if (t.dimension() == 2) {
    auto around = t.incident_vertices(t.infinite_vertex());
    const auto done = around;
    do {
      inner_->ring.push_back({around->point().x(), around->point().y()});
    } while (++around != done);
    if (plane::signedArea(inner_->ring) < 0) std::reverse(inner_->ring.begin(), inner_->ring.end());
    for (std::size_t i = 0; i < inner_->ring.size(); ++i) {
      const Vec2 a = inner_->ring[i], b = inner_->ring[(i + 1) % inner_->ring.size()];
      inner_->hull.push_back({a, b});
      inner_->hullDepths.push_back({depthAt({a.x, a.y}), depthAt({b.x, b.y})});
    }
  } else if (t.dimension() == 1) {
    for (auto e = t.finite_edges_begin(); e != t.finite_edges_end(); ++e) {
      const auto s = t.segment(*e);
      for (const auto& [from, to] : {std::pair(s.source(), s.target()), std::pair(s.target(), s.source())}) {
        inner_->hull.push_back({{from.x(), from.y()}, {to.x(), to.y()}});
        inner_->hullDepths.push_back({depthAt(from), depthAt(to)});
      }
    }
  } else {
    const auto& [at, depth] = *inner_->depths.begin();
    inner_->hull.push_back({{at.x(), at.y()}, {at.x(), at.y()}});
    inner_->hullDepths.push_back({depth, depth});
  }
}

PitDepths::~PitDepths() = default;
PitDepths::PitDepths(PitDepths&&) noexcept = default;

std::vector<std::pair<Vec2, Vec2>> PitDepths::hull() const {
  return inner_->depths.size() < 2 ? std::vector<std::pair<Vec2, Vec2>>() : inner_->hull;
}

double PitDepths::at(Vec2 p) const {
  double least = std::numeric_limits<double>::infinity(), onHull = 0;
  for (std::size_t i = 0; i < inner_->hull.size(); ++i) {
    const auto near = plane::nearestOnSegment(p, inner_->hull[i].first, inner_->hull[i].second);
    if (near.distance >= least) continue;
    least = near.distance;
    const auto [a, b] = inner_->hullDepths[i];
    onHull = a + near.along * (b - a);
  }
  // So near the hull or a pit the coordinates are all rounding.
  if (least < kThere || inner_->ring.empty() || !plane::contains(inner_->ring, p)) return onHull;
  const Delaunay& t = inner_->triangulation;
  const auto holds = t.locate(Point(p.x, p.y));
  for (int k = 0; k < 3; ++k) {
    if (t.is_infinite(holds->vertex(k))) continue;
    const Point& at = holds->vertex(k)->point();
    if (plane::distance({at.x(), at.y()}, p) < kThere) return inner_->depths.at(at);
  }
  std::vector<std::pair<Point, Kernel::FT>> near;
  const auto found = CGAL::natural_neighbor_coordinates_2(t, Point(p.x, p.y), std::back_inserter(near), holds);
  if (!found.third || !(found.second > 0)) return onHull;
  double sum = 0;
  for (const auto& [at, weight] : near) sum += weight * inner_->depths.at(at);
  return sum / found.second;
}

}  // namespace inselberg::works
