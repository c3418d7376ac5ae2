#include "project/design_doubts.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <unordered_set>

#include "ground/clip.h"
#include "ground/hollow.h"
#include "ground/recut.h"
#include "ground/tin_index.h"
#include "plane/place_text.h"
#include "plane/polygon.h"
#include "quantity/overlap.h"

namespace inselberg::project {

using ground::Doubt;
using ground::DoubtKind;
using ground::Index;
using ground::Tin;
using plane::Vec2;
using plane::Vec3;

std::vector<plane::Polygon> siteOf(const Project& project) {
  std::vector<plane::Polygon> site;
  const GroundId surveyed = project.surveyed();
  for (const SourcePtr& source : project.sources) {
    const bool others = std::any_of(project.column.begin(), project.column.end(), [&](const GroundPtr& g) {
      const auto* base = std::get_if<FromSources>(&g->base);
      return base && g->id != surveyed &&
             std::find(base->sources.begin(), base->sources.end(), source->id) != base->sources.end();
    });
    if (!others) site.insert(site.end(), source->data->boundaries.begin(), source->data->boundaries.end());
  }
  return site;
}

namespace {

struct NearestOnRing {
  double distance = 1e300;
  Vec2 at;
};
NearestOnRing nearestOn(const std::vector<plane::Polygon>& site, Vec2 p) {
  NearestOnRing best;
  const auto look = [&](const plane::Ring& ring) {
    for (std::size_t i = 0; i < ring.size(); ++i) {
      const Vec2 a = ring[i], b = ring[(i + 1) % ring.size()];
      const auto near = plane::nearestOnSegment(p, a, b);
      if (near.distance < best.distance) best = {near.distance, a + near.along * (b - a)};
    }
  };
  for (const auto& polygon : site) {
    look(polygon.outer);
    for (const auto& hole : polygon.holes) look(hole);
  }
  return best;
}

// The place on the crests nearest to p.
std::optional<Vec3> nearestCrest(const works::Placement& placement, Vec2 p) {
  std::optional<Vec3> best;
  double least = 1e300;
  for (const works::Line3& line : placement.crests) {
    const std::size_t n = line.points.size();
    for (std::size_t i = 0; i + (line.closed ? 0 : 1) < n; ++i) {
      const Vec3 &a = line.points[i], &b = line.points[(i + 1) % n];
      const auto near = plane::nearestOnSegment(p, a.plan(), b.plan());
      if (near.distance >= least) continue;
      least = near.distance;
      best = Vec3{a.x + near.along * (b.x - a.x), a.y + near.along * (b.y - a.y), a.z + near.along * (b.z - a.z)};
    }
  }
  return best;
}

// "steepen the batter to 1.42:1, ": from the crests to the ground at the boundary, wherever batters go beyond it.
std::string slopeThatFits(const std::vector<plane::Polygon>& site, const works::Placement& placement, const Tin& under,
                          const Tin& outside) {
  const auto inside = [&](Vec2 q) {
    return std::any_of(site.begin(), site.end(), [&](const plane::Polygon& s) { return plane::contains(s, q); });
  };
  double least = 1e300;
  for (const Vec3& p : outside.points()) {
    const auto crest = nearestCrest(placement, p.plan());
    if (!crest || !inside(crest->plan())) return {};
    const auto edge = nearestOn(site, crest->plan());
    const auto level = under.levelAt(edge.at);
    if (level && std::abs(crest->z - *level) > 0.05)
      least = std::min(least, edge.distance / std::abs(crest->z - *level));
  }
  constexpr double kSteepest = 0.1, kFlattest = 100;
  return least > kSteepest && least < kFlattest ? fmt::format("steepen the batter to {:.2f}:1, ", least) : "";
}

const works::Works& worksOf(const PlacedWorks& placed) {
  return *placed.works;
}

// Whether a works changes the ground it lies on instead of having a shape of its own.
bool followsGround(const works::Shape& shape) {
  return shape.as<works::Inlay>() || shape.as<works::Sculpt>();
}

}  // namespace

ground::Doubts doubtsBeyond(const std::vector<plane::Polygon>& site, const works::Works& works,
                            const works::Placement& placement, const Tin& under, const plane::Origin& origin,
                            const Progress& progress) {
  constexpr double kFar = 0.01, kLarge = 0.1;  // m, m2
  if (site.empty() || placement.facets->empty()) return {};
  const auto outside = ground::keepOutside(*placement.facets, site, progress);
  if (outside->empty()) return {};
  double far = 0;
  Vec2 at;
  for (const Vec3& p : outside->points()) {
    if (const double d = nearestOn(site, p.plan()).distance; d > far) far = d, at = p.plan();
  }
  const double area = ground::statistics(*outside).planArea;
  if (far < kFar || area < kLarge) return {};
  return {{DoubtKind::beyondSite, at,
           fmt::format(
               "{} reaches {:.2f} m beyond the site boundary near {}, over {:.0f} m²: {}end that side in a wall, "
               "or move it in.",
               works.name, far, plane::placeText(at, origin), area, slopeThatFits(site, placement, under, *outside))}};
}

ground::Doubts doubtsOfOverlap(const PlacedWorks& earlier, const PlacedWorks& later, const plane::Origin& origin) {
  constexpr double kApart = 0.01, kLarge = 1;  // m, m2
  if (followsGround(worksOf(earlier).shape) || followsGround(worksOf(later).shape)) return {};
  const Tin &below = *earlier.placement->facets, &above = *later.placement->facets;
  if (below.empty() || above.empty() || !below.bounds().overlaps(above.bounds())) return {};
  double area = 0, most = 0, largest = 0;
  Vec2 at;
  for (Index t = 0; t < above.triangles().size(); ++t) {
    if (works::isBatter(later.placement->kinds[t])) continue;
    const auto c = above.corners(t);
    const std::array<Vec2, 3> plan{c[0].plan(), c[1].plan(), c[2].plan()};
    plane::Box box;
    for (const Vec2 p : plan) box.add(p);
    if (!box.overlaps(below.bounds())) continue;
    const ground::Plane own = ground::planeOf(c);
    std::vector<Index> touched;
    below.index().touching(plan, 0, [&](Index u) { touched.push_back(u); });
    std::sort(touched.begin(), touched.end());
    touched.erase(std::unique(touched.begin(), touched.end()), touched.end());
    for (const Index u : touched) {
      if (works::isBatter(earlier.placement->kinds[u])) continue;
      const auto d = below.corners(u);
      const quantity::Convex both =
          quantity::overlap(quantity::triangleShape(plan[0], plan[1], plan[2]), d[0].plan(), d[1].plan(), d[2].plan());
      if (both.n < 3) continue;
      const ground::Plane other = ground::planeOf(d);
      Vec2 middle;
      double apart = 0;
      for (int i = 0; i < both.n; ++i) {
        middle = middle + (1.0 / both.n) * both.p[i];
        apart = std::max(apart, std::abs(own(both.p[i]) - other(both.p[i])));
      }
      if (apart < kApart) continue;
      const double part = quantity::area(both);
      area += part, most = std::max(most, apart);
      if (part > largest) largest = part, at = middle;
    }
  }
  if (area < kLarge) return {};
  return {{DoubtKind::worksOverlap, at,
           fmt::format("{} lies over {} on {:.0f} m², up to {:.2f} m apart, near {}: the later one rules. Move one, or "
                       "change their order.",
                       worksOf(later).name, worksOf(earlier).name, area, most, plane::placeText(at, origin))}};
}

namespace {

// Whether a place may lie in or along the footprint of works: by the cells of a coarse grid that these touch.
class Nearby {
 public:
  explicit Nearby(const std::vector<PlacedWorks>& works) : touched_(kCells * kCells, 0) {
    for (const PlacedWorks& w : works) all_.add(w.placement->facets->bounds());
    all_ = all_.grown(0.01);
    for (const PlacedWorks& w : works) {
      if (w.placement->facets->empty()) continue;
      const plane::Box box = w.placement->facets->bounds().grown(0.01);
      for (int r = row(box.minY); r <= row(box.maxY); ++r) {
        for (int c = column(box.minX); c <= column(box.maxX); ++c)
          touched_[static_cast<std::size_t>(r * kCells + c)] = 1;
      }
    }
  }
  bool operator()(Vec2 p) const {
    return all_.contains(p) && touched_[static_cast<std::size_t>(row(p.y) * kCells + column(p.x))];
  }

