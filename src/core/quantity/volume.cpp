// Method. Between whole grounds: a sum over the edges of their overlay (edge_sum.h). Inside a region, below facets
// whose cost must not follow the ground's, and where a ground is not sound: every pair of overlapping triangles is
// clipped to a convex polygon; over it the difference of levels is linear, so each of its fan triangles is split at the
// zero line and integrated in closed form: the mean of the three differences times the area. For each triangle of one
// ground (the outer) those of the other (the inner) are come upon from neighbour to neighbour, beginning at those found
// last; where they do not cover it (a border, a wall), they are looked for in the search grid. A triangle that both
// grounds have in plan needs no clipping: it is recognised by its three corners. The choice of the outer ground does
// not depend on which comes first, so exchanging them changes nothing but signs. A region is triangulated, and laid
// over the outer triangles first.
#include "quantity/volume.h"

#include <tbb/enumerable_thread_specific.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <map>

#include "base/parallel.h"
#include "ground/recut.h"
#include "ground/tin_index.h"
#include "ground/triangulate.h"
#include "plane/inside.h"
#include "quantity/cell.h"
#include "quantity/edge_sum.h"
#include "quantity/overlap.h"

namespace inselberg::quantity {
namespace {

using ground::Index;
using ground::kNone;
using ground::Plane;
using ground::Tin;
using ground::Triangle;
using plane::Vec3;

constexpr double kRounding = 1e-9;  // of an area

// One difference of level over a convex polygon.
void addConvex(const Convex& shape, const Plane& outer, const Plane& inner, Few& few, LevelSums& sums) {
  std::array<double, Convex::kMost> d;
  for (int i = 0; i < shape.n; ++i) d[i] = outer(shape.p[i]) - inner(shape.p[i]);
  addCell(shape.p.data(), d.data(), shape.n, few, sums);
}

// The triangles of one ground near a shape. One per thread: marks are kept from query to query.
class Candidates {
 public:
  explicit Candidates(const Tin& tin) : tin_(tin), stamps_(tin.triangles().size(), 0) {}

  // Those whose box overlaps the shape's, each once.
  std::span<const Index> over(const Convex& shape) {
    const plane::Box box = boxOf(shape);
    ++epoch_;
    found_.clear();
    tin_.index().touching({shape.p.data(), static_cast<std::size_t>(shape.n)}, 0, [&](Index t) {
      if (take(t) && boxOverlaps(t, box)) found_.push_back(t);
    });
    return found_;
  }

  // Those that are come upon from triangle to triangle, from among the ones that were taken last: calls f(triangle) for
  // each, which tells whether it lies over the shape. Cheap, and complete unless the ground has a border there or none
  // of the last ones is near: so what was found has to be added up.
  template <class F>
  void flood(const plane::Box& box, F&& f) {
    ++epoch_;
    std::swap(last_, reached_);
    reached_.clear();
    const auto visitAround = [&](Index of) {
      for (const Index t : tin_.neighbours()[of]) {
        if (t != kNone) visit(t, box, f);
      }
    };
    for (std::size_t i = 0; i < last_.size() && reached_.empty(); ++i) visit(last_[i], box, f);
    for (std::size_t i = 0; i < last_.size() && reached_.empty(); ++i) visitAround(last_[i]);
    for (std::size_t i = 0; i < reached_.size(); ++i) visitAround(reached_[i]);
    if (reached_.empty()) std::swap(last_, reached_);
  }
  void beginFrom(std::span<const Index> triangles) { reached_.assign(triangles.begin(), triangles.end()); }

 private:
  bool take(Index t) {
    if (stamps_[t] == epoch_) return false;
    stamps_[t] = epoch_;
    return true;
  }
  bool boxOverlaps(Index t, const plane::Box& box) const {
    const Triangle& c = tin_.triangles()[t];
    const Vec2 p = tin_.plan(c[0]), q = tin_.plan(c[1]), r = tin_.plan(c[2]);
    return std::max({p.x, q.x, r.x}) > box.minX && std::min({p.x, q.x, r.x}) < box.maxX &&
           std::max({p.y, q.y, r.y}) > box.minY && std::min({p.y, q.y, r.y}) < box.maxY;
  }
  template <class F>
  void visit(Index t, const plane::Box& box, F& f) {
    if (take(t) && boxOverlaps(t, box) && f(t)) reached_.push_back(t);
  }

