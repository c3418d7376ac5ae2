// Strips of one depth are parted in plan: the deeper first, each without what those before it took. Where depths come
// from pits, each strip is a thin surface of its depths over its area, in triangles fine enough; the highest of them
// all is what is taken off, and each of its triangles belongs to the first strip that has that depth there.
#include "works/strip.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <set>

#include "base/parallel.h"
#include "ground/border.h"
#include "ground/clip.h"
#include "ground/recut.h"
#include "ground/subset.h"
#include "plane/inside.h"
#include "plane/offset.h"
#include "quantity/combine.h"
#include "works/footprint.h"
#include "works/pit_depths.h"

namespace inselberg::works {
namespace {

using ground::Index;
using ground::kNone;
using ground::Tin;
using ground::TinPtr;
constexpr double kDepthError = 1.5e-3;  // m, of the triangles over depths from pits

// Adds the places in a triangle where a depth is missed by more than it may.
template <class DepthAt>
void tooCoarse(const ground::Triangulation& made, Index t, const std::vector<double>& depths, DepthAt&& depthAt,
               std::vector<Vec2>& places) {
  // Depths have a cusp at each pit: no finer than this, which is within 3 mm of it at any slope of topsoil.
  constexpr double kFinest = 0.5;  // m
  const auto [i, j, k] = made.triangles[t];
  const Vec2 a = made.points[i], b = made.points[j], c = made.points[k];
  if (std::max({plane::distance(a, b), plane::distance(b, c), plane::distance(c, a)}) < kFinest) return;
  const auto check = [&](Vec2 p, double depth) {
    if (std::abs(depthAt(p) - depth) > kDepthError) places.push_back(p);
  };
  check(ground::centroid(made, t), (depths[i] + depths[j] + depths[k]) / 3);
  check(0.5 * (a + b), (depths[i] + depths[j]) / 2);
  check(0.5 * (b + c), (depths[j] + depths[k]) / 2);
  check(0.5 * (c + a), (depths[k] + depths[i]) / 2);
}

// The depths of a strip over its area, as a surface.
TinPtr depthsOver(const StripArea& strip, const Progress& progress) {
  std::vector<Vec2> points;
  std::vector<ground::Edge> edges;
  const auto add = [&](const std::vector<Vec2>& line, bool closed) {
    const auto first = static_cast<Index>(points.size()), n = static_cast<Index>(line.size());
    points.insert(points.end(), line.begin(), line.end());
    for (Index i = 0; i + (closed ? 0 : 1) < n; ++i) edges.emplace_back(first + i, first + (i + 1) % n);
  };
  for (const plane::Polygon& polygon : strip.area) {
    add(polygon.outer, true);
    for (const plane::Ring& hole : polygon.holes) add(hole, true);
  }
  const bool one = strip.strip->pits.empty();
  std::optional<PitDepths> pits;
  const plane::Inside inside(strip.area);
  if (!one) {
    pits.emplace(strip.strip->pits);
    for (const Vec3& p : strip.strip->pits) {
      if (inside(p.plan())) points.push_back(p.plan());
    }
    for (const auto& [a, b] : pits->hull()) {
      if (inside(a) && inside(b)) add({a, b}, false);
    }
  }
  const auto depthAt = [&](Vec2 p) { return one ? strip.strip->depth : pits->at(p); };
  // Depths from pits take long to find: none is asked for twice, and no triangle is looked at twice.
  std::vector<double> depths;  // at the points
  std::set<ground::Triangle> looked;
  ground::TinParts parts;
  constexpr int kRounds = 14;
  for (int round = 0; round < kRounds; ++round) {
    const bool last = one || round + 1 == kRounds;
    const ground::Triangulation made = ground::triangulate(points, edges, progress);
    // Where lines cross it made points of its own: kept, so that all have their number.
    points = made.points;
    const std::size_t known = depths.size();
    depths.resize(points.size());
    parallelChunks(points.size() - known, 64, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
      for (std::size_t i = known + begin; i < known + end; ++i) depths[i] = depthAt(points[i]);
    });
    std::vector<Index> held, open;  // triangles of the area, and those not looked at yet
    for (Index t = 0; t < made.triangles.size(); ++t) {
      if (!inside(ground::centroid(made, t))) continue;
      held.push_back(t);
      ground::Triangle corners = made.triangles[t];
      std::ranges::sort(corners);
      if (!last && looked.insert(corners).second) open.push_back(t);
    }
    const auto finer =
        parallelMap<std::vector<Vec2>>(open.size(), 32, progress, [&](std::size_t begin, std::size_t end) {
          std::vector<Vec2> found;
          for (std::size_t i = begin; i < end; ++i) tooCoarse(made, open[i], depths, depthAt, found);
          return found;
        });
    for (const auto& found : finer) points.insert(points.end(), found.begin(), found.end());
    if (points.size() > made.points.size()) continue;
    for (std::size_t i = 0; i < made.points.size(); ++i)
      parts.points.push_back({made.points[i].x, made.points[i].y, depths[i]});
    for (const Index t : held) parts.triangles.push_back(made.triangles[t]);
    break;
  }
  ground::dropUnusedPoints(parts);
  return std::make_shared<Tin>(std::move(parts));
}

// The level of a triangle's plane at a place in it. Where the place lies off by rounding it is that of the triangle
// still: the plane of a narrow one may rise steeply.
double within(const std::array<Vec3, 3>& corners, Vec2 p) {
  const auto [low, high] = std::minmax({corners[0].z, corners[1].z, corners[2].z});
  return std::clamp(ground::planeOf(corners)(p), low, high);
}

// The ground less the depths, where both are.
TinPtr loweredBy(const Tin& ground, const Tin& depths, const Progress& progress) {
  const std::vector<char> touched = ground::touchedBy(ground, depths, 1e-6, progress);
  const ground::Triangulation cut = ground::recut(ground, touched, ground::sidesOf(depths), progress);
  struct Face {
    Index face, level, depth;  // of the recut, the ground and the depths
  };
  // In narrow triangles rounding of a place is large in level, and where a narrow face lies is not sure: they take what
  // wide ones beside them have.
  std::vector<Face> wide, narrow;
  const auto levels = ground::locateFaces(cut, ground, progress), deep = ground::locateFaces(cut, depths, progress);
  for (Index f = 0; f < cut.triangles.size(); ++f) {
    const Face face{f, levels[f], deep[f]};
    if (face.level == kNone || face.depth == kNone) continue;
    std::array<Vec3, 3> plan;
    for (std::size_t k = 0; k < 3; ++k) {
      const Vec2 p = cut.points[cut.triangles[f][k]];
      plan[k] = {p.x, p.y, 0};
    }
    const bool thin = ground::isNarrow(plan) || ground::isNarrow(ground.corners(face.level)) ||
                      ground::isNarrow(depths.corners(face.depth));
    (thin ? narrow : wide).push_back(face);
  }
  ground::TinParts parts;
  std::vector<std::vector<Index>> at(cut.points.size());  // the points made of each, one for each level
  const auto add = [&](const Face& one, bool nearest) {
    ground::Triangle corners;
    for (std::size_t k = 0; k < 3; ++k) {
      const Index v = cut.triangles[one.face][k];
      const Vec2 p = cut.points[v];
      const double z = within(ground.corners(one.level), p) - within(depths.corners(one.depth), p);
      const auto off = [&](Index i) { return std::abs(parts.points[i].z - z); };
      const auto same = std::min_element(at[v].begin(), at[v].end(), [&](Index i, Index j) { return off(i) < off(j); });
      if (same != at[v].end() && (nearest || off(*same) < ground::kSnap)) {
        corners[k] = *same;
        continue;
      }
      corners[k] = static_cast<Index>(parts.points.size());
      at[v].push_back(corners[k]);
      parts.points.push_back({p.x, p.y, z});
    }
    parts.triangles.push_back(corners);
  };
  for (const Face& face : wide) add(face, false);
  for (const Face& face : narrow) add(face, true);
  return std::make_shared<Tin>(std::move(parts));
}

std::vector<TinPtr> partsByPits(const Tin& ground, const std::vector<StripArea>& strips, const Progress& progress) {
  std::vector<TinPtr> depths;
  TinPtr most;
  for (const StripArea& strip : strips) {
    depths.push_back(strip.area.empty() ? nullptr : depthsOver(strip, progress));
    if (!depths.back() || depths.back()->empty()) continue;
    most = most ? quantity::combined(*most, *depths.back(), quantity::Combine::higher, progress) : depths.back();
  }
  std::vector<TinPtr> parts(strips.size());
  if (!most) return parts;
  const TinPtr all = loweredBy(ground, *most, progress);
  std::vector<std::size_t> ruler(all->triangles().size(), strips.size());
  parallelChunks(ruler.size(), 512, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    for (std::size_t t = begin; t < end; ++t) {
      const Vec2 c = ground::centroid(*all, static_cast<Index>(t));
      const double depth = most->levelAt(c).value_or(0);
      for (std::size_t i = 0; i < strips.size() && ruler[t] == strips.size(); ++i) {
        const auto own = depths[i] ? depths[i]->levelAt(c) : std::nullopt;
        if (own && std::abs(*own - depth) < 1e-9) ruler[t] = i;
      }
    }
  });
  for (std::size_t i = 0; i < strips.size(); ++i) {
    TinPtr part = ground::subset(*all, [&](Index t) { return ruler[t] == i; });
    if (!part->empty()) parts[i] = std::move(part);
  }
  return parts;
}