 private:
  static constexpr int kCells = 128;
  int column(double x) const {
    return std::clamp(static_cast<int>((x - all_.minX) / all_.width() * kCells), 0, kCells - 1);
  }
  int row(double y) const {
    return std::clamp(static_cast<int>((y - all_.minY) / all_.height() * kCells), 0, kCells - 1);
  }
  plane::Box all_;
  std::vector<char> touched_;
};

// Corners of the ground in or along the footprints of works, and lower than all beside them, each with a triangle at
// it; the lowest first.
struct Corner {
  Index corner, triangle;
};
std::vector<Corner> lowestCorners(const Tin& tin, const std::vector<PlacedWorks>& works) {
  std::vector<Index> at(tin.points().size(), ground::kNone);
  std::vector<char> notLowest(tin.points().size(), 0);
  const Nearby near(works);
  // A pass over all is quicker than a search grid of a ground that is new.
  for (Index t = 0; t < tin.triangles().size(); ++t) {
    const ground::Triangle& c = tin.triangles()[t];
    const double least = std::min({tin.points()[c[0]].z, tin.points()[c[1]].z, tin.points()[c[2]].z});
    for (const Index v : c) {
      if (at[v] == ground::kNone && !near(tin.plan(v))) continue;
      at[v] = t;
      notLowest[v] |= tin.points()[v].z > least;
    }
  }
  std::vector<Corner> lowest;
  for (Index v = 0; v < at.size(); ++v) {
    if (at[v] != ground::kNone && !notLowest[v]) lowest.push_back({v, at[v]});
  }
  std::sort(lowest.begin(), lowest.end(),
            [&](const Corner& a, const Corner& b) { return tin.points()[a.corner].z < tin.points()[b.corner].z; });
  return lowest;
}

// Calls f(facet) for the facets of a works that hold p or lie next to it.
template <class F>
void eachNear(const works::Placement& placement, Vec2 p, F&& f) {
  constexpr double kNext = 1e-3;  // m
  if (placement.facets->empty()) return;
  for (const Vec2 d : {Vec2{0, 0}, {kNext, 0}, {-kNext, 0}, {0, kNext}, {0, -kNext}}) {
    if (const Index t = placement.facets->locate(p + d); t != ground::kNone) f(t);
  }
}

// What a hollow with its bottom at p belongs to: a pond, when it is in one; else the last works there. Null for none.
struct Owner {
  const PlacedWorks* works = nullptr;
  bool pond = false;
};
Owner ownerOf(const std::vector<PlacedWorks>& works, Vec2 p) {
  Owner owner;
  for (const PlacedWorks& w : works) {
    const bool pond = w.works->shape.as<works::Pond>();
    eachNear(*w.placement, p, [&](Index t) {
      if (pond && !works::isBatter(w.placement->kinds[t])) owner = {&w, true};
      if (!owner.pond) owner = {&w, false};
    });
  }
  return owner;
}

}  // namespace

ground::Doubts doubtsOfWater(const Tin& tin, const std::vector<PlacedWorks>& works, const plane::Origin& origin,
                             const Progress& progress) {
  constexpr double kDeep = 0.05, kLarge = 1;  // m, m3
  ground::Doubts doubts;
  if (works.empty() || tin.empty()) return doubts;
  std::unordered_set<Index> wet;
  for (const auto& [corner, triangle] : lowestCorners(tin, works)) {
    progress.check();
    if (wet.contains(triangle)) continue;
    const auto hollow = ground::hollowFrom(tin, triangle, progress);
    if (!hollow) continue;
    const Vec2 place = tin.plan(corner);
    const auto under = ground::underWater(tin, *hollow, hollow->rim);
    wet.insert(under.begin(), under.end());
    const auto [by, isPond] = ownerOf(works, place);
    if (!by) continue;
    if (isPond) {
      const auto& pond = *by->works->shape.as<works::Pond>();
      if (pond.hasWater() && pond.water > hollow->rim + 1e-6)
        doubts.push_back(
            {DoubtKind::overfull, hollow->spill,
             fmt::format("The water of {} at {:.2f} stands {:.2f} m above where it leaves, at {}: raise the "
                         "crest there, or lower the water.",
                         by->works->name, pond.water, pond.water - hollow->rim,
                         plane::placeText(hollow->spill, origin))});
      continue;
    }
    const double deep = hollow->rim - hollow->bottom;
    const auto storage = ground::storageAt(tin, *hollow, hollow->rim);
    if (deep < kDeep || storage.volume < kLarge) continue;
    doubts.push_back({DoubtKind::holdsWater, place,
                      fmt::format("Water stands at {} near {}, up to {:.2f} m deep, {:.0f} m³, and leaves at {:.2f} "
                                  "near {}: lead it off with a swale from there.",
                                  by->works->name, plane::placeText(place, origin), deep, storage.volume, hollow->rim,
                                  plane::placeText(hollow->spill, origin))});
  }
  return doubts;
}

}  // namespace inselberg::project