  const Tin& tin_;
  std::vector<std::uint32_t> stamps_;
  std::uint32_t epoch_ = 0;
  std::vector<Index> found_, last_, reached_;
};

using CandidatesPerThread = tbb::enumerable_thread_specific<Candidates>;

Convex shapeOf(const Tin& tin, Index t) {
  const Triangle& c = tin.triangles()[t];
  return triangleShape(tin.plan(c[0]), tin.plan(c[1]), tin.plan(c[2]));
}

Convex overlapWith(const Tin& tin, Index t, const Convex& shape) {
  const Triangle& c = tin.triangles()[t];
  return overlap(shape, tin.plan(c[0]), tin.plan(c[1]), tin.plan(c[2]));
}

std::array<Vec2, 3> plansOf(const std::array<Vec3, 3>& corners) {
  return {corners[0].plan(), corners[1].plan(), corners[2].plan()};
}

bool sameGround(const Tin& a, const Tin& b) {
  return std::ranges::equal(a.points(), b.points()) && std::ranges::equal(a.triangles(), b.triangles());
}

// An order of grounds that looks at nothing but their contents: fewer triangles first.
bool comesBefore(const Tin& a, const Tin& b) {
  if (a.triangles().size() != b.triangles().size()) return a.triangles().size() < b.triangles().size();
  const auto key = [](const Vec3& p) { return std::array{p.x, p.y, p.z}; };
  return std::ranges::lexicographical_compare(a.points(), b.points(), {}, key, key);
}

// The region as a flat ground at level 0.
ground::TinPtr regionTin(const std::vector<plane::Polygon>& region, const Progress& progress) {
  std::vector<Vec2> points;
  std::vector<ground::Edge> edges;
  const auto ring = [&](const plane::Ring& r) {
    const Index first = static_cast<Index>(points.size());
    for (Index i = 0; i < r.size(); ++i) {
      points.push_back(r[i]);
      edges.emplace_back(first + i, first + (i + 1) % static_cast<Index>(r.size()));
    }
  };
  for (const plane::Polygon& polygon : region) {
    ring(polygon.outer);
    for (const plane::Ring& hole : polygon.holes) ring(hole);
  }
  const ground::Triangulation made = ground::triangulate(points, edges, progress);
  const plane::Inside inside(region);
  ground::TinParts parts;
  for (const Vec2 p : made.points) parts.points.push_back({p.x, p.y, 0});
  for (const Triangle& t : made.triangles) {
    const Vec2 c = (1.0 / 3) * (made.points[t[0]] + made.points[t[1]] + made.points[t[2]]);
    if (inside(c)) parts.triangles.push_back(t);
  }
  ground::dropUnusedPoints(parts);
  return std::make_shared<Tin>(std::move(parts));
}

// A region as a flat ground, and what of a ground lies over it.
class Limit {
 public:
  Limit(const std::vector<plane::Polygon>& region, const Progress& progress)
      : tin_(regionTin(region, progress)), candidates_(std::cref(*tin_)) {
    tin_->index();
  }

  const Tin& tin() const { return *tin_; }
  // The triangles of a ground that may lie in it.
  std::vector<Index> over(const Tin& ground, const Progress& progress) const {
    return ground::trianglesNear(ground, *tin_, 0, progress);
  }
  // One per thread.
  Candidates& candidates() { return candidates_.local(); }
  // Calls f(piece, whole) for the parts of a triangle's plan that lie in it; `whole` when that is all of the triangle.
  template <class F>
  void cut(Candidates& candidates, const Convex& shape, F&& f) const {
    const double all = area(shape);
    for (const Index r : candidates.over(shape)) {
      const Convex piece = overlapWith(*tin_, r, shape);
      if (piece.n < 3) continue;
      const bool whole = piece.n == shape.n && area(piece) == all;
      f(piece, whole);
      if (whole) return;
    }
  }

