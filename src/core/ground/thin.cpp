// CGAL's Delaunay triangulation of the points chosen so far; every other point hangs in a list of the face it lies in.
// A face knows its worst point, a heap knows the worst face. A new point takes the faces whose circumcircle holds it
// out and puts its star in their place: only the lists of those faces are dealt out anew.
#include "ground/thin.h"

#include <CGAL/Delaunay_triangulation_2.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Triangulation_face_base_with_info_2.h>
#include <CGAL/Triangulation_vertex_base_with_info_2.h>

#include <algorithm>
#include <cmath>
#include <numeric>
#include <queue>

#include "plane/curve_order.h"
#include "plane/hull.h"

namespace inselberg::ground {
namespace {

using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
struct Number {
  Index value = kNone;
};
struct Holding {
  Index first = kNone;      // of the face's list of points
  std::uint32_t round = 0;  // changes with the face
};
using VertexBase = CGAL::Triangulation_vertex_base_with_info_2<Number, Kernel>;
using FaceBase = CGAL::Triangulation_face_base_with_info_2<Holding, Kernel>;
using Delaunay = CGAL::Delaunay_triangulation_2<Kernel, CGAL::Triangulation_data_structure_2<VertexBase, FaceBase>>;
using Face = Delaunay::Face_handle;

Kernel::Point_2 placeOf(const Vec3& p) {
  return {p.x, p.y};
}

class Thinner {
 public:
  Thinner(std::span<const Vec3> points, double tolerance, const Progress& progress)
      : points_(points), tolerance_(tolerance), progress_(progress), next_(points.size(), kNone) {}

  Thinned run(std::span<const Index> required) {
    Thinned result;
    std::vector<char> chosen(points_.size(), 0);
    const auto start = [&](Index i) {
      if (std::exchange(chosen[i], 1)) return;
      const auto vertex = triangulation_.insert(placeOf(points_[i]));
      if (vertex->info().value != kNone) {
        coincident(points_[i], points_[vertex->info().value]);
        return;
      }
      vertex->info().value = i;
      kept_.push_back(i);
    };
    for (const Index i : plane::hullOf(points_)) start(i);
    for (const Index i : required) start(i);
    // Points that rounding left outside belong to the hull too.
    Face hint;
    for (Index i = 0; i < points_.size() && triangulation_.dimension() == 2; ++i) {
      if ((i & 0xfff) == 0) progress_.check();
      if (chosen[i]) continue;
      hint = triangulation_.locate(placeOf(points_[i]), hint);
      if (triangulation_.is_infinite(hint)) {
        start(i);
        hint = {};
      }
    }
    if (triangulation_.dimension() < 2) {
      result.kept.resize(points_.size());
      std::iota(result.kept.begin(), result.kept.end(), Index{0});
      return result;
    }
    hint = {};
    for (Index i = static_cast<Index>(points_.size()); i-- > 0;) {
      if ((i & 0xfff) == 0) progress_.check();
      if (chosen[i]) continue;
      hint = triangulation_.locate(placeOf(points_[i]), hint);
      push(triangulation_.is_infinite(hint) ? finiteNeighbour(hint) : hint, i);
    }
    for (auto f = triangulation_.finite_faces_begin(); f != triangulation_.finite_faces_end(); ++f) scan(f);
    insertWorst();
    result.kept = std::move(kept_);
    result.greatestError = std::max(coincidentError_, heap_.empty() ? 0 : heap_.top().error);
    for (auto f = triangulation_.finite_faces_begin(); f != triangulation_.finite_faces_end(); ++f) {
      result.triangles.push_back({f->vertex(0)->info().value, f->vertex(1)->info().value, f->vertex(2)->info().value});
    }
    return result;
  }

 private:
  struct Entry {
    double error;
    Index point;
    Face face;
    std::uint32_t round;
    bool operator<(const Entry& o) const { return error < o.error || (error == o.error && point > o.point); }
  };

  void coincident(const Vec3& a, const Vec3& b) { coincidentError_ = std::max(coincidentError_, std::abs(a.z - b.z)); }

  Face finiteNeighbour(Face infinite) const {
    return infinite->neighbor(infinite->index(triangulation_.infinite_vertex()));
  }

  void push(Face f, Index i) {
    next_[i] = f->info().first;
    f->info().first = i;
  }

  // Finds the face's worst point and puts it on the heap.
  void scan(Face f) {
    f->info().round = ++round_;
    if (f->info().first == kNone) return;
    const std::array<Vec3, 3> corners{points_[f->vertex(0)->info().value], points_[f->vertex(1)->info().value],
                                      points_[f->vertex(2)->info().value]};
    const Plane plane = ground::planeOf(corners);
    double worst = 0;
    Index at = kNone;
    Index* link = &f->info().first;
    while (*link != kNone) {
      const Index i = *link;
      const Vec3& p = points_[i];
      const double error = std::abs(p.z - plane(p.plan()));
      if (error > worst) {
        const auto same = [&](const Vec3& c) { return c.x == p.x && c.y == p.y; };
        if (same(corners[0]) || same(corners[1]) || same(corners[2])) {
          for (const Vec3& c : corners) {
            if (same(c)) coincident(p, c);
          }
          *link = next_[i];  // nothing more can be done for it
          continue;
        }
        worst = error, at = i;
      }
      link = &next_[i];
    }
    if (at != kNone) heap_.push({worst, at, f, f->info().round});
  }

