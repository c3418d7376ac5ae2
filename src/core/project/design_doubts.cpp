#include "project/design_doubts.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <unordered_set>

#include "ground/border.h"
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
  return {
      {DoubtKind::beyondSite, at,
       fmt::format(
           "{} reaches {:.2f}\u00a0m beyond the site boundary near {}, over {:.0f}\u00a0m²: {}end that side in a wall, "
           "or move it in.",
           works.name, far, plane::placeText(at, origin), area, slopeThatFits(site, placement, under, *outside))}};
}

namespace {

constexpr double kLargeArea = 1;  // m2

// Facets of one make that are not as they should be: how much, how far, and where it is worst.
struct Found {
  double area = 0, worst = 0;
  Vec2 at;
  void add(double part, double how, Vec2 where) {
    area += part;
    if (how > worst) worst = how, at = where;
  }
};

std::string runText(double gradient) {
  return fmt::format("{:.2f}:1", 1 / gradient);
}

}  // namespace

ground::Doubts doubtsOfSlopes(const Limits& limits, const works::Works& works, const works::Placement& placement,
                              const plane::Origin& origin) {
  constexpr double kSlack = 0.02;  // of the limit: slopes are square to the crest, which may fall along itself
  const bool drains = limits.leastFall > 0 && (works.shape.as<works::LevelArea>() || works.shape.as<works::Pad>()) &&
                      !(works.shape.as<works::Pad>() && works.shape.as<works::Pad>()->building);
  // The steepest gradient there may be; without a limit any.
  const auto most = [](double run) { return run > 0 ? (1 + kSlack) / run : 1e300; };
  const double cut = most(limits.steepestCut), fill = most(limits.steepestFill);
  Found steepCut, steepFill, flat;
  const Tin& facets = *placement.facets;
  for (Index t = 0; t < facets.triangles().size(); ++t) {
    const auto c = facets.corners(t);
    const double gradient = plane::norm(ground::planeOf(c).gradient);
    const double area = 0.5 * plane::turn(c[0].plan(), c[1].plan(), c[2].plan());
    const Vec2 middle = (1.0 / 3) * (c[0].plan() + c[1].plan() + c[2].plan());
    switch (placement.kinds[t]) {
      case works::FacetKind::surface:
        if (drains && 100 * gradient < limits.leastFall - 1e-6) flat.add(area, 1 + area, middle);
        break;
      case works::FacetKind::margin:
      case works::FacetKind::leg:
        if (gradient > std::max(cut, fill)) steepFill.add(area, gradient, middle);
        break;
      case works::FacetKind::fillBatter:
        if (gradient > fill) steepFill.add(area, gradient, middle);
        break;
      case works::FacetKind::cutBatter:
        if (gradient > cut) steepCut.add(area, gradient, middle);
    }
  }
  ground::Doubts doubts;
  const auto steep = [&](const Found& found, const char* in, double run) {
    if (found.area < kLargeArea) return;
    doubts.push_back(
        {DoubtKind::tooSteep, found.at,
         fmt::format("{} is as steep as {} in {} near {}, over {:.0f}\u00a0m² in all; the limit is {}: flatten "
                     "its batters or legs, or end them in a wall.",
                     works.name, runText(found.worst), in, plane::placeText(found.at, origin), found.area,
                     Slope::horizontalPerVertical(run).text())});
  };
  steep(steepCut, "cut", limits.steepestCut);
  steep(steepFill, "fill", limits.steepestFill > 0 ? limits.steepestFill : limits.steepestCut);
  if (flat.area >= kLargeArea)
    doubts.push_back(
        {DoubtKind::notDraining, flat.at,
         fmt::format("{} falls less than {:g} % over {:.0f}\u00a0m², near {}: tilt it, or give it a ridge.", works.name,
                     limits.leastFall, flat.area, plane::placeText(flat.at, origin))});
  return doubts;
}

ground::Doubts doubtsOfJoint(const works::Works& works, const works::Placement& placement, const Tin& under,
                             const plane::Origin& origin) {
  constexpr double kStep = 0.02, kLong = 1;  // m
  const auto* inlay = works.shape.as<works::Inlay>();
  if (!inlay) return {};
  const Tin& facets = *placement.facets;
  double length = 0, most = 0;
  Vec2 worst;
  for (const auto& loop : ground::borderLoops(facets.triangles(), facets.neighbours())) {
    for (std::size_t i = 0; i < loop.size(); ++i) {
      const Vec3 &a = facets.points()[loop[i]], &b = facets.points()[loop[(i + 1) % loop.size()]];
      const Vec2 middle = 0.5 * (a.plan() + b.plan());
      const auto level = under.levelAt(middle);
      const double step = level ? std::abs(0.5 * (a.z + b.z) - *level) : 0;
      if (step <= kStep) continue;
      length += plane::distance(a.plan(), b.plan());
      if (step > most) most = step, worst = middle;
    }
  }
  if (length < kLong) return {};
  return {
      {DoubtKind::stepAtJoint, worst,
       fmt::format(
           "{} meets the ground in a step along {:.0f}\u00a0m of its border, up to {:.2f}\u00a0m near {}: give it a "
           "section there, or sculpt the joint.",
           works.name, length, most, plane::placeText(worst, origin))}};
}