 private:
  ground::TinPtr tin_;
  CandidatesPerThread candidates_;
};

// The plan area of a ground.
double coveredArea(const Tin& tin, const Progress& progress) {
  Sum total;
  for (const Sum& s : parallelMap<Sum>(tin.triangles().size(), 4096, progress, [&](std::size_t begin, std::size_t end) {
         Sum sum;
         for (std::size_t t = begin; t < end; ++t) sum.add(area(shapeOf(tin, static_cast<Index>(t))));
         return sum;
       }))
    total.add(s);
  return total.value();
}

// That of some of its triangles, inside a limit.
double coveredArea(const Tin& tin, std::span<const Index> triangles, Limit& limit, const Progress& progress) {
  Sum total;
  for (const Sum& s : parallelMap<Sum>(triangles.size(), 4096, progress, [&](std::size_t begin, std::size_t end) {
         Sum sum;
         Candidates& candidates = limit.candidates();
         for (std::size_t i = begin; i < end; ++i)
           limit.cut(candidates, shapeOf(tin, triangles[i]), [&](const Convex& piece, bool) { sum.add(area(piece)); });
         return sum;
       }))
    total.add(s);
  return total.value();
}

// Adds up what lies between triangles of the outer ground and the inner one.
class Measuring {
 public:
  // `inner` and `candidates` of it; where a chunk begins, so that its sums do not depend on what a thread did before.
  Measuring(const Tin& inner, Candidates& candidates) : inner_(inner), candidates_(candidates) {
    candidates_.beginFrom({});
  }

  // Over a whole triangle.
  void add(const std::array<Vec3, 3>& corners) {
    if (!addByFlood(corners))
      add(corners, triangleShape(corners[0].plan(), corners[1].plan(), corners[2].plan()), true);
  }
  // Over a part of one.
  void add(const std::array<Vec3, 3>& corners, const Convex& piece, bool whole = false) {
    const std::span<const Index> near = candidates_.over(piece);
    const Plane level = ground::planeOf(corners);
    Few few;
    for (const Index u : near) {
      const auto other = inner_.corners(u);
      if (!samePlan(corners, other)) continue;
      if (sameCorners(corners, other)) {
        few.untouched = area(piece);
      } else {
        addConvex(piece, level, ground::planeOf(other), few, sums_);
      }
      sums_.add(few);
      candidates_.beginFrom({&u, 1});
      return;
    }
    met_.clear();
    for (const Index u : near) {
      const auto other = inner_.corners(u);
      if (whole) {
        overlapOfTriangles(plansOf(corners), plansOf(other), both_);
      } else {
        both_ = overlapWith(inner_, u, piece);
      }
      if (both_.n < 3) continue;
      addConvex(both_, level, ground::planeOf(other), few, sums_);
      met_.push_back(u);
    }
    candidates_.beginFrom(met_);
    sums_.add(few);
  }

  const LevelSums& sums() const { return sums_; }

 private:
  // Whether what was come upon covers the triangle, so that nothing is missing.
  bool addByFlood(const std::array<Vec3, 3>& corners) {
    const auto plans = plansOf(corners);
    const double whole = plane::turn(plans[0], plans[1], plans[2]) / 2;
    plane::Box box;
    for (const Vec2 p : plans) box.add(p);
    const Plane level = ground::planeOf(corners);
    Few few;
    Index same = kNone;
    candidates_.flood(box, [&](Index u) {
      if (same != kNone) return true;
      const auto other = inner_.corners(u);
      if (samePlan(corners, other)) {
        same = u;
        return true;
      }
      overlapOfTriangles(plans, plansOf(other), both_);
      if (both_.n < 3) return false;
      addConvex(both_, level, ground::planeOf(other), few, sums_);
      return true;
    });
    if (same != kNone) {
      Few alone;
      addSamePlan(corners, inner_.corners(same), alone, sums_);
      sums_.add(alone);
    } else {
      if (!(std::abs(few.upArea + few.downArea + few.untouched - whole) <= kRounding * whole)) return false;
      sums_.add(few);
    }
    return true;
  }