  void insertWorst() {
    std::vector<Face> hole;
    std::vector<Delaunay::Edge> rim;
    std::size_t steps = 0;
    const double first = heap_.empty() ? 0 : heap_.top().error;
    while (!heap_.empty()) {
      const Entry e = heap_.top();
      if (e.round != e.face->info().round) {
        heap_.pop();
        continue;
      }
      if (!(e.error > tolerance_)) break;
      heap_.pop();
      if ((++steps & 0x3ff) == 0) {
        // Errors shrink about as a power of the number of points.
        const double done = std::log(first / e.error) / std::log(first / std::max(tolerance_, first * 1e-6));
        progress_.report("choosing points", std::clamp(done, 0.0, 1.0));
      }
      insert(e, hole, rim);
    }
  }

  void insert(const Entry& e, std::vector<Face>& hole, std::vector<Delaunay::Edge>& rim) {
    hole.clear();
    rim.clear();
    const auto place = placeOf(points_[e.point]);
    triangulation_.get_conflicts_and_boundary(place, std::back_inserter(hole), std::back_inserter(rim), e.face);
    Index all = kNone;
    for (const Face f : hole) {
      f->info().round = 0;
      for (Index i = std::exchange(f->info().first, kNone); i != kNone;) {
        const Index after = next_[i];
        if (i != e.point) next_[i] = all, all = i;
        i = after;
      }
    }
    const auto vertex = triangulation_.star_hole(place, rim.begin(), rim.end(), hole.begin(), hole.end());
    vertex->info().value = e.point;
    kept_.push_back(e.point);
    star_.clear();
    auto around = triangulation_.incident_faces(vertex), done = around;
    do {
      around->info() = {};
      if (triangulation_.is_infinite(around)) continue;
      const int k = around->index(vertex);
      star_.push_back({around, points_[around->vertex(next(k))->info().value].plan(),
                       points_[around->vertex(before(k))->info().value].plan()});
    } while (++around != done);
    const Vec2 centre = points_[e.point].plan();
    std::size_t last = 0;
    for (Index i = all; i != kNone;) {
      const Index after = next_[i];
      push(star_[last = sectorOf(points_[i].plan(), centre, last)].face, i);
      i = after;
    }
    for (const Sector& s : star_) scan(s.face);
  }

  struct Sector {
    Face face;
    Vec2 from, to;  // counter-clockwise around the new point
  };

  // The face of the star that holds p: its sector, or (past the hull, by rounding) the one p is least outside of.
  std::size_t sectorOf(Vec2 p, Vec2 centre, std::size_t last) const {
    std::size_t best = last;
    double least = 1e300;
    for (std::size_t n = 0; n < star_.size(); ++n) {
      const std::size_t s = (last + n) % star_.size();
      const double a = plane::turn(centre, star_[s].from, p), b = plane::turn(centre, p, star_[s].to);
      if (a >= 0 && b >= 0) return s;
      const double outside = std::max(-a, -b);
      if (outside < least) least = outside, best = s;
    }
    return best;
  }

  std::span<const Vec3> points_;
  double tolerance_;
  const Progress& progress_;
  std::vector<Index> next_;
  Delaunay triangulation_;
  std::priority_queue<Entry> heap_;
  std::vector<Index> kept_;
  std::vector<Sector> star_;
  std::uint32_t round_ = 0;
  double coincidentError_ = 0;
};

}  // namespace

Thinned thin(std::span<const Vec3> points, std::span<const Index> required, double tolerance,
             const Progress& progress) {
  if (points.size() < 3) {
    Thinned all;
    all.kept.resize(points.size());
    std::iota(all.kept.begin(), all.kept.end(), Index{0});
    return all;
  }
  // The lists of faces lead through memory in the order of the points: along a curve, near ones lie near.
  std::vector<Vec2> plans;
  plans.reserve(points.size());
  for (const Vec3& p : points) plans.push_back(p.plan());
  const std::vector<Index> order = plane::curveOrder(plans);
  plans = {};
  std::vector<Vec3> sorted(points.size());
  std::vector<Index> placeOf(points.size());
  for (Index k = 0; k < order.size(); ++k) sorted[k] = points[order[k]], placeOf[order[k]] = k;
  std::vector<Index> requiredSorted;
  for (const Index i : required) requiredSorted.push_back(placeOf[i]);
  Thinned result = Thinner(sorted, tolerance, progress).run(requiredSorted);
  for (Index& i : result.kept) i = order[i];
  for (Triangle& t : result.triangles) t = {order[t[0]], order[t[1]], order[t[2]]};
  return result;
}

}  // namespace inselberg::ground
