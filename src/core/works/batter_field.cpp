// Method. Each crest edge gives one planar facet over the strip at right angles to it, each convex corner a fan of
// facets (round) or the strips' common mitre (square). Seen from its foot, a facet ends along each of its rays where
// another facet comes to lie above it: its far border is the lower envelope of the near borders of all such places,
// each a convex polygon (facet domain, other domain, half-plane where the other is higher). That makes every facet's
// cell; the cells tile the outside of the crest. Their borders are noded and triangulated together.
//
// Which others can matter is bounded: a facet's height at p is at most its foot's highest less distance/run.
#include "works/batter_field.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "ground/triangulate.h"
#include "plane/linework.h"
#include "quantity/overlap.h"

namespace inselberg::works {
namespace {

using plane::cross;
using plane::dot;
using quantity::Convex;

constexpr double kSnap = 1e-6;
constexpr double kSharpestMitre = 10;  // a mitre longer than this many offsets is made round instead

Vec2 rightOf(Vec2 u) {
  return {u.y, -u.x};
}

// Keeps the part where the linear function through the values is positive.
void clipPositive(Convex& shape, const ground::Plane& higher, const ground::Plane& lower) {
  std::array<double, Convex::kMost> d;
  for (int i = 0; i < shape.n; ++i) d[i] = higher(shape.p[i]) - lower(shape.p[i]);
  Convex out;
  for (int i = 0, j = shape.n - 1; i < shape.n; j = i++) {
    if ((d[i] > 0) != (d[j] > 0)) out.add(shape.p[j] + (d[j] / (d[j] - d[i])) * (shape.p[i] - shape.p[j]));
    if (d[i] > 0) out.add(shape.p[i]);
  }
  shape = out;
}

}  // namespace

double BatterField::Facet::along(Vec2 p) const {
  const double t = depth(p);
  const Vec2 from = a + t * ua, across = (b + t * ub) - from;
  const double length2 = dot(across, across);
  return length2 > 0 ? std::clamp(dot(p - from, across) / length2, 0.0, 1.0) : 0.5;
}

BatterField::BatterField(const FieldRequest& request, const Progress& progress)
    : run_(request.slope.run()), reach_(request.reach) {
  makeFacets(request);
  trimAll(progress);
  makeTin(progress);
}

void BatterField::makeFacets(const FieldRequest& request) {
  const auto& crest = request.crest;
  const std::size_t n = crest.size();
  struct EdgeShape {
    Vec2 along, out;
    double length;
    ground::Plane plane;
  };
  std::vector<EdgeShape> edges(n);
  for (std::size_t i = 0; i < n; ++i) {
    const Vec3 &a = crest[i], &b = crest[(i + 1) % n];
    EdgeShape& e = edges[i];
    e.length = plane::distance(a.plan(), b.plan());
    e.along = (1 / e.length) * (b.plan() - a.plan());
    e.out = rightOf(e.along);
    e.plane = {a.plan(), a.z, ((b.z - a.z) / e.length) * e.along - (1 / run_) * e.out};
  }
  // What happens at each corner: the rays of the two edges that meet there, and whether a fan lies between them.
  struct CornerShape {
    Vec2 before, after;
    bool fan = false;
    double angle = 0;
  };
  std::vector<CornerShape> corners(n);
  for (std::size_t i = 0; i < n; ++i) {
    const EdgeShape &in = edges[(i + n - 1) % n], &out = edges[i];
    CornerShape& c = corners[i];
    c.before = in.out;
    c.after = out.out;
    c.angle = std::atan2(cross(in.along, out.along), dot(in.along, out.along));
    // The line in which the two planes meet, scaled to depth 1 from either edge.
    const Vec2 change = in.plane.gradient - out.plane.gradient;
    Vec2 mitre = rightOf(change);
    if (dot(mitre, in.out + out.out) < 0) mitre = -1 * mitre;
    const double depthIn = dot(mitre, in.out), depthOut = dot(mitre, out.out);
    const bool meet = depthIn > 0 && depthOut > 0 && plane::norm(mitre) < kSharpestMitre * std::min(depthIn, depthOut);
    const auto endAtMitre = [&] { c.before = (1 / depthIn) * mitre, c.after = (1 / depthOut) * mitre; };
    if (c.angle < 1e-9) {
      // At straight corners a common ray leaves no gap. At inward ones the planes overlap, and the higher governs, up
      // to where they meet; on a sloping crest that may be beyond what lies square to either edge.
      if (c.angle > -1e-9)
        c.before = c.after = plane::unit(in.out + out.out);
      else if (meet && (cross(in.out, mitre) > 0 || cross(mitre, out.out) > 0))
        endAtMitre();
      continue;
    }
    if (request.corners == CornerStyle::square && meet) {
      endAtMitre();
      continue;
    }
    c.fan = true;
  }
  for (std::size_t i = 0; i < n; ++i) {
    const Vec3 &at = crest[i], &end = crest[(i + 1) % n];
    const CornerShape& c = corners[i];
    if (c.fan) {
      const double radius = std::max(request.cornerRadius.empty() ? reach_ : request.cornerRadius[i], 1e-3);
      const double step = 2 * std::acos(std::max(0.0, 1 - request.chordError / radius));
      const int parts = std::clamp(static_cast<int>(std::ceil(c.angle / step)), 1, 2000);
      const std::size_t first = facets_.size();
      Vec2 ua = c.before;
      for (int k = 1; k <= parts; ++k) {
        const double turn = c.angle * k / parts;
        const Vec2 ub = k == parts ? c.after
                                   : Vec2{std::cos(turn) * c.before.x - std::sin(turn) * c.before.y,
                                          std::sin(turn) * c.before.x + std::cos(turn) * c.before.y};
        Facet f;
        f.a = f.b = at.plan();
        f.ua = ua, f.ub = ub;
        f.out = (1 / (1 + dot(ua, ub))) * (ua + ub);
        f.plane = {f.a, at.z, (-1 / run_) * f.out};
        f.site = static_cast<int>(sites_.size());
        f.corner = static_cast<int>(i);
        facets_.push_back(std::move(f));
        ua = ub;
      }
      sites_.push_back({at.plan(), at.plan(), at.z, first, facets_.size()});
    }
    Facet f;
    f.a = at.plan(), f.b = end.plan();
    f.ua = c.after, f.ub = corners[(i + 1) % n].before;
    f.out = edges[i].out;
    f.plane = edges[i].plane;
    f.site = static_cast<int>(sites_.size());
    facets_.push_back(std::move(f));
    sites_.push_back({at.plan(), end.plan(), std::max(at.z, end.z), facets_.size() - 1, facets_.size()});
  }
  for (Facet& f : facets_) f.chain = {{0, f.a + reach_ * f.ua}, {1, f.b + reach_ * f.ub}};
}

// Ends `facet` where `other` lies above it.
void BatterField::trim(Facet& facet, const Facet& other) const {
  const auto domain = [&](const Facet& f) {
    Convex shape;
    shape.add(f.a);
    shape.add(f.a + reach_ * f.ua);
    shape.add(f.b + reach_ * f.ub);
    if (!(f.a == f.b)) shape.add(f.b);
    return shape;
  };
  const Convex theirs = domain(other);
  // Quick answers: theirs lies behind the foot or beyond one of the rays.
  const auto allRight = [&](Vec2 a, Vec2 direction) {
    for (int i = 0; i < theirs.n; ++i) {
      if (cross(direction, theirs.p[i] - a) > 1e-9) return false;
    }
    return true;
  };
  if (allRight(facet.a, facet.ua) || allRight(facet.b, -1 * facet.ub)) return;
  if (!(facet.a == facet.b) && allRight(facet.b, facet.a - facet.b)) return;
  Convex above = domain(facet);
  for (int i = 0; i < theirs.n && above.n >= 3; ++i)
    quantity::clipLeft(above, theirs.p[i], theirs.p[(i + 1) % theirs.n]);
  if (above.n >= 3) clipPositive(above, other.plane, facet.plane);
  if (above.n < 3 || quantity::area(above) < 1e-9) return;

  // The near border of `above`: of its two ways from the first ray that meets it to the last, the one nearer the foot.
  std::array<double, Convex::kMost> s;
  int low = 0, high = 0;
  for (int i = 0; i < above.n; ++i) {
    s[i] = facet.along(above.p[i]);
    if (s[i] < s[low] || (s[i] == s[low] && facet.depth(above.p[i]) < facet.depth(above.p[low]))) low = i;
    if (s[i] > s[high] || (s[i] == s[high] && facet.depth(above.p[i]) < facet.depth(above.p[high]))) high = i;
  }
  if (s[high] - s[low] < 1e-12) return;
  const auto onRay = [&](double at, Vec2 p, Vec2 q) {
    const Vec2 foot = facet.foot(at), ray = facet.ray(at), d = q - p;
    const double across = cross(ray, d);
    if (std::abs(across) < 1e-14 * plane::norm(d)) return facet.depth(p) < facet.depth(q) ? p : q;
    return foot + (cross(p - foot, d) / across) * ray;
  };
  using Chain = std::vector<Facet::ChainPoint>;
  const auto way = [&](int step) {
    Chain chain;
    for (int i = low;; i = (i + step + above.n) % above.n) {
      chain.push_back({chain.empty() ? s[i] : std::max(s[i], chain.back().s), above.p[i]});
      if (i == high) break;
    }
    return chain;
  };
  const auto at = [&](const Chain& chain, double x, bool fromRight) {
    std::size_t k = 0;
    while (k + 2 < chain.size() && (fromRight ? chain[k + 1].s <= x : chain[k + 1].s < x)) ++k;
    return std::pair(k, onRay(x, chain[k].p, chain[k + 1].p));
  };
  const double middle = (s[low] + s[high]) / 2;
  Chain near = way(1), far = way(-1);
  if (facet.depth(at(near, middle, true).second) > facet.depth(at(far, middle, true).second)) std::swap(near, far);

  std::vector<double> stops;
  for (const auto& c : facet.chain) stops.push_back(c.s);
  for (const auto& c : near) stops.push_back(c.s);
  std::sort(stops.begin(), stops.end());
  Chain result;
  const auto push = [&](double x, Vec2 p) {
    if (!result.empty() && plane::distance(result.back().p, p) < 1e-10) return;
    result.push_back({x, p});
  };
  for (std::size_t i = 0; i + 1 < stops.size(); ++i) {
    const double x = stops[i], y = stops[i + 1];
    if (y - x < 1e-13) continue;
    const auto [k, own0] = at(facet.chain, x, true);
    const Vec2 own1 = onRay(y, facet.chain[k].p, facet.chain[k + 1].p);
    if (y <= near.front().s || x >= near.back().s) {
      push(x, own0);
      push(y, own1);
      continue;
    }
    const auto [m, near0] = at(near, x, true);
    const Vec2 near1 = onRay(y, near[m].p, near[m + 1].p);
    const double d0 = facet.depth(own0) - facet.depth(near0), d1 = facet.depth(own1) - facet.depth(near1);
    push(x, d0 > 0 ? near0 : own0);
    if ((d0 > 0) != (d1 > 0) && std::abs(d0) > 1e-10 && std::abs(d1) > 1e-10) {
      const Vec2 d = own1 - own0, e = near1 - near0;
      const double across = cross(d, e);
      if (across != 0) {
        const Vec2 p = own0 + (cross(near0 - own0, e) / across) * d;
        push(facet.along(p), p);
      }
    }
    push(y, d1 > 0 ? near1 : own1);
  }
  if (result.size() >= 2) facet.chain = std::move(result);
}

void BatterField::trimAll(const Progress& progress) {
  const int n = static_cast<int>(sites_.size());
  const auto siteDistance = [](const Site& site, Vec2 p, Vec2 q) {
    // Nearest distance between the foot and the segment pq (they do not cross).
    return std::min({plane::nearestOnSegment(p, site.a, site.b).distance,
                     plane::nearestOnSegment(q, site.a, site.b).distance,
                     plane::nearestOnSegment(site.a, p, q).distance, plane::nearestOnSegment(site.b, p, q).distance});
  };
  for (std::size_t i = 0; i < facets_.size(); ++i) {
    if ((i & 0xff) == 0) progress.check();
    Facet& facet = facets_[i];
    // Sites in the order of how near they are along the crest: near ones cut most.
    for (int step = 1; step <= n / 2 + 1; ++step) {
      for (const int direction : {1, -1}) {
        const int other = ((facet.site + direction * step) % n + n) % n;
        if (other == facet.site || (direction == -1 && (facet.site + step) % n == other)) continue;
        const Site& site = sites_[other];
        bool matters = false;
        for (std::size_t k = 0; k + 1 < facet.chain.size() && !matters; ++k) {
          const Vec2 p = facet.chain[k].p, q = facet.chain[k + 1].p;
          const double best = site.highest - siteDistance(site, p, q) / run_;
          matters = best > std::min(facet.plane(p), facet.plane(q));
        }
        if (!matters) continue;
        for (std::size_t j = site.first; j < site.last; ++j) trim(facet, facets_[j]);
      }
    }
  }
}

void BatterField::makeTin(const Progress& progress) {
  // The cells as they are, overlapping nothing but not sharing corners: to find the facet of a place.
  ground::TinParts cells;
  std::vector<std::uint32_t> cellFacet;
  plane::Linework work(kSnap);
  // The crest first, so that its points keep their exact places.
  for (const Facet& f : facets_) {
    if (!(f.a == f.b)) work.addSegment(f.a, f.b, 0);
  }
  const auto addCell = [&](Vec2 a, Vec2 b, Vec2 c, std::uint32_t facet) {
    if (!(plane::turn(a, b, c) > 1e-12)) return;
    const Index first = static_cast<Index>(cells.points.size());
    for (const Vec2 p : {a, b, c}) cells.points.push_back({p.x, p.y, 0});
    cells.triangles.push_back({first, first + 1, first + 2});
    cells.neighbours.push_back({ground::kNone, ground::kNone, ground::kNone});
    cellFacet.push_back(facet);
  };
  for (std::uint32_t i = 0; i < facets_.size(); ++i) {
    const Facet& f = facets_[i];
    work.addSegment(f.a, f.chain.front().p, 0);
    work.addSegment(f.b, f.chain.back().p, 0);
    for (std::size_t k = 0; k + 1 < f.chain.size(); ++k) {
      const auto &c = f.chain[k], &d = f.chain[k + 1];
      work.addSegment(c.p, d.p, 0);
      const Vec2 footC = f.foot(c.s), footD = f.foot(d.s);
      addCell(footC, c.p, d.p, i);
      addCell(footC, d.p, footD, i);
    }
  }
  work.node();
  const ground::Tin cellTin(std::move(cells));
  std::vector<ground::Edge> edges;
  for (const auto& s : work.segments()) edges.emplace_back(s.a, s.b);
  const ground::Triangulation made = ground::triangulate(work.points(), edges, progress);

  ground::TinParts parts;
  for (const Vec2 p : made.points) parts.points.push_back({p.x, p.y, 0});
  for (Index t = 0; t < made.triangles.size(); ++t) {
    const ground::Triangle& c = made.triangles[t];
    const Vec2 middle = (1.0 / 3) * (made.points[c[0]] + made.points[c[1]] + made.points[c[2]]);
    const Index cell = cellTin.locate(middle);
    if (cell == ground::kNone) continue;
    parts.triangles.push_back(c);
    parts.breaks.push_back(made.constrained[t]);
    facetOf_.push_back(cellFacet[cell]);
    for (const Index v : c) parts.points[v].z = facets_[facetOf_.back()].plane(made.points[v]);
  }
  ground::dropUnusedPoints(parts);
  tin_ = std::make_shared<ground::Tin>(std::move(parts));
}

bool BatterField::isCrest(Index t, int k) const {
  const Facet& f = facets_[facetOf_[t]];
  if (f.a == f.b || tin_->neighbours()[t][k] != ground::kNone) return false;
  const ground::Triangle& c = tin_->triangles()[t];
  return std::abs(f.depth(tin_->plan(c[ground::next(k)]))) < 4 * kSnap &&
         std::abs(f.depth(tin_->plan(c[ground::before(k)]))) < 4 * kSnap;
}

}  // namespace inselberg::works