  const Tin& inner_;
  Candidates& candidates_;
  LevelSums sums_;
  Convex both_;
  std::vector<Index> met_;
};

// By clipping pairs of triangles: each(begin, end, measuring) adds the outer ones of these numbers, of n.
template <class Each>
LevelSums sumByClipping(std::size_t n, const Tin& inner, const Progress& progress, Each&& each) {
  // Chunks small enough to share out a ground of a few large triangles.
  const std::size_t chunk = std::clamp<std::size_t>(n / 64, 1, 8192);
  inner.index();
  CandidatesPerThread overInner(std::cref(inner));
  LevelSums all;
  for (const LevelSums& part : parallelMap<LevelSums>(n, chunk, progress, [&](std::size_t begin, std::size_t end) {
         Measuring measuring(inner, overInner.local());
         each(begin, end, measuring);
         return measuring.sums();
       }))
    all.add(part);
  return all;
}

LevelSums sumByClipping(const Tin& outer, const Tin& inner, const Progress& progress) {
  return sumByClipping(outer.triangles().size(), inner, progress,
                       [&](std::size_t begin, std::size_t end, Measuring& measuring) {
                         for (std::size_t t = begin; t < end; ++t) measuring.add(outer.corners(static_cast<Index>(t)));
                       });
}

// Of some outer triangles, inside a limit.
LevelSums sumByClipping(const Tin& outer, std::span<const Index> triangles, const Tin& inner, Limit& limit,
                        const Progress& progress) {
  return sumByClipping(triangles.size(), inner, progress,
                       [&](std::size_t begin, std::size_t end, Measuring& measuring) {
                         Candidates& candidates = limit.candidates();
                         for (const Index t : triangles.subspan(begin, end - begin)) {
                           const auto corners = outer.corners(t);
                           limit.cut(candidates, shapeOf(outer, t), [&](const Convex& piece, bool whole) {
                             whole ? measuring.add(corners) : measuring.add(corners, piece);
                           });
                         }
                       });
}

// What is left of `whole` without `part`; areas below a billionth of the whole are rounding.
double rest(double whole, double part) {
  return whole - part > 1e-9 * whole ? whole - part : 0.0;
}

// What the sums say of two grounds, where both cover; uncovered areas are left at 0. `up` is where outer lies above
// inner: cut when outer is the earlier ground.
Volume volumeOf(const LevelSums& all, bool fromIsOuter) {
  Volume volume;
  volume.cut = (fromIsOuter ? all.up : all.down).value();
  volume.fill = (fromIsOuter ? all.down : all.up).value();
  volume.cutArea = (fromIsOuter ? all.upArea : all.downArea).value();
  volume.fillArea = (fromIsOuter ? all.downArea : all.upArea).value();
  const double touched = volume.cutArea + volume.fillArea;
  volume.untouchedArea = rest(touched + all.untouched.value(), touched);
  // Where grounds touch along a line alone there is a difference of level, but nothing to dig.
  const Deepest& cut = fromIsOuter ? all.highest : all.lowest;
  const Deepest& fill = fromIsOuter ? all.lowest : all.highest;
  if (cut.known && volume.cutArea > 0) volume.maxCut = cut.depth, volume.maxCutAt = cut.at;
  if (fill.known && volume.fillArea > 0) volume.maxFill = fill.depth, volume.maxFillAt = fill.at;
  return volume;
}

}  // namespace

struct Region::Prepared {
  Prepared(const std::vector<plane::Polygon>& region, const Progress& progress)
      : limit(region, progress), area(ground::statistics(limit.tin()).planArea) {}

