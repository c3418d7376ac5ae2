#include "project/areas.h"

#include <algorithm>
#include <cmath>

#include "plane/box_index.h"

namespace inselberg::project {
namespace {

using plane::Polygon;
using plane::Ring;
using plane::Vec2;

constexpr double kNothing = 0.01;  // m2
constexpr double kNarrow = 1;      // m

double lengthOf(const Ring& ring) {
  double sum = 0;
  for (std::size_t i = 0; i < ring.size(); ++i) sum += plane::distance(ring[i], ring[(i + 1) % ring.size()]);
  return sum;
}

// As wide as a strip of its area and border would be.
double widthOf(const Polygon& polygon) {
  double border = lengthOf(polygon.outer);
  for (const Ring& hole : polygon.holes) border += lengthOf(hole);
  return 2 * plane::area(polygon) / border;
}

void add(Coverage& coverage, const plane::Areas& areas, CoveragePart::Kind kind, const std::string& which = {}) {
  for (const Polygon& shape : areas) {
    const double size = plane::area(shape);
    if (size >= kNothing) coverage.parts.push_back({kind, shape, size, plane::placeIn(shape), which});
  }
}

// What is claimed by two. By pairs whose boxes meet.
void addTwice(Coverage& coverage, const std::vector<DrawnArea>& areas) {
  std::vector<plane::Box> boxes;
  for (const DrawnArea& a : areas) boxes.push_back(plane::boundsOf(a.area.outer));
  const plane::BoxIndex index(std::move(boxes));
  for (std::size_t i = 0; i < areas.size(); ++i) {
    index.overlapping(index[i], [&](std::size_t j) {
      if (j <= i) return;
      add(coverage, plane::common({areas[i].area}, {areas[j].area}), CoveragePart::Kind::twice,
          areas[i].name + " and " + areas[j].name);
    });
  }
}

}  // namespace

std::vector<DrawnArea> areasFor(const Project& project, AreaUse use) {
  std::vector<DrawnArea> areas;
  switch (use) {
    case AreaUse::works:
      for (const auto& w : project.ground(project.finished())->works) {
        if (w->leftOut) continue;
        if (const Ring outline = works::outlineOf(w->shape); !outline.empty())
          areas.push_back({w->name, {outline, {}}});
      }
      break;
    case AreaUse::strips:
      for (const works::Strip& s : project.stages.strips) {
        if (s.leftOut || s.outline.empty()) continue;
        std::vector<Polygon> out;
        for (const Ring& ring : s.except) out.push_back({ring, {}});
        for (const Polygon& part : plane::without({{s.outline, {}}}, plane::united(out)))
          areas.push_back({s.name, part});
      }
      break;
    case AreaUse::buildUps:
      for (const works::BuildUp& b : project.stages.buildUps) {
        if (!b.leftOut && !b.outline.empty()) areas.push_back({b.name, {b.outline, {}}});
      }
      break;
    case AreaUse::regions:
      for (const Region& r : project.stages.regions) areas.push_back({r.name, r.area});
      break;
  }
  return areas;
}

Coverage coverageOf(const std::vector<DrawnArea>& areas, const std::vector<Polygon>& site) {
  Coverage coverage;
  std::vector<Polygon> shapes;
  for (const DrawnArea& a : areas) shapes.push_back(a.area);
  coverage.areas = plane::united(shapes);
  const plane::Areas inside = plane::united(site);
  coverage.site = plane::area(inside);
  const double all = plane::area(coverage.areas);
  coverage.covered = site.empty() ? all : plane::area(plane::common(coverage.areas, inside));
  coverage.beyond = all - coverage.covered;
  addTwice(coverage, areas);
  for (const CoveragePart& part : coverage.parts) coverage.twice += part.area;
  const plane::Areas left = plane::without(inside, coverage.areas);
  coverage.left = plane::area(left);
  plane::Areas wide, narrow;
  for (const Polygon& part : left) (widthOf(part) < kNarrow ? narrow : wide).push_back(part);
  // Without a site the gaps are what the areas enclose.
  for (const Polygon& covered : coverage.areas) {
    for (Ring hole : covered.holes) {
      std::reverse(hole.begin(), hole.end());
      if (const Polygon gap{hole, {}}; site.empty() && widthOf(gap) < kNarrow) narrow.push_back(gap);
    }
  }
  add(coverage, narrow, CoveragePart::Kind::sliver);
  add(coverage, wide, CoveragePart::Kind::left);
  std::stable_sort(coverage.parts.begin(), coverage.parts.end(), [](const CoveragePart& a, const CoveragePart& b) {
    return std::pair(a.kind, -a.area) < std::pair(b.kind, -b.area);
  });
  return coverage;
}

std::vector<Vec2> wayAlong(const std::vector<DrawnArea>& areas, Vec2 from, Vec2 to) {
  constexpr double kOn = 1e-6;  // m
  const auto along = [&](const Ring& ring) -> std::optional<std::vector<Vec2>> {
    const std::size_t n = ring.size();
    std::optional<std::pair<std::size_t, double>> start, end;  // the side, and how far along the ring
    double length = 0;
    for (std::size_t i = 0; i < n; ++i) {
      const Vec2 a = ring[i], b = ring[(i + 1) % n];
      const double side = plane::distance(a, b);
      const auto look = [&](Vec2 p, auto& found) {
        const auto near = plane::nearestOnSegment(p, a, b);
        if (!found && near.distance <= kOn) found = {i, length + near.along * side};
      };
      look(from, start), look(to, end);
      length += side;
    }
    if (!start || !end) return std::nullopt;
    double ahead = end->second - start->second;
    if (ahead < 0) ahead += length;
    const bool forwards = ahead <= length / 2;
    const auto [first, last] = forwards ? std::pair(*start, *end) : std::pair(*end, *start);
    std::vector<Vec2> way;
    double passed = last.second - first.second;
    if (passed < 0) passed += length;
    double at = 0;  // of the corner, from the first place on
    for (std::size_t k = first.first, done = 0; done < n; ++done) {
      at += done == 0 ? plane::distance(forwards ? from : to, ring[(k + 1) % n])
                      : plane::distance(ring[k], ring[(k + 1) % n]);
      k = (k + 1) % n;
      if (at >= passed - kOn) break;
      if (at > kOn) way.push_back(ring[k]);
    }
    if (!forwards) std::reverse(way.begin(), way.end());
    return way;
  };
  for (const DrawnArea& area : areas) {
    if (auto way = along(area.area.outer)) return *way;
    for (const Ring& hole : area.area.holes) {
      if (auto way = along(hole)) return *way;
    }
  }
  return {};
}

}  // namespace inselberg::project
