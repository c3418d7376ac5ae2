// Method. Between whole grounds: a sum over the edges of their overlay (edge_sum.h). Inside a region, below facets
// whose cost must not follow the ground's, and where a ground is not sound: every pair of overlapping triangles is
// clipped to a convex polygon; over it the difference of levels is linear, so each of its fan triangles is split at the
// zero line and integrated in closed form: the mean of the three differences times the area. For each triangle of one
// ground (the outer) those of the other (the inner) are come upon from neighbour to neighbour, beginning at those found
// last; where they do not cover it (a border, a wall), the rest are looked for in the search grid. A triangle that both
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
#include <utility>

#include "base/parallel.h"
#include "ground/recut.h"
#include "ground/tin_index.h"
#include "ground/triangulate.h"
#include "plane/inside.h"
#include "quantity/candidates.h"
#include "quantity/cell.h"
#include "quantity/edge_sum.h"
#include "quantity/overlap.h"

namespace inselberg::quantity {
namespace {

using ground::Index;
using ground::kNone;
using ground::Plane;
using ground::Tin;
using ground::TinPtr;
using ground::Triangle;
using plane::Vec3;

constexpr double kRounding = 1e-9;  // of an area

// One difference of level over a convex polygon.
void addConvex(const Convex& shape, const Plane& outer, const Plane& inner, Few& few, LevelSums& sums) {
  std::array<double, Convex::kMost> d;
  for (int i = 0; i < shape.n; ++i) d[i] = outer(shape.p[i]) - inner(shape.p[i]);
  addCell(shape.p.data(), d.data(), shape.n, few, sums);
}

using CandidatesPerThread = tbb::enumerable_thread_specific<Candidates>;

Convex shapeOf(const Tin& tin, Index t) {
  const Triangle& c = tin.triangles()[t];
  return triangleShape(tin.plan(c[0]), tin.plan(c[1]), tin.plan(c[2]));
}

Convex overlapWith(const Tin& tin, Index t, const Convex& shape) {
  const Triangle& c = tin.triangles()[t];
  return overlap(shape, tin.plan(c[0]), tin.plan(c[1]), tin.plan(c[2]));
}

bool sameGround(const Tin& a, const Tin& b) {
  return std::ranges::equal(a.points(), b.points()) && std::ranges::equal(a.triangles(), b.triangles());
}

// A ground that somebody else keeps for as long as this is used.
TinPtr heldElsewhere(const Tin& tin) {
  return {TinPtr(), &tin};
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

// A triangle of a ground that lies in a region, wholly or in part.
struct Held {
  Index triangle;
  bool whole;
};

// A region as a flat ground, and what of a ground lies over it.
class Limit {
 public:
  Limit(const std::vector<plane::Polygon>& region, const Progress& progress)
      : tin_(regionTin(region, progress)), border_(ground::borderOf(*tin_)), candidates_(std::cref(*tin_)) {
    tin_->index();
  }

  const Tin& tin() const { return *tin_; }
  // Those of some triangles of a ground that lie in it; near its border they count as in part. Grounds have to stay.
  std::vector<Held> of(const Tin& ground, std::span<const Index> triangles, const Progress& progress) {
    auto border = atBorder_.find(&ground);
    if (border == atBorder_.end())
      border = atBorder_.emplace(&ground, ground::touchedBy(ground, border_, progress)).first;
    enum State : char { passedOver, open, inPart, inside, outside };
    std::vector<State> state(ground.triangles().size(), passedOver);
    for (const Index t : triangles) state[t] = border->second[t] ? inPart : open;
    std::vector<Index> reached;
    for (const Index start : triangles) {
      if (state[start] != open) continue;
      const State answer = tin_->locate(ground::centroid(ground, start)) != kNone ? inside : outside;
      state[start] = answer, reached = {start};
      while (!reached.empty()) {
        const Index t = reached.back();
        reached.pop_back();
        for (const Index other : ground.neighbours()[t]) {
          if (other == kNone || state[other] != open) continue;
          state[other] = answer, reached.push_back(other);
        }
      }
    }
    std::vector<Held> held;
    for (const Index t : triangles) {
      if (state[t] != outside) held.push_back({t, state[t] == inside});
    }
    return held;
  }
  std::vector<Held> of(const Tin& ground, const Progress& progress) {
    return of(ground, ground::trianglesNear(ground, *tin_, 0, progress), progress);
  }
  void forgetOthers(const std::set<const Tin*>& kept) {
    std::erase_if(atBorder_, [&](const auto& item) { return !kept.contains(item.first); });
  }
  // One per thread.
  Candidates& candidates() { return candidates_.local(); }
  // Calls f(piece) for the parts of a triangle's plan that lie in it.
  template <class F>
  void cut(Candidates& candidates, const Convex& shape, F&& f) const {
    for (const Index r : candidates.over(shape)) {
      const Convex piece = overlapWith(*tin_, r, shape);
      if (piece.n >= 3) f(piece);
    }
  }

 private:
  ground::TinPtr tin_;
  std::vector<ground::Line2> border_;
  std::map<const Tin*, std::vector<char>> atBorder_;  // by triangle of a ground
  CandidatesPerThread candidates_;
};

// Of value(i) for n of them.
template <class Value>
double sumOf(std::size_t n, const Progress& progress, Value&& value) {
  Sum total;
  for (const Sum& s : parallelMap<Sum>(n, 4096, progress, [&](std::size_t begin, std::size_t end) {
         Sum sum;
         for (std::size_t i = begin; i < end; ++i) sum.add(value(i));
         return sum;
       }))
    total.add(s);
  return total.value();
}

// The plan area of a ground.
double coveredArea(const Tin& tin, const Progress& progress) {
  return sumOf(tin.triangles().size(), progress,
               [&](std::size_t t) { return area(shapeOf(tin, static_cast<Index>(t))); });
}

// That of some of its triangles, inside a limit.
double coveredArea(const Tin& tin, std::span<const Held> triangles, Limit& limit, const Progress& progress) {
  Sum total;
  for (const Sum& s : parallelMap<Sum>(triangles.size(), 4096, progress, [&](std::size_t begin, std::size_t end) {
         Sum sum;
         Candidates& candidates = limit.candidates();
         for (const Held& held : triangles.subspan(begin, end - begin)) {
           const Convex shape = shapeOf(tin, held.triangle);
           const auto add = [&](const Convex& piece) { sum.add(area(piece)); };
           held.whole ? add(shape) : limit.cut(candidates, shape, add);
         }
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
    candidates_.beginAnew();
  }

  // Over a whole triangle.
  void add(const std::array<Vec3, 3>& corners) {
    add(corners, triangleShape(corners[0].plan(), corners[1].plan(), corners[2].plan()), true);
  }
  // Over a part of one.
  void add(const std::array<Vec3, 3>& corners, const Convex& piece) { add(corners, piece, false); }

  // The sums since they were taken last.
  LevelSums take() { return std::exchange(sums_, {}); }

 private:
  void add(const std::array<Vec3, 3>& corners, const Convex& piece, bool isWhole) {
    const auto plans = plansOf(corners);
    const Plane level = ground::planeOf(corners);
    const double size = area(piece);
    Few few;
    Index same = kNone;
    const auto take = [&](Index u) {
      if (same != kNone) return true;
      const auto other = inner_.corners(u);
      if (samePlan(corners, other)) {
        same = u;
        return true;
      }
      if (isWhole) {
        overlapOfTriangles(plans, plansOf(other), both_);
      } else {
        both_ = overlapWith(inner_, u, piece);
      }
      if (both_.n < 3) return false;
      addConvex(both_, level, ground::planeOf(other), few, sums_);
      return true;
    };
    candidates_.flood(boxOf(piece), (1.0 / 3) * (piece.p[0] + piece.p[1] + piece.p[2]), take);
    const double covered = few.upArea + few.downArea + few.untouched;
    if (same == kNone && !(std::abs(covered - size) <= kRounding * size)) candidates_.rest(piece, take);
    if (same != kNone) {
      few = {};
      const auto other = inner_.corners(same);
      if (sameCorners(corners, other)) {
        few.untouched = size;
      } else if (isWhole) {
        addSamePlan(corners, other, few, sums_);
      } else {
        addConvex(piece, level, ground::planeOf(other), few, sums_);
      }
    }
    sums_.add(few);
  }

  const Tin& inner_;
  Candidates& candidates_;
  LevelSums sums_;
  Convex both_;
};

// Chunks small enough to share out a ground of a few large triangles.
std::size_t chunkOf(std::size_t triangles) {
  return std::clamp<std::size_t>(triangles / 64, 1, 8192);
}

// By clipping pairs of triangles: each(begin, end, measuring) adds the outer ones of these numbers, of n.
template <class Each>
LevelSums sumByClipping(std::size_t n, const Tin& inner, const Progress& progress, Each&& each) {
  const std::size_t chunk = chunkOf(n);
  inner.index();
  CandidatesPerThread overInner(std::cref(inner));
  LevelSums all;
  for (const LevelSums& part : parallelMap<LevelSums>(n, chunk, progress, [&](std::size_t begin, std::size_t end) {
         Measuring measuring(inner, overInner.local());
         each(begin, end, measuring);
         return measuring.take();
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
LevelSums sumByClipping(const Tin& outer, std::span<const Held> triangles, const Tin& inner, Limit& limit,
                        const Progress& progress) {
  return sumByClipping(triangles.size(), inner, progress,
                       [&](std::size_t begin, std::size_t end, Measuring& measuring) {
                         Candidates& candidates = limit.candidates();
                         for (const Held& held : triangles.subspan(begin, end - begin)) {
                           const auto corners = outer.corners(held.triangle);
                           if (held.whole) {
                             measuring.add(corners);
                           } else {
                             limit.cut(candidates, shapeOf(outer, held.triangle),
                                       [&](const Convex& piece) { measuring.add(corners, piece); });
                           }
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
  auto& covered = prepared_->covered;
  auto it = covered.find(ground.get());
  if (it == covered.end())
    it = covered
             .emplace(ground.get(),
                      coveredArea(*ground, prepared_->limit.of(*ground, progress), prepared_->limit, progress))
             .first;
  return it->second;
}

void Region::forgetOthers(const std::set<const Tin*>& kept) {
  prepared_->limit.forgetOthers(kept);
  std::erase_if(prepared_->covered, [&](const auto& item) { return !kept.contains(item.first); });
}

Comparison::Comparison(ground::TinPtr from, ground::TinPtr to, Of of, const Progress& progress)
    : from_(std::move(from)), to_(std::move(to)), of_(of), fromIsOuter_(comesBefore(*from_, *to_)) {
  const std::size_t n = outer().triangles().size();
  const std::vector<Index> same = sharedTriangles(outer(), inner(), progress);
  numberOf_.assign(n, kNone);
  std::vector<char> matched(inner().triangles().size(), 0);
  std::vector<Index> levelled;
  for (Index t = 0; t < n; ++t) {
    if (same[t] == kNone || std::exchange(matched[same[t]], 1)) {
      outer_.push_back(t);
    } else if (of_ == Of::facets || !sameCorners(outer().corners(t), inner().corners(same[t]))) {
      levelled.push_back(t), partners_.push_back(same[t]);
    }
  }
  outer_.insert(outer_.end(), levelled.begin(), levelled.end());
  for (Index i = 0; i < outer_.size(); ++i) numberOf_[outer_[i]] = i;
  if (of_ == Of::facets && !fromIsOuter_) return;  // nobody asks for the ground beyond the facets
  for (Index t = 0; t < matched.size(); ++t) {
    if (!matched[t]) inner_.push_back(t);
  }
}

// Adds what lies over an outer triangle that has a partner.
void Comparison::addLevelled(Index number, LevelSums& sums) const {
  Few few;
  addSamePlan(outer().corners(outer_[number]), inner().corners(partners_[number - alone()]), few, sums);
  sums.add(few);
}

void Comparison::measure(const Progress& progress) {
  constexpr std::size_t kMost = 250'000;
  if (measured_ || alone() > kMost) return;
  auto measured = std::make_shared<std::vector<LevelSums>>(alone());
  sumByClipping(alone(), inner(), progress, [&](std::size_t begin, std::size_t end, Measuring& measuring) {
    for (std::size_t i = begin; i < end; ++i) {
      measuring.add(outer().corners(outer_[i]));
      (*measured)[i] = measuring.take();
    }
  });
  measured_ = std::move(measured);
}

Volume Comparison::everywhere(const Progress& progress) const {
  if (!measured_ && of_ == Of::facets) return volumeOfFacets(*from_, *to_, progress);
  if (!measured_) return volumeBetween(*from_, *to_, {}, progress);
  LevelSums all;
  for (const LevelSums& sums : *measured_) all.add(sums);
  for (const LevelSums& part :
       parallelMap<LevelSums>(partners_.size(), 4096, progress, [&](std::size_t begin, std::size_t end) {
         LevelSums sums;
         for (std::size_t i = begin; i < end; ++i) addLevelled(static_cast<Index>(alone() + i), sums);
         return sums;
       }))
    all.add(part);
  const double shared = sumOf(numberOf_.size(), progress, [&](std::size_t t) {
    return numberOf_[t] == kNone ? area(shapeOf(outer(), static_cast<Index>(t))) : 0.0;
  });
  all.untouched.add(shared);
  Volume volume = volumeOf(all, fromIsOuter_);
  const auto covered = [&](const Tin& tin, std::span<const Index> own) {
    return sumOf(own.size(), progress, [&](std::size_t i) { return area(shapeOf(tin, own[i])); });
  };
  const std::span<const Index> own(outer_);
  const double matched = shared + covered(outer(), own.subspan(alone()));
  const double ofOuter = matched + covered(outer(), own.first(alone())), ofInner = matched + covered(inner(), inner_);
  if (of_ == Of::grounds) volume.onlyFrom = rest(fromIsOuter_ ? ofOuter : ofInner, volume.planArea());
  volume.onlyTo = rest(fromIsOuter_ ? ofInner : ofOuter, volume.planArea());
  return volume;
}

Volume Comparison::in(Region& region, const Progress& progress) const {
  if (of_ == Of::facets && !to_->bounds().overlaps(region.bounds())) return {};
  Region::Prepared& prepared = *region.prepared_;
  const auto within = [&](const Tin& tin, std::vector<Index> triangles) {
    std::erase_if(triangles, [&](Index t) { return !boxOf(shapeOf(tin, t)).overlaps(region.bounds()); });
    return prepared.limit.of(tin, triangles, progress);
  };
  const bool most = outer_.size() > outer().triangles().size() / 4;
  std::vector<Held> differ = most ? prepared.limit.of(outer(), progress) : within(outer(), outer_);
  if (most) std::erase_if(differ, [&](const Held& held) { return numberOf_[held.triangle] == kNone; });
  LevelSums sums;
  std::vector<Held> toClip;
  for (const Held& held : differ) {
    const Index number = numberOf_[held.triangle];
    if (held.whole && number >= alone()) {
      addLevelled(number, sums);
    } else if (held.whole && measured_) {
      sums.add((*measured_)[number]);
    } else {
      toClip.push_back(held);
    }
  }
  sums.add(sumByClipping(outer(), toClip, inner(), prepared.limit, progress));
  Volume volume = volumeOf(sums, fromIsOuter_);
  const double both = volume.planArea();
  if (of_ == Of::facets) {
    volume.onlyTo = rest(region.coverOf(to_, progress), both);
    return volume;
  }
  // What is covered: by triangles that are the same, by others that the two have in plan, and by those of each alone.
  // What one of the grounds covers is asked for, the other is known by it.
  const auto unmatched = std::partition(differ.begin(), differ.end(),
                                        [&](const Held& held) { return numberOf_[held.triangle] >= alone(); });
  const auto covered = [&](std::span<const Held> held) { return coveredArea(outer(), held, prepared.limit, progress); };
  const double levelled = covered({differ.begin(), unmatched}), outerAlone = covered({unmatched, differ.end()});
  const double innerAlone = coveredArea(inner(), within(inner(), inner_), prepared.limit, progress);
  const TinPtr &outerGround = fromIsOuter_ ? from_ : to_, &innerGround = fromIsOuter_ ? to_ : from_;
  if (const auto inner = prepared.covered.find(innerGround.get()); inner != prepared.covered.end())
    prepared.covered.try_emplace(outerGround.get(), rest(inner->second, innerAlone) + outerAlone);
  const double allOuter = region.coverOf(outerGround, progress);
  prepared.covered.try_emplace(innerGround.get(), rest(allOuter, outerAlone) + innerAlone);
  const double ofOuter = levelled + outerAlone, shared = rest(allOuter, ofOuter);
  volume.untouchedArea += shared;
  const double onlyOuter = rest(ofOuter, both), onlyInner = rest(levelled + innerAlone, both);
  volume.onlyFrom = fromIsOuter_ ? onlyOuter : onlyInner;
  volume.onlyTo = fromIsOuter_ ? onlyInner : onlyOuter;
  volume.outside = rest(prepared.area, volume.planArea() + volume.onlyFrom + volume.onlyTo);
  return volume;
}

Volume volumeBetween(const Tin& from, const Tin& to, const std::vector<plane::Polygon>& polygons,
                     const Progress& progress) {
  if (!polygons.empty()) {
    Region region(polygons, progress);
    return Comparison(heldElsewhere(from), heldElsewhere(to), Comparison::Of::grounds, progress).in(region, progress);
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
  return FacetVolumes().of(heldElsewhere(under), heldElsewhere(facets), progress);
}

// What one ground has to say of facets, and what it said of the last ones.
struct FacetVolumes::Known {
  explicit Known(TinPtr ground) : under(std::move(ground)), candidates(std::cref(*under)) { under->index(); }

  TinPtr under, facets;
  std::vector<LevelSums> sums;  // by facet
  CandidatesPerThread candidates;
};

FacetVolumes::FacetVolumes() = default;
FacetVolumes::~FacetVolumes() = default;

Volume FacetVolumes::of(const TinPtr& under, const TinPtr& facets, const Progress& progress) {
  if (!known_ || known_->under != under) known_ = std::make_unique<Known>(under);
  const std::size_t n = facets->triangles().size();
  std::vector<Index> same(n, kNone);
  if (known_->facets) same = sharedTriangles(*facets, *known_->facets, progress);
  std::vector<LevelSums> sums(n);
  const std::size_t chunk = chunkOf(n);
  parallelChunks(n, chunk, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    Measuring measuring(*under, known_->candidates.local());
    for (Index t = static_cast<Index>(begin); t < end; ++t) {
      const auto corners = facets->corners(t);
      if (same[t] != kNone && known_->facets->corners(same[t]) == corners) {
        sums[t] = known_->sums[same[t]];
      } else {
        measuring.add(corners);
        sums[t] = measuring.take();
      }
    }
  });
  known_->facets = facets, known_->sums = std::move(sums);
  LevelSums all;
  for (const LevelSums& one : known_->sums) all.add(one);
  Volume volume = volumeOf(all, false);
  volume.onlyTo = rest(coveredArea(*facets, progress), volume.planArea());
  return volume;
}

}  // namespace inselberg::quantity