// The area with what lies beside it beyond the ground: where it ends at the ground's border, it goes on over it. A cut
// along the border itself would leave slivers there.
plane::Areas overBorder(const plane::Areas& area, const plane::Areas& cover) {
  constexpr double kOver = 0.1, kIn = 1e-4;  // m
  constexpr auto kSquare = plane::OffsetCorners::square;
  plane::Areas all = plane::without(plane::offset(area, kOver, kSquare), plane::offset(cover, -kIn, kSquare));
  all.insert(all.end(), area.begin(), area.end());
  return plane::united(all);
}

// The parts as one, with what lies outside the strips, and walls between: at an edge of a strip nothing is shared but
// the plan.
TinPtr withRest(const std::vector<TinPtr>& parts, const Tin& ground, const std::vector<StripArea>& strips,
                const Progress& progress) {
  std::vector<TinPtr> facets;
  for (const TinPtr& part : parts) {
    if (part) facets.push_back(part);
  }
  plane::Areas all;
  for (const StripArea& strip : strips) all.insert(all.end(), strip.area.begin(), strip.area.end());
  TinPtr rest = ground::keepOutside(ground, plane::united(all), progress);
  if (!rest->empty() || facets.empty()) facets.push_back(std::move(rest));
  return merged(facets);
}

// The strips of a plan, lowered.
void lower(const StripPlan& plan, const std::vector<StripArea>& strips, Stripped& made) {
  std::vector<Vec3> points(plan.land->points().begin(), plan.land->points().end());
  made.before = plan.parts;
  auto point = points.begin();
  for (std::size_t i = 0; i < strips.size(); ++i) {
    made.parts.push_back(plan.parts[i] ? quantity::shifted(*plan.parts[i], -strips[i].strip->depth) : nullptr);
    for (std::size_t n = plan.parts[i] ? plan.parts[i]->points().size() : 0; n > 0; --n, ++point)
      point->z += -strips[i].strip->depth;
  }
  made.tin = ground::atLevels(*plan.land, std::move(points));
}

}  // namespace