namespace {

// How far apart two facets lie where both are, over what area.
struct Apart {
  double area = 0, most = 0;
  Vec2 at;
};
Apart apart(const Tin& one, Index t, const Tin& other, Index u) {
  const auto c = one.corners(t), d = other.corners(u);
  const quantity::Convex both = quantity::overlap(quantity::triangleShape(c[0].plan(), c[1].plan(), c[2].plan()),
                                                  d[0].plan(), d[1].plan(), d[2].plan());
  if (both.n < 3) return {};
  const ground::Plane own = ground::planeOf(c), under = ground::planeOf(d);
  Apart found{quantity::area(both), 0, {}};
  for (int i = 0; i < both.n; ++i) {
    found.at = found.at + (1.0 / both.n) * both.p[i];
    found.most = std::max(found.most, std::abs(own(both.p[i]) - under(both.p[i])));
  }
  return found;
}

}  // namespace

ground::Doubts doubtsOfOverlap(const PlacedWorks& earlier, const PlacedWorks& later, const plane::Origin& origin) {
  constexpr double kApart = 0.01;  // m
  if (followsGround(worksOf(earlier).shape) || followsGround(worksOf(later).shape)) return {};
  const Tin &below = *earlier.placement->facets, &above = *later.placement->facets;
  if (below.empty() || above.empty() || !below.bounds().overlaps(above.bounds())) return {};
  struct Total {
    double area = 0, most = 0, largest = 0;
    Vec2 at;
  } tops, batters;
  for (Index t = 0; t < above.triangles().size(); ++t) {
    const auto c = above.corners(t);
    const std::array<Vec2, 3> plan{c[0].plan(), c[1].plan(), c[2].plan()};
    plane::Box box;
    for (const Vec2 p : plan) box.add(p);
    if (!box.overlaps(below.bounds())) continue;
    std::vector<Index> touched;
    below.index().touching(plan, 0, [&](Index u) { touched.push_back(u); });
    std::sort(touched.begin(), touched.end());
    touched.erase(std::unique(touched.begin(), touched.end()), touched.end());
    Total& total = works::isBatter(later.placement->kinds[t]) ? batters : tops;
    for (const Index u : touched) {
      if (works::isBatter(earlier.placement->kinds[u])) continue;
      const Apart found = apart(above, t, below, u);
      if (found.area <= 0 || found.most < kApart) continue;
      total.area += found.area, total.most = std::max(total.most, found.most);
      if (found.area > total.largest) total.largest = found.area, total.at = found.at;
    }
  }
  ground::Doubts doubts;
  if (tops.area >= kLargeArea)
    doubts.push_back(
        {DoubtKind::worksOverlap, tops.at,
         fmt::format("{} lies over {} on {:.0f}\u00a0m², up to {:.2f}\u00a0m apart, near {}: the later one rules. "
                     "Move one, or change their order.",
                     worksOf(later).name, worksOf(earlier).name, tops.area, tops.most,
                     plane::placeText(tops.at, origin))});
  if (batters.area >= kLargeArea)
    doubts.push_back(
        {DoubtKind::joinedSteeply, batters.at,
         fmt::format("{} and {} are joined too steeply: a batter of the first takes {:.0f}\u00a0m² of the "
                     "second, up to {:.2f}\u00a0m, near {}. Move them apart, steepen that side or end it in a "
                     "wall, or lead a ramp between them.",
                     worksOf(later).name, worksOf(earlier).name, batters.area, batters.most,
                     plane::placeText(batters.at, origin))});
  return doubts;
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

namespace {

// What a pond is asked for and does not give, as the ground around it is.
void doubtPond(const works::Works& works, const Tin& tin, const ground::Hollow& hollow, const Limits& limits,
               const plane::Origin& origin, ground::Doubts& doubts) {
  const auto& pond = *works.shape.as<works::Pond>();
  const double freeboard = hollow.rim - pond.water;
  const std::string spill = plane::placeText(hollow.spill, origin);
  if (pond.hasWater() && freeboard < -1e-6) {
    doubts.push_back(
        {DoubtKind::overfull, hollow.spill,
         fmt::format("The water of {} at {:.2f}\u00a0m stands {:.2f}\u00a0m above where it leaves, at {}: raise the "
                     "crest there, or lower the water.",
                     works.name, pond.water, -freeboard, spill)});
  } else if (pond.hasWater() && freeboard < limits.freeboard - 1e-6) {
    doubts.push_back(
        {DoubtKind::freeboardShort, hollow.spill,
         fmt::format("{} has {:.2f}\u00a0m of freeboard where {:.2f}\u00a0m are asked: raise the crest at {}, or "
                     "lower the water.",
                     works.name, freeboard, limits.freeboard, spill)});
  }
  if (pond.wanted <= 0) return;
  const double full = pond.hasWater() ? std::min(pond.water, hollow.rim) : hollow.rim;
  const double held = ground::storageAt(tin, hollow, full).volume;
  if (held < pond.wanted * (1 - 1e-6))
    doubts.push_back(
        {DoubtKind::storageShort, hollow.spill,
         fmt::format(
             "{} holds {:.0f}\u00a0m³ up to {:.2f}\u00a0m, and {:.0f}\u00a0m³ are wanted: let it size itself on "
             "its card, or raise its water or where it leaves, at {}.",
             works.name, held, full, pond.wanted, spill)});
}

// Where the land beside a building rises most away from it.
void doubtBuilding(const works::Works& works, const Tin& tin, const Limits& limits, const plane::Origin& origin,
                   ground::Doubts& doubts) {
  const auto* pad = works.shape.as<works::Pad>();
  if (!pad || !pad->building || limits.besideBuildings <= 0) return;
  constexpr double kStep = 1, kBeside = 0.02, kRises = 0.01;  // m
  const double off = pad->space + kBeside;
  double most = kRises;
  std::optional<Vec2> worst;
  for (std::size_t i = 0; i < pad->outline.size(); ++i) {
    const Vec2 a = pad->outline[i], b = pad->outline[(i + 1) % pad->outline.size()];
    const double length = plane::distance(a, b);
    const Vec2 out = plane::rightOf(plane::unit(b - a));
    const int n = std::max(1, static_cast<int>(std::ceil(length / kStep)));
    for (int k = 0; k < n; ++k) {
      const Vec2 p = a + ((k + 0.5) / n) * (b - a);
      const auto near = tin.levelAt(p + off * out), far = tin.levelAt(p + (off + limits.besideBuildings) * out);
      if (near && far && *far - *near > most) most = *far - *near, worst = p + off * out;
    }
  }
  if (worst)
    doubts.push_back(
        {DoubtKind::fallsToBuilding, *worst,
         fmt::format("The land falls {:.2f}\u00a0m towards {} over {:g}\u00a0m near {}: begin its section with a leg "
                     "that falls away, or lead the water off with a swale.",
                     most, works.name, limits.besideBuildings, plane::placeText(*worst, origin))});
}

}  // namespace

ground::Doubts doubtsOfWater(const Tin& tin, const std::vector<PlacedWorks>& works, const Limits& limits,
                             const plane::Origin& origin, const Progress& progress) {
  constexpr double kDeep = 0.05, kLarge = 1;  // m, m3
  ground::Doubts doubts;
  if (works.empty() || tin.empty()) return doubts;
  for (const PlacedWorks& w : works) doubtBuilding(*w.works, tin, limits, origin, doubts);
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
      doubtPond(*by->works, tin, *hollow, limits, origin, doubts);
      continue;
    }
    const double deep = hollow->rim - hollow->bottom;
    const auto storage = ground::storageAt(tin, *hollow, hollow->rim);
    if (deep < kDeep || storage.volume < kLarge) continue;
    doubts.push_back(
        {DoubtKind::holdsWater, place,
         fmt::format(
             "Water stands at {} near {}, up to {:.2f}\u00a0m deep, {:.0f}\u00a0m³, and leaves at {:.2f}\u00a0m "
             "near {}: lead it off with a swale from there.",
             by->works->name, plane::placeText(place, origin), deep, storage.volume, hollow->rim,
             plane::placeText(hollow->spill, origin))});
  }
  return doubts;
}

ground::Doubt doubtOfTop(const Ground& other, const Ground& formation, double layers, plane::Vec2 where) {
  return {DoubtKind::topOrFormation, where,
          fmt::format(
              "Top or formation? Between {} and the finished ground {:.0f}\u00a0m³ of build-ups are counted with the "
              "earth. Compare {} with {} where the earthwork alone is asked for.",
              other.name, layers, other.name, formation.name)};
}

}  // namespace inselberg::project
