// Method. Between whole grounds: a sum over the edges of their overlay (edge_sum.h). Inside a region, below facets
// whose cost must not follow the ground's, and where a ground is not sound: every pair of overlapping triangles is
// clipped to a convex polygon; over it the difference of levels is linear, so each of its fan triangles is split at the
// zero line and integrated in closed form: the mean of the three differences times the area. For each triangle of one
// ground (the outer) those of the other (the inner) are come upon from neighbour to neighbour, beginning at those found
// last; where they do not cover it (a border, a wall), they are looked for in the search grid. A triangle both grounds
// share needs no clipping: it is recognised by its three corners. The choice of the outer ground does not depend on
// which comes first, so exchanging them changes nothing but signs. A region is triangulated, and laid over the outer
// triangles first.
#include "quantity/volume.h"

#include <tbb/enumerable_thread_specific.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>

#include "base/parallel.h"
#include "ground/tin_index.h"
#include "ground/triangulate.h"
#include "plane/inside.h"
#include "quantity/edge_sum.h"
#include "quantity/level_sums.h"
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

// Adds the integral over one triangle with differences of level d at its corners.
void addTriangle(Vec2 a, Vec2 b, Vec2 c, double da, double db, double dc, Few& few) {
  const double whole = plane::turn(a, b, c) / 2;
  if (!(whole > 0)) return;
  const double v = whole * (da + db + dc) / 3;
  if (std::abs(da) < kNoDifference && std::abs(db) < kNoDifference && std::abs(dc) < kNoDifference) {
    few.untouched += whole;
    (v >= 0 ? few.up : few.down) += std::abs(v);
    return;
  }
  const bool ua = da > 0, ub = db > 0, uc = dc > 0;
  if (ua == ub && ub == uc) {
    (ua ? few.up : few.down) += std::abs(v);
    (ua ? few.upArea : few.downArea) += whole;
    return;
  }
  // One corner (x) on its own side of zero: the small triangle at x holds the fraction s*t of the area.
  double dx = da, dy = db, dz = dc;
  if (ub != ua && ub != uc) dx = db, dy = dc, dz = da;
  if (uc != ua && uc != ub) dx = dc, dy = da, dz = db;
  const double s = dx / (dx - dy), t = dx / (dx - dz);
  const double small = whole * s * t, smallVolume = small * dx / 3;
  const bool smallUp = dx > 0;
  (smallUp ? few.up : few.down) += std::abs(smallVolume);
  (smallUp ? few.upArea : few.downArea) += small;
  (smallUp ? few.down : few.up) += std::abs(v - smallVolume);
  (smallUp ? few.downArea : few.upArea) += whole - small;
}

