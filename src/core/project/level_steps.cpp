// Borders are noded together; each piece asks which area lies on either side of its middle. Pieces of one level are
// joined end to end into contours.
#include "project/level_steps.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "base/error.h"
#include "ground/recut.h"
#include "ground/triangulate.h"
#include "plane/box_index.h"
#include "plane/inside.h"
#include "plane/linework.h"
#include "plane/offset.h"
#include "plane/overlay.h"
#include "project/build_sources.h"
#include "project/features.h"

namespace inselberg::project {
namespace {

using plane::Vec2;
using plane::Vec3;

constexpr double kAside = 2e-3;  // m: how far beside a border the area there is looked for

// Of what they may reach, with their space.
plane::BoxIndex boxesOf(const std::vector<FlatArea>& areas) {
  std::vector<plane::Box> boxes;
  for (const FlatArea& area : areas) boxes.push_back(plane::boundsOf(area.outline).grown(area.space));
  return plane::BoxIndex(std::move(boxes));
}

// Which area lies at a place; the later where several do.
class AreaAt {
 public:
  explicit AreaAt(const std::vector<FlatArea>& areas) : boxes_(boxesOf(areas)) {
    for (const FlatArea& area : areas) inside_.emplace_back(area.outline);
  }
  std::optional<std::size_t> operator()(Vec2 p) const {
    std::optional<std::size_t> found;
    boxes_.overlapping({p.x, p.y, p.x, p.y}, [&](std::size_t i) {
      if ((!found || i > *found) && inside_[i](p)) found = i;
    });
    return found;
  }

