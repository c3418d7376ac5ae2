#include "canvas/snapping.h"

#include <cmath>

#include "project/areas.h"

namespace inselberg::app {
namespace {

using plane::Vec2;

using project::Side;

// Calls f(points, closed) for the outlines and lines of works that are not hidden, and for the areas of stages.
template <class F>
void eachOutline(const project::Project& project, F&& f) {
  for (const auto& g : project.column) {
    for (const auto& w : g->works) {
      if (w->hidden) continue;
      for (const works::PlacesField& places : works::placesOf(w->shape)) f(places.points, places.closed);
    }
  }
  for (const auto use : {project::AreaUse::strips, project::AreaUse::buildUps, project::AreaUse::regions}) {
    for (const project::DrawnArea& drawn : project::areasFor(project, use)) {
      f(drawn.area.outer, true);
      for (const plane::Ring& hole : drawn.area.holes) f(hole, true);
    }
  }
}

// The sides of works, areas and shown sources near a place.
std::vector<Side> sidesNear(const SnapTo& to, Vec2 at, double reach) {
  const project::Project& project = to.project;
  std::vector<Side> sides;
  const auto offer = [&](Vec2 a, Vec2 b) {
    if (plane::nearestOnSegment(at, a, b).distance <= reach) sides.push_back({a, b, 0, false});
  };
  eachOutline(project, [&](const plane::Ring& p, bool closed) {
    for (std::size_t i = 0; i + (closed ? 0 : 1) < p.size(); ++i) offer(p[i], p[(i + 1) % p.size()]);
  });
  for (const auto& s : project.sources) {
    if (s->hidden) continue;
    s->eachNear(plane::Box{at.x, at.y, at.x, at.y}.grown(reach), [&](const project::SourceIndex::Entry& e) {
      if (e.kind == project::FeatureKind::point) return;
      const Side side = project::sideOf(*s->data, e);
      const auto same = [&](const Side& known) { return known.a == side.a && known.b == side.b; };
      if (std::none_of(sides.begin(), sides.end(), same)) offer(side.a, side.b);
    });
  }
  // A drawing may be dense: beyond so many sides nothing can be told apart.
  constexpr std::size_t kMost = 400;
  for (const auto& sheet : to.sheets)
    sheet->eachNear(at, reach, [&](Vec2 a, Vec2 b) {
      if (sides.size() < kMost) offer(a, b);
    });
  return sides;
}

// Where two sides cross, or one ends on the other; nothing where they run the same way.
std::optional<Vec2> meetingOf(const Side& s, const Side& t) {
  constexpr double kOn = 1e-9;  // m
  if (std::abs(plane::cross(s.b - s.a, t.b - t.a)) < 1e-12) return std::nullopt;
  if (const auto along = plane::crossingAlong(s.a, s.b, t.a, t.b)) return s.a + *along * (s.b - s.a);
  for (const Vec2 end : {s.a, s.b}) {
    if (plane::nearestOnSegment(end, t.a, t.b).distance < kOn) return end;
  }
  for (const Vec2 end : {t.a, t.b}) {
    if (plane::nearestOnSegment(end, s.a, s.b).distance < kOn) return end;
  }
  return std::nullopt;
}

}  // namespace

double gridStep(double scale) {
  double step = 0.1;
  for (int i = 0; step * scale < 20 && i < 30; ++i) step *= i % 3 == 1 ? 2.5 : 2;
  return step;
}

std::optional<Vec2> snapped(const SnapTo& to, const SnapKinds& kinds, const SnapQuery& query) {
  const project::Project& project = to.project;
  const ground::Tin* survey = to.survey;
  std::optional<Vec2> best;
  double nearest = query.reach;
  const auto offer = [&](Vec2 p) {
    if (query.notTo && plane::distance(*query.notTo, p) < 1e-9) return;
    const double d = plane::distance(p, query.at);
    if (d < nearest) nearest = d, best = p;
  };
  if (kinds.corners) {
    eachOutline(project, [&](const plane::Ring& points, bool) {
      for (const Vec2 corner : points) offer(corner);
    });
    if (survey) {
      // Survey points are the corners of the existing ground's triangle under the pointer.
      if (const auto t = survey->locate(query.at); t != ground::kNone) {
        for (const auto& c : survey->corners(t)) offer(c.plan());
      }
    }
    const auto met = project::meet(project, query.at, query.reach, [](const project::Source& s) { return !s.hidden; });
    for (const auto& sheet : to.sheets)
      sheet->eachNear(query.at, query.reach, [&](Vec2 a, Vec2 b) { offer(a), offer(b); });
    if (met && met->vertex) offer(project::shapeOf(project, met->feature)->vertices[*met->vertex].plan());
  }
  if (best && !kinds.crossings) return best;
  if (!kinds.crossings && !kinds.sides && !kinds.squareOn && !kinds.grid) return best;
  const auto sides =
      kinds.crossings || kinds.sides || kinds.squareOn ? sidesNear(to, query.at, query.reach) : std::vector<Side>{};
  if (kinds.crossings) {
    for (std::size_t i = 0; i < sides.size(); ++i) {
      for (std::size_t j = i + 1; j < sides.size(); ++j) {
        if (const auto p = meetingOf(sides[i], sides[j])) offer(*p);
      }
    }
  }
  if (best) return best;
  if (kinds.squareOn && query.from) {
    for (const Side& s : sides) {
      const Vec2 d = s.b - s.a;
      const double t = plane::dot(*query.from - s.a, d) / std::max(plane::dot(d, d), 1e-18);
      if (t >= 0 && t <= 1) offer(s.a + t * d);
    }
    if (best) return best;
  }
  if (kinds.sides) {
    for (const Side& s : sides) offer(s.a + plane::nearestOnSegment(query.at, s.a, s.b).along * (s.b - s.a));
    if (best) return best;
  }
  if (kinds.grid) {
    const auto round = [&](double v, double origin) {
      return std::round((v + origin) / query.grid) * query.grid - origin;
    };
    return Vec2{round(query.at.x, project.origin.easting), round(query.at.y, project.origin.northing)};
  }
  return best;
}

}  // namespace inselberg::app