std::vector<std::size_t> byDepth(const std::vector<StripArea>& strips) {
  std::vector<std::size_t> order(strips.size());
  std::iota(order.begin(), order.end(), std::size_t{0});
  std::stable_sort(order.begin(), order.end(),
                   [&](std::size_t a, std::size_t b) { return strips[a].strip->depth > strips[b].strip->depth; });
  return order;
}

StripPlan planOf(const Tin& ground, const std::vector<StripArea>& strips, const Progress& progress) {
  StripPlan plan;
  plan.parts.resize(strips.size());
  plane::Areas taken;
  for (const std::size_t i : byDepth(strips)) {
    const plane::Areas own = plane::without(strips[i].area, taken);
    if (own.empty()) continue;
    TinPtr inside = ground::keepInside(ground, own, progress);
    if (!inside->empty()) plan.parts[i] = std::move(inside);
    taken.insert(taken.end(), strips[i].area.begin(), strips[i].area.end());
    taken = plane::united(taken);
  }
  plan.land = withRest(plan.parts, ground, strips, progress);
  return plan;
}

Stripped stripped(const TinPtr& ground, const std::vector<StripArea>& areas, const Progress& progress,
                  const FindPlan& plan) {
  Stripped made;
  const plane::Areas cover = ground::coverOf(*ground);
  std::vector<StripArea> strips = areas;
  for (StripArea& strip : strips) strip.area = overBorder(strip.area, cover);
  if (std::all_of(strips.begin(), strips.end(), [](const StripArea& s) { return s.strip->pits.empty(); })) {
    lower(plan ? *plan(strips) : planOf(*ground, strips, progress), strips, made);
  } else {
    made.parts = partsByPits(*ground, strips, progress);
    made.before.resize(strips.size());
    made.tin = withRest(made.parts, *ground, strips, progress);
  }
  plane::Areas taken;
  for (const StripArea& strip : areas) {
    const plane::Areas both = plane::common(taken, strip.area);
    if (plane::area(both) > 0) {
      made.twice += plane::area(both);
      made.twiceAt = both.front().outer.front();
    }
    taken.insert(taken.end(), strip.area.begin(), strip.area.end());
    taken = plane::united(taken);
  }
  const auto isNone = [](const TinPtr& part) { return !part; };
  if (std::all_of(made.parts.begin(), made.parts.end(), isNone)) made.tin = ground;
  return made;
}

}  // namespace inselberg::works
