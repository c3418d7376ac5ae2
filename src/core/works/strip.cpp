// Strips of one depth are parted in plan: the deeper first, each without what those before it took. Where depths come
// from pits, each strip is a thin surface of its depths over its area, in triangles fine enough; the highest of them
// all is what is taken off, and each of its triangles belongs to the first strip that has that depth there.
#include "works/strip.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "ground/clip.h"
#include "ground/recut.h"
#include "ground/stamp.h"
#include "ground/subset.h"
#include "plane/inside.h"
#include "quantity/combine.h"
#include "works/footprint.h"
#include "works/own_area.h"
#include "works/pit_depths.h"

namespace inselberg::works {
namespace {

using ground::Index;
using ground::kNone;
using ground::Tin;
using ground::TinPtr;
constexpr double kDepthError = 1.5e-3;  // m, of the triangles over depths from pits

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
  ground::TinParts parts;
  constexpr int kRounds = 14;
  for (int round = 0; round < kRounds; ++round) {
    const ground::Triangulation made = ground::triangulate(points, edges, progress);
    parts = {};
    for (const Vec2 p : made.points) parts.points.push_back({p.x, p.y, depthAt(p)});
    std::vector<Vec2> finer;
    for (const ground::Triangle& t : made.triangles) {
      const Vec3 &a = parts.points[t[0]], &b = parts.points[t[1]], &c = parts.points[t[2]];
      const Vec2 middle = (1.0 / 3) * (a.plan() + b.plan() + c.plan());
      if (!inside(middle)) continue;
      parts.triangles.push_back(t);
      if (one || round + 1 == kRounds) continue;
      const auto check = [&](Vec2 p, double level) {
        if (std::abs(depthAt(p) - level) > kDepthError) finer.push_back(p);
      };
      check(middle, (a.z + b.z + c.z) / 3);
      check(0.5 * (a.plan() + b.plan()), (a.z + b.z) / 2);
      check(0.5 * (b.plan() + c.plan()), (b.z + c.z) / 2);
      check(0.5 * (c.plan() + a.plan()), (c.z + a.z) / 2);
    }
    if (finer.empty()) break;
    points.insert(points.end(), finer.begin(), finer.end());
  }
  ground::dropUnusedPoints(parts);
  return std::make_shared<Tin>(std::move(parts));
}

// The ground less the depths, where both are.
TinPtr loweredBy(const Tin& ground, const Tin& depths, const Progress& progress) {
  std::vector<ground::Line2> lines;
  for (Index t = 0; t < depths.triangles().size(); ++t) {
    for (int k = 0; k < 3; ++k) {
      const Index other = depths.neighbours()[t][static_cast<std::size_t>(k)];
      if (other != kNone && other < t) continue;
      const auto& c = depths.triangles()[t];
      lines.push_back({depths.plan(c[static_cast<std::size_t>(ground::next(k))]),
                       depths.plan(c[static_cast<std::size_t>(ground::before(k))])});
    }
  }
  std::vector<char> touched(ground.triangles().size());
  for (Index t = 0; t < touched.size(); ++t) {
    plane::Box box;
    for (const auto& c : ground.corners(t)) box.add(c.plan());
    touched[t] = box.overlaps(depths.bounds());
  }
  const ground::Triangulation cut = ground::recut(ground, touched, lines, progress);
  const std::vector<int> groups(cut.triangles.size(), 0);
  SurfaceMaker surface(cut);
  for (Index f = 0; f < cut.triangles.size(); ++f) {
    if ((f & 0xfff) == 0) progress.check();
    const Vec2 c = ground::centroid(cut, f);
    const Index t = ground.locate(c), d = depths.locate(c);
    if (t == kNone || d == kNone) continue;
    const ground::Plane level = ground::planeOf(ground.corners(t)), depth = ground::planeOf(depths.corners(d));
    surface.add(f, {c, level(c) - depth(c), level.gradient - depth.gradient}, groups);
  }
  return std::make_shared<Tin>(surface.finish());
}

std::vector<TinPtr> partsOfOneDepth(const Tin& ground, const std::vector<StripArea>& strips, const Progress& progress) {
  std::vector<std::size_t> order(strips.size());
  std::iota(order.begin(), order.end(), std::size_t{0});
  std::stable_sort(order.begin(), order.end(),
                   [&](std::size_t a, std::size_t b) { return strips[a].strip->depth > strips[b].strip->depth; });
  std::vector<TinPtr> parts(strips.size());
  plane::Areas taken;
  for (const std::size_t i : order) {
    const plane::Areas own = plane::without(strips[i].area, taken);
    if (own.empty()) continue;
    const TinPtr inside = ground::keepInside(ground, own, progress);
    if (!inside->empty()) parts[i] = quantity::shifted(*inside, -strips[i].strip->depth);
    taken.insert(taken.end(), strips[i].area.begin(), strips[i].area.end());
    taken = plane::united(taken);
  }
  return parts;
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
  for (Index t = 0; t < all->triangles().size(); ++t) {
    const Vec2 c = ground::centroid(*all, t);
    const double depth = most->levelAt(c).value_or(0);
    for (std::size_t i = 0; i < strips.size() && ruler[t] == strips.size(); ++i) {
      const auto own = depths[i] ? depths[i]->levelAt(c) : std::nullopt;
      if (own && std::abs(*own - depth) < 1e-9) ruler[t] = i;
    }
  }
  for (std::size_t i = 0; i < strips.size(); ++i) {
    TinPtr part = ground::subset(*all, [&](Index t) { return ruler[t] == i; });
    if (!part->empty()) parts[i] = std::move(part);
  }
  return parts;
}

}  // namespace

Stripped stripped(const TinPtr& ground, const std::vector<StripArea>& strips, const Progress& progress) {
  Stripped made;
  const bool pits =
      std::any_of(strips.begin(), strips.end(), [](const StripArea& s) { return !s.strip->pits.empty(); });
  made.parts = pits ? partsByPits(*ground, strips, progress) : partsOfOneDepth(*ground, strips, progress);
  plane::Areas taken;
  for (const StripArea& strip : strips) {
    const plane::Areas both = plane::common(taken, strip.area);
    if (plane::area(both) > 0) {
      made.twice += plane::area(both);
      made.twiceAt = both.front().outer.front();
    }
    taken.insert(taken.end(), strip.area.begin(), strip.area.end());
    taken = plane::united(taken);
  }
  std::vector<TinPtr> facets;
  for (const TinPtr& part : made.parts) {
    if (part) facets.push_back(part);
  }
  made.tin = facets.empty() ? ground : ground::stamp(*ground, *merged(facets), progress);
  return made;
}

}  // namespace inselberg::works
