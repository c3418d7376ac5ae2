// A bath is a form of the one engine, placed on level land above it all: the bottom is its top, a level leg the margin,
// the batter in cut the back slope. Cut to where it lies below the ground it is the undercut.
#include "works/undercut.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>
#include <tuple>

#include "ground/border.h"
#include "ground/clip.h"
#include "ground/lying_over.h"
#include "ground/recut.h"
#include "ground/subset.h"
#include "plane/linework.h"
#include "quantity/combine.h"
#include "works/footprint.h"
#include "works/kind.h"
#include "works/line_works.h"
#include "works/stepped_border.h"
#include "works/works.h"

namespace inselberg::works {
namespace {

using ground::Index;
using ground::kNone;
using ground::Tin;
using ground::TinPtr;

constexpr double kMargin = 1e-5;  // m: the bottom is drawn in by so much, its border being that of a wall perhaps

// Level land around a box, 1 m above what has to lie below it.
TinPtr levelLand(const plane::Box& box, double reach, double upTo) {
  const plane::Box wide = box.grown(reach);
  const double z = upTo + 1;
  ground::TinParts parts;
  parts.points = {
      {wide.minX, wide.minY, z}, {wide.maxX, wide.minY, z}, {wide.maxX, wide.maxY, z}, {wide.minX, wide.maxY, z}};
  parts.triangles = {{0, 1, 2}, {0, 2, 3}};
  return std::make_shared<Tin>(std::move(parts));
}

// Points that all but lie on each other become one in plan. Where steps of a bottom come to its border, corners some
// tenths of a millimetre apart would each have rays of their own, which cross each other hundreds of times.
TinPtr welded(const TinPtr& tin) {
  constexpr double kApart = 2e-4, kStep = 5e-4;  // m
  plane::Linework places(kApart);
  std::map<Index, std::vector<Index>> at;  // points at a place, at levels of their own
  ground::TinParts parts;
  std::vector<Index> now(tin->points().size()), order(now.size());
  std::iota(order.begin(), order.end(), Index{0});
  // By their places, so that it does not matter how the bottom came about.
  std::ranges::sort(order, {},
                    [&](Index i) { return std::tuple(tin->points()[i].x, tin->points()[i].y, tin->points()[i].z); });
  for (const Index i : order) {
    const Vec3& p = tin->points()[i];
    const Index place = places.addPoint(p.plan());
    std::vector<Index>& here = at[place];
    const auto same = std::ranges::find_if(here, [&](Index k) { return std::abs(parts.points[k].z - p.z) < kStep; });
    now[i] = same != here.end() ? *same : static_cast<Index>(parts.points.size());
    if (same != here.end()) continue;
    here.push_back(now[i]);
    parts.points.push_back({places.points()[place].x, places.points()[place].y, p.z});
  }
  if (places.points().size() == now.size()) return tin;
  for (const ground::Triangle& t : tin->triangles()) {
    const ground::Triangle corners{now[t[0]], now[t[1]], now[t[2]]};
    const auto plan = [&](std::size_t k) { return parts.points[corners[k]].plan(); };
    if (plane::turn(plan(0), plan(1), plan(2)) > 0) parts.triangles.push_back(corners);
  }
  if (parts.triangles.empty()) return tin;
  ground::dropUnusedPoints(parts);
  return std::make_shared<Tin>(std::move(parts));
}

// A corner of a crest.
struct Corner {
  Vec3 place;
  bool step;  // beyond the edge to the next one the bottom goes on at another level
};

// Without the points that lie on the line between those beside them: what is left are true corners, changes of grade,
// and where steps end.
std::vector<Corner> straightened(std::vector<Corner> kept) {
  constexpr double kOff = 2e-5, kOffLevel = 1e-6;  // m
  for (bool dropped = true; dropped && kept.size() > 3;) {
    dropped = false;
    for (std::size_t i = 0; i < kept.size() && kept.size() > 3; ++i) {
      const Corner& before = kept[(i + kept.size() - 1) % kept.size()];
      const Vec3 &a = before.place, &p = kept[i].place, &b = kept[(i + 1) % kept.size()].place;
      const auto near = plane::nearestOnSegment(p.plan(), a.plan(), b.plan());
      if (near.distance > kOff || std::abs(a.z + near.along * (b.z - a.z) - p.z) > kOffLevel) continue;
      if (before.step != kept[i].step) continue;
      kept.erase(kept.begin() + static_cast<std::ptrdiff_t>(i));
      --i;
      dropped = true;
    }
  }
  return kept;
}

std::vector<std::vector<Vec3>> crestsOf(const Tin& bottom) {
  std::vector<std::vector<Vec3>> crests;
  for (const auto& loop : ground::borderLoops(bottom.triangles(), bottom.neighbours())) {
    std::vector<Corner> corners;
    for (std::size_t i = 0; i < loop.size(); ++i) {
      const Index a = loop[i], b = loop[(i + 1) % loop.size()];
      corners.push_back({bottom.points()[a], goesOnBeyond(bottom, bottom.plan(a), bottom.plan(b))});
    }
    crests.emplace_back();
    for (const Corner& c : straightened(std::move(corners))) crests.back().push_back(c.place);
  }
  return crests;
}

// The plane that a surface lies in, to rounding; nothing when it is bent.
std::optional<ground::Plane> planeThrough(const Tin& tin) {
  Index largest = 0;
  double most = 0;
  for (Index t = 0; t < tin.triangles().size(); ++t) {
    const auto c = tin.corners(t);
    const double area = plane::turn(c[0].plan(), c[1].plan(), c[2].plan());
    if (area > most) most = area, largest = t;
  }
  constexpr double kBent = 1e-7;  // m
  const ground::Plane plane = ground::planeOf(tin.corners(largest));
  for (const Vec3& p : tin.points()) {
    if (std::abs(plane(p.plan()) - p.z) > kBent) return std::nullopt;
  }
  return plane;
}

// The triangle of a ground that a smaller one lies in: asked inside it, off what is narrow, whose plane may be steep.
Index wideAt(const Tin& tin, const std::array<Vec3, 3>& corners) {
  const Vec2 middle = (1.0 / 3) * (corners[0].plan() + corners[1].plan() + corners[2].plan());
  Index first = kNone;
  for (const Vec2 p : {middle, 0.6 * middle + 0.4 * corners[0].plan(), 0.6 * middle + 0.4 * corners[1].plan(),
                       0.6 * middle + 0.4 * corners[2].plan()}) {
    const Index t = tin.locate(p);
    if (t == kNone) continue;
    if (!ground::isNarrow(tin.corners(t))) return t;
    if (first == kNone) first = t;
  }
  return first;
}

}  // namespace

TinPtr bathOver(const Bottom& bottom, double wider, double backSlope, double upTo, const Progress& progress) {
  TinPtr top = bottom.tin;
  std::vector<std::vector<Vec3>> crests = crestsOf(*top);
  if (crests.size() > 1) top = welded(top), crests = crestsOf(*top);
  Form form;
  form.tops = {{{}, {}, top}};
  if (const auto plane = crests.size() == 1 ? planeThrough(*top) : std::nullopt) {
    plane::Ring ring;
    for (const Vec3& p : crests[0]) ring.push_back(p.plan());
    form.tops = {{ring, *plane, nullptr}};
  }
  form.crests.corners = bottom.corners;
  form.cornersLevel = true;
  form.crests.chordError = 1e-3;
  form.rule = Rule::tops;
  const Section section{legOut(wider + kMargin), legToGround(backSlope, backSlope)};
  form.crests.lines = linesAround(*top, crests, {{0, {{}, section}}});
  const double reach = wider + (upTo + 2 - top->minLevel()) * backSlope + 10;
  form.reach = 12 * reach;
  const TinPtr land = levelLand(top->bounds(), form.reach, upTo);
  return placeForm(*land, form, {}, progress).facets;
}

TinPtr bathAlong(const Places& line, const Stations& levels, double width, double backSlope, double upTo,
                 const Progress& progress) {
  Swale swale;
  swale.line = line, swale.width = width;
  swale.by = SwaleBy::levels, swale.levels = levels;
  swale.slope = Slope::horizontalPerVertical(backSlope);
  plane::Box box;
  for (const Vec2 p : line) box.add(p);
  double lowest = upTo;
  for (const Station& s : levels) lowest = std::min(lowest, s[1]);
  const TinPtr land = levelLand(box, width + (upTo + 2 - lowest) * backSlope + 10, upTo);
  return place(swale, *land, {}, progress).facets;
}

Dug dug(const TinPtr& ground, const std::vector<TinPtr>& baths, const Progress& progress) {
  constexpr double kApart = 0.1;  // m
  Dug made{ground, nullptr, nullptr};
  std::vector<TinPtr> dugBy;
  std::vector<std::vector<TinPtr>> apart;  // those that keep clear of each other are dug at once
  for (TinPtr bath : baths) {
    const bool off = std::any_of(bath->points().begin(), bath->points().end(),
                                 [&](const Vec3& p) { return ground->locate(p.plan()) == kNone; });
    if (off) bath = ground::keepInside(*bath, ground::coverOf(*ground), progress);
    if (bath->empty()) continue;
    dugBy.push_back(bath);
    const plane::Box reach = bath->bounds().grown(kApart);
    const auto clear = std::ranges::find_if(apart, [&](const auto& group) {
      return std::ranges::none_of(group, [&](const TinPtr& other) { return other->bounds().overlaps(reach); });
    });
    if (clear == apart.end()) {
      apart.push_back({bath});
    } else {
      clear->push_back(bath);
    }
  }
  for (const auto& group : apart)
    made.tin = quantity::combined(*made.tin, *merged(group), quantity::Combine::lower, progress);
  if (made.tin == ground) return made;
  constexpr double kLower = 1e-7;  // m
  const auto over = ground::lastOver(*made.tin, dugBy, progress);
  const auto after = ground::subset(*made.tin, [&](Index t) {
    if (over[t] == kNone) return false;
    const Vec2 c = ground::centroid(*made.tin, t);
    const auto corners = made.tin->corners(t);
    if (!(plane::turn(corners[0].plan(), corners[1].plan(), corners[2].plan()) > 0)) return false;
    const Index was = wideAt(*ground, corners);
    if (was == kNone) return false;
    return ground::planeOf(ground->corners(was))(c) - (corners[0].z + corners[1].z + corners[2].z) / 3 >= kLower;
  });
  if (after->empty()) return {ground, nullptr, nullptr};
  made.after = after;
  made.before = ground::keepBeneath(*ground, *after, progress);
  return made;
}

}  // namespace inselberg::works
