// Points, lines, boundaries and voids of a source are edited as one shape, a line with levels; what each kind makes of
// it is decided where it is put back.
#include "project/features.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <set>

#include "plane/inside.h"
#include "project/each_side.h"

namespace inselberg::project {
namespace {

using ground::Breakline;
using plane::Vec2;
using plane::Vec3;

std::optional<Breakline> shapeIn(const SourceData& data, FeatureKind kind, std::size_t index) {
  const auto ring = [](const plane::Polygon& polygon) {
    Breakline line;
    line.closed = true;
    for (const Vec2 p : polygon.outer) line.vertices.push_back({p.x, p.y, std::numeric_limits<double>::quiet_NaN()});
    return line;
  };
  switch (kind) {
    case FeatureKind::point:
      if (index < data.points.size()) return Breakline{{data.points[index]}, false, false};
      break;
    case FeatureKind::line:
      if (index < data.breaklines.size()) return data.breaklines[index];
      break;
    case FeatureKind::boundary:
      if (index < data.boundaries.size()) return ring(data.boundaries[index]);
      break;
    case FeatureKind::voids:
      if (index < data.voids.size()) return ring(data.voids[index]);
      break;
  }
  return std::nullopt;
}

plane::Polygon outlineOf(const Breakline& shape, std::vector<plane::Ring> holes, const plane::Origin& origin) {
  plane::Polygon polygon{{}, std::move(holes)};
  for (const Vec3& v : shape.vertices) polygon.outer.push_back(v.plan());
  return plane::sound(std::move(polygon), origin);
}

void setShape(SourceData& data, FeatureKind kind, std::size_t index, const Breakline& shape,
              const plane::Origin& origin) {
  switch (kind) {
    case FeatureKind::point:
      data.points.set(index, shape.vertices.at(0));
      break;
    case FeatureKind::line:
      data.breaklines.set(index, shape);
      break;
    case FeatureKind::boundary:
      data.boundaries.at(index) = outlineOf(shape, data.boundaries.at(index).holes, origin);
      break;
    case FeatureKind::voids:
      data.voids.at(index) = outlineOf(shape, {}, origin);
      break;
  }
}

void addShape(SourceData& data, FeatureKind kind, const Breakline& shape, const plane::Origin& origin) {
  switch (kind) {
    case FeatureKind::point:
      for (const Vec3& v : shape.vertices) {
        data.points.push_back(v);
        if (!data.codes.empty()) data.codes.push_back({});
      }
      break;
    case FeatureKind::line:
      data.breaklines.push_back(shape);
      break;
    case FeatureKind::boundary:
      data.boundaries.push_back(outlineOf(shape, {}, origin));
      break;
    case FeatureKind::voids:
      data.voids.push_back(outlineOf(shape, {}, origin));
      break;
  }
}

void eraseShapes(SourceData& data, FeatureKind kind, std::span<const std::size_t> rising) {
  const auto from = [&](std::vector<plane::Polygon>& list) {
    for (std::size_t k = rising.size(); k-- > 0;) list.erase(list.begin() + static_cast<std::ptrdiff_t>(rising[k]));
  };
  switch (kind) {
    case FeatureKind::point:
      data.points.erase(rising);
      if (!data.codes.empty()) data.codes.erase(rising);
      return;
    case FeatureKind::line:
      return data.breaklines.erase(rising);
    case FeatureKind::boundary:
      return from(data.boundaries);
    case FeatureKind::voids:
      return from(data.voids);
  }
}

template <class F>
void eachFeature(const SourceData& data, F&& f) {
  for (std::size_t i = 0; i < data.points.size(); ++i) f(FeatureKind::point, i);
  for (std::size_t i = 0; i < data.breaklines.size(); ++i) f(FeatureKind::line, i);
  for (std::size_t i = 0; i < data.boundaries.size(); ++i) f(FeatureKind::boundary, i);
  for (std::size_t i = 0; i < data.voids.size(); ++i) f(FeatureKind::voids, i);
}

std::size_t countOf(const SourceData& data, FeatureKind kind) {
  switch (kind) {
    case FeatureKind::point:
      return data.points.size();
    case FeatureKind::line:
      return data.breaklines.size();
    case FeatureKind::boundary:
      return data.boundaries.size();
    case FeatureKind::voids:
      return data.voids.size();
  }
  return 0;
}

// Changes the shapes of some features; those with a number that is free are added.
template <class Change>
ProjectPtr changeFeatures(const Project& project, std::span<const Feature> features, Change&& change) {
  auto next = std::make_shared<Project>(project);
  for (SourcePtr& s : next->sources) {
    std::vector<std::pair<FeatureKind, std::size_t>> changed;
    for (const Feature& f : features) {
      if (f.source == s->id) changed.emplace_back(f.kind, f.index);
    }
    if (changed.empty()) continue;
    SourceData data = *s->data;
    for (const auto& [kind, index] : changed) change(data, kind, index);
    s = changedSource(*s, std::move(data), std::move(changed));
  }
  return next;
}

}  // namespace

std::optional<Breakline> shapeOf(const Project& project, const Feature& feature) {
  const Source* source = project.source(feature.source);
  return source ? shapeIn(*source->data, feature.kind, feature.index) : std::nullopt;
}

Side sideOf(const SourceData& data, const SourceIndex::Entry& entry) {
  const auto of = [&](std::size_t n, bool closed, auto&& at) {
    const std::size_t next = (entry.vertex + 1) % n;
    return Side{at(entry.vertex), at(next), n < 2 ? 0 : n - (closed ? 0 : 1), next == 0 && n > 1};
  };
  switch (entry.kind) {
    case FeatureKind::point:
      return {data.points[entry.index].plan(), data.points[entry.index].plan(), 0, false};
    case FeatureKind::line: {
      const Breakline& line = data.breaklines[entry.index];
      return of(line.vertices.size(), line.closed, [&](std::size_t k) { return line.vertices[k].plan(); });
    }
    case FeatureKind::boundary:
    case FeatureKind::voids: {
      const auto& polygons = entry.kind == FeatureKind::voids ? data.voids : data.boundaries;
      const plane::Ring& ring = polygons[entry.index].outer;
      return of(ring.size(), true, [&](std::size_t k) { return ring[k]; });
    }
  }
  return {};
}

std::optional<Met> meet(const Project& project, Vec2 p, double reach,
                        const std::function<bool(const Source&)>& wanted) {
  std::optional<Met> vertexMet, pointMet, sideMet;
  double bestVertex = 0.75 * reach, bestPoint = reach, bestSide = reach;
  const auto offerVertex = [&](const Feature& f, std::size_t vertex, Vec2 at, std::size_t sides) {
    const double d = plane::distance(at, p);
    if (d > bestVertex) return;
    bestVertex = d;
    const bool last = vertex > 0 && vertex == sides;  // of an open line: the end of its last side
    vertexMet = Met{f, {last ? vertex - 1 : vertex, last ? 1.0 : 0.0, d}, vertex};
  };
  const plane::Box near = plane::Box{p.x, p.y, p.x, p.y}.grown(reach);
  for (const SourcePtr& s : project.sources) {
    if (!wanted(*s)) continue;
    s->eachNear(near, [&](const SourceIndex::Entry& e) {
      const Feature f{s->id, e.kind, e.index};
      const Side side = sideOf(*s->data, e);
      if (e.kind == FeatureKind::point) {
        const double d = plane::distance(side.a, p);
        if (d <= bestPoint) bestPoint = d, pointMet = Met{f, {0, 0, d}, 0};
        return;
      }
      offerVertex(f, e.vertex, side.a, side.sides);
      offerVertex(f, side.closing ? 0 : e.vertex + 1, side.b, side.sides);
      const auto nearest = plane::nearestOnSegment(p, side.a, side.b);
      if (nearest.distance > bestSide) return;
      bestSide = nearest.distance;
      sideMet = Met{f, {e.vertex, nearest.along, nearest.distance}, std::nullopt};
    });
  }
  if (vertexMet) return vertexMet;
  return pointMet && (!sideMet || bestPoint <= bestSide + 0.25 * reach) ? pointMet : sideMet;
}

std::vector<Feature> inside(const Project& project, const plane::Ring& polygon,
                            const std::function<bool(const Source&)>& wanted) {
  std::vector<Feature> found;
  const plane::Inside isInside(polygon);
  for (const SourcePtr& s : project.sources) {
    if (!wanted(*s)) continue;
    eachFeature(*s->data, [&](FeatureKind kind, std::size_t i) {
      const auto shape = shapeIn(*s->data, kind, i);
      const bool in = std::all_of(shape->vertices.begin(), shape->vertices.end(),
                                  [&](const Vec3& v) { return isInside(v.plan()); });
      if (in) found.push_back({s->id, kind, i});
    });
  }
  return found;
}

std::vector<Feature> contoursAt(const Project& project, GroundId ground, plane::Vec2 place) {
  std::vector<Feature> found;
  const auto* base = std::get_if<FromSources>(&project.ground(ground)->base);
  for (const SourceId id : base ? base->sources : std::vector<SourceId>()) {
    const auto& lines = project.source(id)->data->breaklines;
    for (std::size_t i = 0; i < lines.size(); ++i) {
      const auto at = [&](const plane::Vec3& v) { return v.plan() == place; };
      if (lines[i].contour && std::any_of(lines[i].vertices.begin(), lines[i].vertices.end(), at))
        found.push_back({id, FeatureKind::line, i});
    }
  }
  return found;
}

ProjectPtr withShape(const Project& project, const Feature& feature, const Breakline& shape) {
  return changeFeatures(project, std::span(&feature, 1), [&](SourceData& data, FeatureKind kind, std::size_t index) {
    setShape(data, kind, index, shape, project.origin);
  });
}

ProjectPtr withShapes(const Project& project, std::span<const Feature> features,
                      const std::function<Breakline(const Breakline&)>& change) {
  return changeFeatures(project, features, [&](SourceData& data, FeatureKind kind, std::size_t index) {
    setShape(data, kind, index, change(*shapeIn(data, kind, index)), project.origin);
  });
}

ProjectPtr withoutFeatures(const Project& project, std::vector<Feature> features) {
  std::map<SourceId, std::map<FeatureKind, std::set<std::size_t>>> gone;
  for (const Feature& f : features) gone[f.source][f.kind].insert(f.index);
  auto next = std::make_shared<Project>(project);
  for (SourcePtr& s : next->sources) {
    const auto of = gone.find(s->id);
    if (of == gone.end()) continue;
    SourceData data = *s->data;
    for (const auto& [kind, which] : of->second) eraseShapes(data, kind, std::vector(which.begin(), which.end()));
    s = makeSource(s->id, *s, std::move(data));
  }
  return next;
}

ProjectPtr withFeature(const Project& project, SourceId source, FeatureKind kind, const Breakline& shape) {
  const Feature added{source, kind, countOf(*project.source(source)->data, kind)};
  return changeFeatures(project, std::span(&added, 1), [&](SourceData& data, FeatureKind, std::size_t) {
    addShape(data, kind, shape, project.origin);
  });
}

ProjectPtr withDrawn(const Project& project, FeatureKind kind, const Breakline& shape, GroundId into,
                     const std::string& newName) {
  const auto& own = std::get<FromSources>(project.ground(into)->base).sources;
  for (auto it = project.sources.rbegin(); it != project.sources.rend(); ++it) {
    if ((*it)->file.empty() && !(*it)->locked && (*it)->data->modelTriangles.empty() &&
        std::find(own.begin(), own.end(), (*it)->id) != own.end())
      return withFeature(project, (*it)->id, kind, shape);
  }
  return withTaken(project, kind, std::span(&shape, 1), into, newName);
}

ProjectPtr withTaken(const Project& project, FeatureKind kind, std::span<const Breakline> shapes, GroundId into,
                     const std::string& name) {
  for (const SourcePtr& s : project.sources) {
    if (!s->file.empty() || s->locked || s->name != name || !s->data->modelTriangles.empty()) continue;
    std::vector<Feature> added;
    for (std::size_t i = 0; i < shapes.size(); ++i) added.push_back({s->id, kind, countOf(*s->data, kind) + i});
    std::size_t next = 0;
    return changeFeatures(project, added, [&](SourceData& data, FeatureKind, std::size_t) {
      addShape(data, kind, shapes[next++], project.origin);
    });
  }
  SourceData data;
  for (const Breakline& shape : shapes) addShape(data, kind, shape, project.origin);
  SourceInfo info;
  info.name = name;
  return withSource(project, std::move(info), std::move(data), into);
}

}  // namespace inselberg::project