// One difference of level over a convex polygon.
void addConvex(const Convex& shape, const Plane& outer, const Plane& inner, Few& few, LevelSums& sums) {
  std::array<double, Convex::kMost> d;
  double low = std::numeric_limits<double>::infinity(), high = -low;
  for (int i = 0; i < shape.n; ++i) {
    d[i] = outer(shape.p[i]) - inner(shape.p[i]);
    low = std::min(low, d[i]), high = std::max(high, d[i]);
  }
  if (high >= kNoDifference && high >= sums.highest.depth) {
    for (int i = 0; i < shape.n; ++i) sums.highest.take(d[i], shape.p[i]);
  }
  if (-low >= kNoDifference && -low >= sums.lowest.depth) {
    for (int i = 0; i < shape.n; ++i) sums.lowest.take(-d[i], shape.p[i]);
  }
  if (low < kNoDifference && high > -kNoDifference) {
    for (int i = 2; i < shape.n; ++i) addTriangle(shape.p[0], shape.p[i - 1], shape.p[i], d[0], d[i - 1], d[i], few);
    return;
  }
  // All on one side of zero, as most are.
  double twice = 0, six = 0;
  for (int i = 2; i < shape.n; ++i) {
    const double whole = std::max(0.0, plane::turn(shape.p[0], shape.p[i - 1], shape.p[i]));
    twice += whole;
    six += whole * (d[0] + d[i - 1] + d[i]);
  }
  (low > 0 ? few.up : few.down) += std::abs(six) / 6;
  (low > 0 ? few.upArea : few.downArea) += twice / 2;
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

// The plan area of the ground, inside the region when there is one.
double coveredArea(const Tin& tin, const Tin* region, CandidatesPerThread* overRegion, const Progress& progress) {
  Sum total;
  const auto parts = parallelMap<Sum>(tin.triangles().size(), 4096, progress, [&](std::size_t begin, std::size_t end) {
    Sum sum;
    for (Index t = static_cast<Index>(begin); t < end; ++t) {
      const Convex shape = shapeOf(tin, t);
      if (!region) {
        sum.add(area(shape));
        continue;
      }
      for (const Index r : overRegion->local().over(shape)) sum.add(area(overlapWith(*region, r, shape)));
    }
    return sum;
  });
  for (const Sum& s : parts) total.add(s);
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
    for (const Index u : near) {
      if (!sameCorners(corners, inner_.corners(u))) continue;
      sums_.untouched.add(area(piece));
      candidates_.beginFrom({&u, 1});
      return;
    }
    const Plane level = ground::planeOf(corners);
    Few few;
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
    bool same = false;
    candidates_.flood(box, [&](Index u) {
      const auto other = inner_.corners(u);
      same = same || sameCorners(corners, other);
      if (same) return true;
      overlapOfTriangles(plans, plansOf(other), both_);
      if (both_.n < 3) return false;
      addConvex(both_, level, ground::planeOf(other), few, sums_);
      return true;
    });
    if (same) {
      sums_.untouched.add(whole);
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

// By clipping pairs of triangles, inside the limit when there is one.
LevelSums sumByClipping(const Tin& outer, const Tin& inner, const Tin* limit, CandidatesPerThread* overLimit,
                        const Progress& progress) {
  // Chunks small enough to share out a ground of a few large triangles.
  const std::size_t n = outer.triangles().size();
  const std::size_t chunk = std::clamp<std::size_t>(n / 64, 1, 8192);
  inner.index();
  CandidatesPerThread overInner(std::cref(inner));
  const auto parts = parallelMap<LevelSums>(n, chunk, progress, [&](std::size_t begin, std::size_t end) {
    Measuring measuring(inner, overInner.local());
    for (std::size_t i = begin; i < end; ++i) {
      const Index t = static_cast<Index>(i);
      if (!limit) {
        measuring.add(outer.corners(t));
        continue;
      }
      const Convex shape = shapeOf(outer, t);
      for (const Index r : overLimit->local().over(shape)) {
        const Convex piece = overlapWith(*limit, r, shape);
        if (piece.n >= 3) measuring.add(outer.corners(t), piece);
      }
    }
    return measuring.sums();
  });

  LevelSums all;
  for (const LevelSums& part : parts) all.add(part);
  return all;
}

// What is left of `whole` without `part`; areas below a billionth of the whole are rounding.
double rest(double whole, double part) {
  return whole - part > 1e-9 * whole ? whole - part : 0.0;
}

enum class Way { edges, clipping };

// What lies between the grounds where both cover (inside the limit, when there is one); uncovered areas are left at 0.
Volume measure(const Tin& from, const Tin& to, Way way, const Tin* limit, CandidatesPerThread* overLimit,
               const Progress& progress) {
  const bool fromIsOuter = comesBefore(from, to);
  const Tin& outer = fromIsOuter ? from : to;
  const Tin& inner = fromIsOuter ? to : from;

  const LevelSums all = [&] {
    if (way == Way::edges) {
      if (auto sums = sumOverEdges(outer, inner, progress)) return *sums;
    }
    return sumByClipping(outer, inner, limit, overLimit, progress);
  }();
  // `up` is where outer lies above inner: cut when outer is the earlier ground.
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

Volume volumeBetween(const Tin& from, const Tin& to, const std::vector<plane::Polygon>& region,
                     const Progress& progress) {
  const ground::TinPtr limit = region.empty() ? nullptr : regionTin(region, progress);
  std::optional<CandidatesPerThread> overLimit;
  if (limit) overLimit.emplace(std::cref(*limit));
  CandidatesPerThread* const regions = overLimit ? &*overLimit : nullptr;
  const double fromArea = coveredArea(from, limit.get(), regions, progress);
  Volume volume;
  if (sameGround(from, to)) {
    volume.untouchedArea = fromArea;
  } else {
    volume = measure(from, to, limit ? Way::clipping : Way::edges, limit.get(), regions, progress);
    const double both = volume.planArea();
    volume.onlyFrom = rest(fromArea, both);
    volume.onlyTo = rest(coveredArea(to, limit.get(), regions, progress), both);
  }
  if (limit) {
    const double known = volume.planArea() + volume.onlyFrom + volume.onlyTo;
    volume.outside = rest(ground::statistics(*limit).planArea, known);
  }
  return volume;
}

Volume volumeOfFacets(const Tin& under, const Tin& facets, const Progress& progress) {
  return volumeOfFacets(under, facets, {}, progress);
}

Volume volumeOfFacets(const Tin& under, const Tin& facets, const std::vector<plane::Polygon>& region,
                      const Progress& progress) {
  const ground::TinPtr limit = region.empty() ? nullptr : regionTin(region, progress);
  std::optional<CandidatesPerThread> overLimit;
  if (limit) overLimit.emplace(std::cref(*limit));
  CandidatesPerThread* const regions = overLimit ? &*overLimit : nullptr;
  Volume volume = measure(under, facets, Way::clipping, limit.get(), regions, progress);
  volume.onlyTo = rest(coveredArea(facets, limit.get(), regions, progress), volume.planArea());
  return volume;
}

}  // namespace inselberg::quantity