  Limit limit;
  double area;
  std::map<const Tin*, double> covered;  // plan areas of grounds inside
};

Region::Region(const std::vector<plane::Polygon>& polygons, const Progress& progress)
    : prepared_(std::make_unique<Prepared>(polygons, progress)) {}
Region::Region(Region&&) noexcept = default;
Region::~Region() = default;

const plane::Box& Region::bounds() const {
  return prepared_->limit.tin().bounds();
}

double Region::coverOf(const ground::TinPtr& ground, const Progress& progress) {
  const auto [it, fresh] = prepared_->covered.try_emplace(ground.get());
  if (fresh) it->second = coveredArea(*ground, prepared_->limit.over(*ground, progress), prepared_->limit, progress);
  return it->second;
}

ComparedGrounds::ComparedGrounds(ground::TinPtr from, ground::TinPtr to, const Progress& progress)
    : from_(std::move(from)), to_(std::move(to)), fromIsOuter_(comesBefore(*from_, *to_)) {
  const Tin &outer = fromIsOuter_ ? *from_ : *to_, &inner = fromIsOuter_ ? *to_ : *from_;
  const std::vector<Index> same = sharedTriangles(outer, inner, progress);
  outerDiffers_.assign(same.size(), 1);
  std::vector<char> taken(inner.triangles().size(), 0);
  for (Index t = 0; t < same.size(); ++t) {
    if (same[t] != kNone && !taken[same[t]] && sameCorners(outer.corners(t), inner.corners(same[t])))
      taken[same[t]] = 1, outerDiffers_[t] = 0;
    if (outerDiffers_[t]) outer_.push_back(t);
  }
  for (Index t = 0; t < taken.size(); ++t) {
    if (!taken[t]) inner_.push_back(t);
  }
}

Volume ComparedGrounds::in(Region& region, const Progress& progress) const {
  Region::Prepared& prepared = *region.prepared_;
  const Tin &outer = fromIsOuter_ ? *from_ : *to_, &inner = fromIsOuter_ ? *to_ : *from_;
  const auto within = [&](const Tin& tin, const std::vector<Index>& triangles) {
    std::vector<Index> near;
    for (const Index t : triangles) {
      if (boxOf(shapeOf(tin, t)).overlaps(region.bounds())) near.push_back(t);
    }
    return near;
  };
  const bool most = outer_.size() > outer.triangles().size() / 4;
  std::vector<Index> differ = most ? prepared.limit.over(outer, progress) : within(outer, outer_);
  if (most) std::erase_if(differ, [&](Index t) { return !outerDiffers_[t]; });
  Volume volume = volumeOf(sumByClipping(outer, differ, inner, prepared.limit, progress), fromIsOuter_);
  const double both = volume.planArea();
  // What is covered by triangles that the grounds share, and by the others of each.
  const double ofOuter = coveredArea(outer, differ, prepared.limit, progress);
  const double shared = rest(region.coverOf(fromIsOuter_ ? from_ : to_, progress), ofOuter);
  const double allInner = most ? region.coverOf(fromIsOuter_ ? to_ : from_, progress)
                               : shared + coveredArea(inner, within(inner, inner_), prepared.limit, progress);
  volume.untouchedArea += shared;
  prepared.covered.try_emplace(&inner, allInner);
  const double onlyOuter = rest(ofOuter, both), onlyInner = rest(allInner, shared + both);
  volume.onlyFrom = fromIsOuter_ ? onlyOuter : onlyInner;
  volume.onlyTo = fromIsOuter_ ? onlyInner : onlyOuter;
  volume.outside = rest(prepared.area, volume.planArea() + volume.onlyFrom + volume.onlyTo);
  return volume;
}

Volume volumeBetween(const Tin& from, const Tin& to, const std::vector<plane::Polygon>& polygons,
                     const Progress& progress) {
  if (!polygons.empty()) {
    // Held by nobody else, for as long as this takes.
    const auto held = [](const Tin& tin) { return ground::TinPtr(ground::TinPtr(), &tin); };
    Region region(polygons, progress);
    return ComparedGrounds(held(from), held(to), progress).in(region, progress);
  }
  Volume volume;
  const double fromArea = coveredArea(from, progress);
  if (sameGround(from, to)) {
    volume.untouchedArea = fromArea;
    return volume;
  }
  const bool fromIsOuter = comesBefore(from, to);
  const Tin &outer = fromIsOuter ? from : to, &inner = fromIsOuter ? to : from;
  auto sums = sumOverEdges(outer, inner, progress);
  volume = volumeOf(sums ? *sums : sumByClipping(outer, inner, progress), fromIsOuter);
  const double both = volume.planArea();
  volume.onlyFrom = rest(fromArea, both);
  volume.onlyTo = rest(coveredArea(to, progress), both);
  return volume;
}

Volume volumeOfFacets(const Tin& under, const Tin& facets, const Progress& progress) {
  const bool underIsOuter = comesBefore(under, facets);
  Volume volume =
      volumeOf(sumByClipping(underIsOuter ? under : facets, underIsOuter ? facets : under, progress), underIsOuter);
  volume.onlyTo = rest(coveredArea(facets, progress), volume.planArea());
  return volume;
}

Volume volumeOfFacets(const Tin& under, const Tin& facets, Region& region, const Progress& progress) {
  if (!facets.bounds().overlaps(region.bounds())) return {};
  Limit& limit = region.prepared_->limit;
  const bool underIsOuter = comesBefore(under, facets);
  const Tin &outer = underIsOuter ? under : facets, &inner = underIsOuter ? facets : under;
  Volume volume = volumeOf(sumByClipping(outer, limit.over(outer, progress), inner, limit, progress), underIsOuter);
  volume.onlyTo = rest(coveredArea(facets, limit.over(facets, progress), limit, progress), volume.planArea());
  return volume;
}

}  // namespace inselberg::quantity