 private:
  plane::BoxIndex boxes_;
  std::vector<plane::Inside> inside_;
};

using Sides = std::vector<std::pair<std::uint32_t, std::uint32_t>>;

// Joins sides end to end where two meet, whichever way they run.
std::vector<std::vector<std::uint32_t>> joined(const Sides& sides) {
  std::map<std::uint32_t, std::vector<std::size_t>> at;
  for (std::size_t i = 0; i < sides.size(); ++i) at[sides[i].first].push_back(i), at[sides[i].second].push_back(i);
  std::vector<char> used(sides.size(), 0);
  std::vector<std::vector<std::uint32_t>> lines;
  const auto follow = [&](std::uint32_t start) {
    std::vector<std::uint32_t> line{start};
    while (true) {
      const auto& here = at[line.back()];
      if (line.size() > 1 && here.size() != 2) break;
      const auto next = std::find_if(here.begin(), here.end(), [&](std::size_t i) { return !used[i]; });
      if (next == here.end()) break;
      used[*next] = 1;
      line.push_back(sides[*next].first == line.back() ? sides[*next].second : sides[*next].first);
    }
    return line;
  };
  const auto begin = [&](bool atEnds) {
    for (const auto& [point, here] : at) {
      if (atEnds && here.size() == 2) continue;
      while (std::any_of(here.begin(), here.end(), [&](std::size_t i) { return !used[i]; }))
        lines.push_back(follow(point));
    }
  };
  begin(true);
  begin(false);
  return lines;
}

// What borders an area: contours by their levels, and the vertices where no other area lies beyond.
struct Around {
  std::map<double, std::vector<plane::Segment2>> contours;
  std::set<std::uint32_t> outer;
};

void addSpots(std::vector<Vec3>& spots, const FlatArea& area, const Around& around, const plane::Linework& work) {
  if (around.contours.size() > 1) return;
  if (!around.contours.empty() && around.outer.empty()) {
    const Vec2 p = plane::placeIn({area.outline, {}});
    spots.push_back({p.x, p.y, area.level});
    return;
  }
  // How far a vertex is from the contour; all alike without one.
  const auto distance = [&](Vec2 p) {
    double nearest = around.contours.empty() ? 1 : 1e300;
    for (const auto& [level, sides] : around.contours) {
      for (const auto& side : sides) nearest = std::min(nearest, plane::nearestOnSegment(p, side.a, side.b).distance);
    }
    return nearest;
  };
  double farthest = ground::kSnap;
  for (const auto v : around.outer) farthest = std::max(farthest, distance(work.points()[v]));
  const double from = around.contours.empty() ? area.level : around.contours.begin()->first;
  for (const auto v : around.outer) {
    const Vec2 p = work.points()[v];
    const double away = distance(p);
    if (away > ground::kSnap) spots.push_back({p.x, p.y, from + 2 * (area.level - from) * away / farthest});
  }
}

// With its working space.
plane::Areas reachOf(const FlatArea& area) {
  const plane::Polygon own{area.outline, {}};
  if (area.space > 0) return plane::offset(own, area.space, plane::OffsetCorners::round);
  return {own};
}

std::vector<plane::Polygon> polygonsOf(const std::vector<FlatArea>& areas) {
  std::vector<plane::Polygon> polygons;
  for (const FlatArea& area : areas) polygons.push_back({area.outline, {}});
  return polygons;
}

}  // namespace

std::vector<FlatArea> flatAreasOf(const Project& project) {
  std::vector<FlatArea> areas;
  for (const auto& w : project.ground(project.finished())->works) {
    const auto* area = w->shape.as<works::LevelArea>();
    if (w->leftOut || !area) continue;
    double level = area->level;
    for (const works::Adjustment& a : area->adjust) level += a.by;
    areas.push_back({area->outline, level, area->space});
  }
  return areas;
}

SourceData stepped(const std::vector<FlatArea>& areas) {
  SourceData data;
  std::vector<Vec3> points;
  std::vector<ground::Triangle> triangles;
  std::vector<plane::Areas> reaches;
  for (const FlatArea& area : areas) reaches.push_back(reachOf(area));
  const plane::BoxIndex boxes = boxesOf(areas);
  for (std::size_t i = 0; i < areas.size(); ++i) {
    // What later ones cover is taken off.
    std::vector<plane::Polygon> later;
    boxes.overlapping(boxes[i], [&](std::size_t j) {
      if (j > i) later.insert(later.end(), reaches[j].begin(), reaches[j].end());
    });
    for (const plane::Polygon& part : plane::without(reaches[i], plane::united(later))) {
      plane::Linework work(ground::kSnap);
      const auto add = [&](const plane::Ring& ring) {
        for (std::size_t k = 0; k < ring.size(); ++k) work.addSegment(ring[k], ring[(k + 1) % ring.size()], 0);
      };
      add(part.outer);
      for (const plane::Ring& hole : part.holes) add(hole);
      work.node();
      const ground::Triangulation made = ground::triangulate(work, {});
      const plane::Inside inside(part);
      const auto first = static_cast<ground::Index>(points.size());
      for (const Vec2 p : made.points) points.push_back({p.x, p.y, areas[i].level});
      for (ground::Index t = 0; t < made.triangles.size(); ++t) {
        if (!inside(ground::centroid(made, t))) continue;
        const ground::Triangle& c = made.triangles[t];
        triangles.push_back({first + c[0], first + c[1], first + c[2]});
      }
    }
  }
  data.modelPoints = std::move(points), data.modelTriangles = std::move(triangles);
  return data;
}

SourceData smoothed(const std::vector<FlatArea>& areas) {
  plane::Linework work(ground::kSnap);
  for (const FlatArea& area : areas) {
    for (std::size_t k = 0; k < area.outline.size(); ++k)
      work.addSegment(area.outline[k], area.outline[(k + 1) % area.outline.size()], 0);
  }
  work.nodeCrossings();
  const AreaAt areaAt(areas);
  std::map<double, Sides> contours;
  std::vector<Around> around(areas.size());
  for (const auto& s : work.segments()) {
    const Vec2 a = work.points()[s.a], b = work.points()[s.b];
    const Vec2 middle = 0.5 * (a + b), aside = kAside * plane::rightOf(plane::unit(b - a));
    const auto left = areaAt(middle - aside), right = areaAt(middle + aside);
    if (!left && !right) continue;
    if (!left || !right) {
      around[left ? *left : *right].outer.insert({s.a, s.b});
    } else if (areas[*left].level != areas[*right].level) {
      const double level = (areas[*left].level + areas[*right].level) / 2;
      contours[level].emplace_back(s.a, s.b);
      for (const std::size_t i : {*left, *right}) around[i].contours[level].push_back({a, b});
    }
  }
  SourceData data;
  std::vector<ground::Breakline> lines;
  for (const auto& [level, sides] : contours) {
    for (const auto& points : joined(sides)) {
      ground::Breakline line;
      line.contour = true;
      line.closed = points.size() > 3 && points.front() == points.back();
      for (const auto p : points) line.vertices.push_back({work.points()[p].x, work.points()[p].y, level});
      if (line.closed) line.vertices.pop_back();
      lines.push_back(std::move(line));
    }
  }
  data.breaklines = std::move(lines);
  std::vector<Vec3> spots;
  for (std::size_t i = 0; i < areas.size(); ++i) addSpots(spots, areas[i], around[i], work);
  data.points = std::move(spots);
  data.boundaries = plane::united(polygonsOf(areas));
  return data;
}

std::optional<double> levelBetweenContours(const Project& project, const plane::Ring& outline) {
  std::set<double> levels;
  for (const Vec2 p : outline) {
    const auto met = meet(project, p, 1e-6, [](const Source& s) { return !s.hidden; });
    if (!met || met->feature.kind != FeatureKind::line) continue;
    const auto line = shapeOf(project, met->feature);
    if (line && line->contour) levels.insert(line->vertices.front().z);
  }
  if (levels.size() != 2) return std::nullopt;
  return (*levels.begin() + *levels.rbegin()) / 2;
}

ground::BuildRules smoothRules() {
  ground::BuildRules rules;
  rules.cureFlats = true;
  return rules;
}

SteppedAndSmooth steppedAndSmooth(const std::vector<FlatArea>& areas, const ground::Tin* from,
                                  const plane::Origin& origin, const Progress& progress) {
  if (areas.empty()) throw Error("there are no level areas", "draw some with Shape › Level area");
  SteppedAndSmooth made;
  const auto built = [&](SourceData data, const ground::BuildRules& rules) {
    const SourcePtr source = makeSource({}, {}, std::move(data));
    const Source* const one[] = {source.get()};
    return buildFromSources(one, rules, {}, origin, progress).tin;
  };
  made.stepped = built(stepped(areas), {});
  progress.check();
  made.smooth = built(smoothed(areas), smoothRules());
  if (!from) return made;
  plane::Areas reaches;
  for (const FlatArea& area : areas) {
    for (plane::Polygon& part : reachOf(area)) reaches.push_back(std::move(part));
  }
  made.steppedOver = quantity::volumeBetween(*from, *made.stepped, plane::united(reaches), progress);
  made.smoothOver = quantity::volumeBetween(*from, *made.smooth, plane::united(polygonsOf(areas)), progress);
  return made;
}

}  // namespace inselberg::project
