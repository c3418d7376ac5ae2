// Strips of one depth are parted in plan: the deeper first, each without what those before it took. Where depths come
// from pits, each strip is a thin surface of its depths over its area, in triangles fine enough; the highest of them
// all is what is taken off, and each of its triangles belongs to the first strip that has that depth there. The ground
// is cut along their sides only where it would not follow them whole: as it is mostly finer than they are, it is
// seldom.
#include "works/strip.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numeric>
#include <optional>

#include "base/parallel.h"
#include "ground/border.h"
#include "ground/clip.h"
#include "ground/each_side.h"
#include "ground/recut.h"
#include "ground/subset.h"
#include "ground/tin_index.h"
#include "plane/offset.h"
#include "quantity/combine.h"
#include "works/depth_surface.h"
#include "works/footprint.h"
#include "works/pit_depths.h"

namespace inselberg::works {
namespace {

using ground::Index;
using ground::kNone;
using ground::Tin;
using ground::TinPtr;

// Of a strip, over its area and where it rules.
struct Depths {
  TinPtr all, ruling;
};

// Which of a ground's triangles are so crossed by the sides of depths that, left whole, they would miss them by more
// than they may; those along the depths' border always.
std::vector<char> bentIn(const Tin& ground, const Depths& depths, const Progress& progress) {
  constexpr double kMissed = 1e-3;  // m
  std::vector<char> bent = ground::touchedBy(ground, ground::borderOf(*depths.ruling), progress);
  const std::vector<char> over = ground::touchedBy(ground, *depths.ruling, ground::kSnap, progress);
  // The depths at the points of the others.
  std::vector<double> at(ground.points().size(), std::numeric_limits<double>::quiet_NaN());
  for (Index t = 0; t < over.size(); ++t) {
    if (!over[t] || bent[t]) continue;
    for (const Index v : ground.triangles()[t]) at[v] = 0;
  }
  parallelChunks(at.size(), 1024, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    Index near = kNone;
    for (std::size_t v = begin; v < end; ++v) {
      if (std::isnan(at[v])) continue;
      const Vec2 p = ground.plan(static_cast<Index>(v));
      const Index t = depths.all->locate(p, near);
      if (t != kNone) at[v] = ground::planeOf(depths.all->corners(t))(p);
    }
  });
  std::vector<std::pair<Vec3, Vec3>> sides;
  ground::eachSide(*depths.ruling, [&](Index a, Index b) {
    sides.emplace_back(depths.ruling->points()[a], depths.ruling->points()[b]);
  });
  const auto found =
      parallelMap<std::vector<Index>>(sides.size(), 64, progress, [&](std::size_t begin, std::size_t end) {
        std::vector<Index> missing;
        for (std::size_t i = begin; i < end; ++i) {
          const auto& [a, b] = sides[i];
          const ground::Line2 line{a.plan(), b.plan()};
          ground.index().touching(std::array{line.a, line.b}, ground::kSnap, [&](Index t) {
            if (bent[t]) return;
            std::array<Vec3, 3> corners = ground.corners(t);
            const auto near = ground::nearTriangle(line, corners, ground::kSnap);
            if (!near) return;
            for (std::size_t k = 0; k < 3; ++k) corners[k].z = at[ground.triangles()[t][k]];
            const auto plane = ground::planeOf(corners);
            for (const double along : {near->first, near->second}) {
              const Vec2 p = line.a + along * (line.b - line.a);
              if (!(std::abs(a.z + along * (b.z - a.z) - plane(p)) < kMissed)) missing.push_back(t);
            }
          });
        }
        return missing;
      });
  for (const auto& missing : found) {
    for (const Index t : missing) bent[t] = 1;
  }
  return bent;
}

// The ground beneath depths, in triangles on each of which they are nearly a plane.
TinPtr landUnder(const Tin& ground, const Depths& depths, const Progress& progress) {
  const std::vector<char> bent = bentIn(ground, depths, progress);
  const auto lines = ground::partsWhere(
      ground::sidesOf(*depths.ruling), ground::sidesOf(ground, bent),
      [&](std::size_t, Vec2 middle, double) {
        const Index t = ground.locate(middle);
        return t != kNone && bent[t];
      },
      progress);
  return ground::keepBeneath(ground, *depths.ruling, lines, progress);
}

// The depths of each strip where it rules: the greatest of all, the first of equals.
std::vector<Depths> depthsOf(const std::vector<StripArea>& strips, const Progress& progress) {
  std::vector<Depths> depths(strips.size());
  TinPtr most;
  for (std::size_t i = 0; i < strips.size(); ++i) {
    if (strips[i].area.empty()) continue;
    depths[i].all = depths[i].ruling = depthsOver(strips[i], progress);
    most = most ? quantity::combined(*most, *depths[i].all, quantity::Combine::higher, progress) : depths[i].all;
  }
  if (std::ranges::count(depths, nullptr, &Depths::all) + 1 >= std::ssize(depths)) return depths;
  std::vector<std::size_t> ruler(most->triangles().size());
  parallelChunks(ruler.size(), 512, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    for (std::size_t t = begin; t < end; ++t) {
      constexpr double kAlike = 1e-9;  // m
      const Vec2 c = ground::centroid(*most, static_cast<Index>(t));
      double greatest = -1;
      for (std::size_t i = 0; i < strips.size(); ++i) {
        const auto own = depths[i].all ? depths[i].all->levelAt(c) : std::nullopt;
        if (own && *own > greatest + kAlike) greatest = *own, ruler[t] = i;
      }
    }
  });
  for (std::size_t i = 0; i < strips.size(); ++i) {
    if (depths[i].all) depths[i].ruling = ground::subset(*most, [&](Index t) { return ruler[t] == i; });
  }
  return depths;
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

StripPlan planByPits(const Tin& ground, const std::vector<StripArea>& strips, const std::vector<Depths>& depths,
                     const Progress& progress) {
  StripPlan plan;
  for (const Depths& own : depths) {
    TinPtr part = own.ruling ? landUnder(ground, own, progress) : nullptr;
    plan.parts.push_back(part && !part->empty() ? std::move(part) : nullptr);
  }
  plan.land = withRest(plan.parts, ground, strips, progress);
  return plan;
}

// The strips of a plan, lowered by what depthAt(strip, place) says.
template <class DepthAt>
void lower(const StripPlan& plan, DepthAt&& depthAt, const Progress& progress, Stripped& made) {
  std::vector<Vec3> points(plan.land->points().begin(), plan.land->points().end());
  made.before = plan.parts;
  std::size_t first = 0;
  for (std::size_t i = 0; i < plan.parts.size(); ++i) {
    if (!plan.parts[i]) {
      made.parts.push_back(nullptr);
      continue;
    }
    const std::size_t n = plan.parts[i]->points().size();
    parallelChunks(n, 1024, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
      for (std::size_t v = first + begin; v < first + end; ++v) points[v].z -= depthAt(i, points[v].plan());
    });
    const auto own = points.begin() + static_cast<std::ptrdiff_t>(first);
    made.parts.push_back(
        ground::atLevels(*plan.parts[i], std::vector<Vec3>(own, own + static_cast<std::ptrdiff_t>(n))));
    first += n;
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
  if (std::ranges::all_of(strips, [](const StripArea& s) { return s.strip->pits.empty(); })) {
    const auto depthAt = [&](std::size_t i, Vec2) { return strips[i].strip->depth; };
    lower(plan ? *plan(strips) : planOf(*ground, strips, progress), depthAt, progress, made);
  } else {
    const std::vector<Depths> depths = depthsOf(strips, progress);
    // Rounding may take a corner of the cut ground out over the border of the depths.
    std::vector<std::optional<PitDepths>> rules(strips.size());
    for (std::size_t i = 0; i < strips.size(); ++i) {
      if (!strips[i].strip->pits.empty()) rules[i].emplace(strips[i].strip->pits);
    }
    const auto depthAt = [&](std::size_t i, Vec2 p) {
      if (!rules[i]) return strips[i].strip->depth;
      const auto depth = depths[i].all->levelAt(p);
      return depth ? *depth : rules[i]->at(p);
    };
    lower(planByPits(*ground, strips, depths, progress), depthAt, progress, made);
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
