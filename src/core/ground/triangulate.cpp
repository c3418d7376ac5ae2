// CGAL's constrained Delaunay triangulation, copied into flat arrays in the order of a Hilbert curve. Points are
// inserted in rounds, each four times as large as the one before and drawn at random, and along the curve within a
// round, with the last face as the hint (N. Amenta, S. Choi, G. Rote: Incremental constructions con BRIO, 2003).
#include "ground/triangulate.h"

#include <CGAL/Constrained_Delaunay_triangulation_2.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Triangulation_face_base_with_info_2.h>
#include <CGAL/Triangulation_vertex_base_with_info_2.h>
#include <array>
#include <numeric>
#include <optional>

#include "plane/curve_order.h"

namespace inselberg::ground {
namespace {

using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
struct Number {
  Index value = kNone;
};
using VertexBase = CGAL::Triangulation_vertex_base_with_info_2<Number, Kernel>;
using FaceBase =
    CGAL::Constrained_triangulation_face_base_2<Kernel, CGAL::Triangulation_face_base_with_info_2<Index, Kernel>>;
using Structure = CGAL::Triangulation_data_structure_2<VertexBase, FaceBase>;
using Cdt = CGAL::Constrained_Delaunay_triangulation_2<Kernel, Structure, CGAL::Exact_predicates_tag>;

struct Next {
  Vec2 at;
  Index index;
};

std::vector<Next> insertionOrder(std::span<const Vec2> points) {
  constexpr int kRounds = 9;
  std::array<std::vector<Next>, kRounds> rounds;
  std::uint64_t state = 0x9E3779B97F4A7C15ULL;
  for (const Index i : plane::curveOrder(points)) {
    // splitmix64: two random bits decide each step down a round.
    std::uint64_t r = (state += 0x9E3779B97F4A7C15ULL);
    r = (r ^ (r >> 30)) * 0xBF58476D1CE4E5B9ULL;
    r = (r ^ (r >> 27)) * 0x94D049BB133111EBULL;
    r ^= r >> 31;
    int round = kRounds - 1;
    while (round > 0 && (r & 3) == 0) r >>= 2, --round;
    rounds[round].push_back({points[i], i});
  }
  std::vector<Next> order;
  order.reserve(points.size());
  for (const auto& round : rounds) order.insert(order.end(), round.begin(), round.end());
  return order;
}

// Three points that are on no one line, decided exactly; nothing when there are none. The library takes quadratic time
// for as long as all points lie on one line.
std::optional<std::array<Index, 3>> spanning(std::span<const Vec2> points) {
  if (points.empty()) return std::nullopt;
  Index a = 0, b = 0, c = 0;
  for (Index i = 0; i < points.size(); ++i) {
    if (std::pair(points[i].x, points[i].y) < std::pair(points[a].x, points[a].y)) a = i;
    if (std::pair(points[i].x, points[i].y) > std::pair(points[b].x, points[b].y)) b = i;
  }
  double farthest = -1;
  for (Index i = 0; i < points.size(); ++i) {
    const double off = std::abs(plane::turn(points[a], points[b], points[i]));
    if (off > farthest) farthest = off, c = i;
  }
  const auto exact = [&](Index i) { return Kernel::Point_2(points[i].x, points[i].y); };
  const auto offLine = [&](Index i) { return CGAL::orientation(exact(a), exact(b), exact(i)) != CGAL::COLLINEAR; };
  // Where the farthest by rounded numbers is on the line, another may be off it by less than the rounding.
  for (Index i = 0; i < points.size() && !offLine(c); ++i) c = i;
  if (!offLine(c)) return std::nullopt;
  return std::array{a, b, c};
}

}  // namespace

Triangulation triangulate(std::span<const Vec2> points, std::span<const Edge> segments, const Progress& progress) {
  Triangulation out;
  out.points.assign(points.begin(), points.end());
  out.same.resize(points.size());
  std::iota(out.same.begin(), out.same.end(), Index{0});

  const auto first = spanning(points);
  if (!first) return out;
  Cdt cdt;
  for (const Index i : *first) cdt.insert(Kernel::Point_2(points[i].x, points[i].y))->info().value = i;
  std::vector<Cdt::Vertex_handle> handles(points.size());
  {
    const std::vector<Next> order = insertionOrder(points);
    Cdt::Face_handle hint;
    std::size_t done = 0;
    for (const Next& point : order) {
      const Index i = point.index;
      if ((done++ & 0xfff) == 0)
        progress.report("triangulating", 0.8 * static_cast<double>(done) / static_cast<double>(points.size()));
      const Cdt::Vertex_handle v = cdt.insert(Kernel::Point_2(point.at.x, point.at.y), hint);
      if (v->info().value == kNone) {
        v->info().value = i;
      } else {
        out.same[i] = v->info().value;
      }
      handles[i] = v;
      hint = v->face();
    }
  }
  // The first of equal points stands for all, whichever was inserted first.
  for (Index i = static_cast<Index>(points.size()); i-- > 0;) {
    if (out.same[i] != i) handles[i]->info().value = std::min(handles[i]->info().value, i);
  }
  for (Index i = 0; i < points.size(); ++i) out.same[i] = handles[i]->info().value;
  std::size_t done = 0;
  for (const auto& [a, b] : segments) {
    if ((done++ & 0xff) == 0)
      progress.report("adding lines", 0.8 + 0.1 * static_cast<double>(done) / static_cast<double>(segments.size()));
    if (handles[a] != handles[b]) cdt.insert_constraint(handles[a], handles[b]);
  }
  // Crossing points come after the input points, in the order of the triangulation's own list.
  if (cdt.number_of_vertices() > 0) {
    for (auto v = cdt.finite_vertices_begin(); v != cdt.finite_vertices_end(); ++v) {
      if (v->info().value != kNone) continue;
      v->info().value = static_cast<Index>(out.points.size());
      out.points.push_back({v->point().x(), v->point().y()});
    }
  }
  if (cdt.dimension() < 2) return out;

  // Faces are numbered by the place on the curve of their first corner: a counting sort.
  const std::vector<Index> order = plane::curveOrder(out.points);
  std::vector<Index> rank(out.points.size());
  for (std::size_t k = 0; k < order.size(); ++k) rank[order[k]] = static_cast<Index>(k);
  std::vector<Index> starts(out.points.size() + 1, 0);
  const auto firstRank = [&](Cdt::Face_handle f) {
    return std::min(
        {rank[f->vertex(0)->info().value], rank[f->vertex(1)->info().value], rank[f->vertex(2)->info().value]});
  };
  for (Cdt::Face_handle f : cdt.finite_face_handles()) ++starts[firstRank(f) + 1];
  for (std::size_t i = 1; i < starts.size(); ++i) starts[i] += starts[i - 1];
  const std::size_t count = starts.back();
  for (Cdt::Face_handle f : cdt.all_face_handles()) f->info() = kNone;
  for (Cdt::Face_handle f : cdt.finite_face_handles()) f->info() = starts[firstRank(f)]++;
  out.triangles.resize(count);
  out.neighbours.resize(count);
  out.constrained.resize(count);
  progress.report("triangulating", 0.95);
  for (Cdt::Face_handle f : cdt.finite_face_handles()) {
    const Index t = f->info();
    for (int k = 0; k < 3; ++k) {
      out.triangles[t][k] = f->vertex(k)->info().value;
      out.neighbours[t][k] = f->neighbor(k)->info();
      if (f->is_constrained(k)) out.constrained[t] |= static_cast<std::uint8_t>(1 << k);
    }
  }
  return out;
}

Triangulation triangulate(const plane::Linework& lines, const Progress& progress) {
  std::vector<Edge> edges;
  edges.reserve(lines.segments().size());
  for (const auto& s : lines.segments()) edges.emplace_back(s.a, s.b);
  return triangulate(lines.points(), edges, progress);
}

}  // namespace inselberg::ground
