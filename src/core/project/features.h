// The points, lines and outlines of sources as things to choose and edit by hand.
#pragma once

#include <compare>
#include <functional>
#include <optional>
#include <span>
#include <vector>

#include "ground/line_edit.h"
#include "project/project.h"

namespace inselberg::project {

enum class FeatureKind { point, line, boundary, voids };

// The number of a feature among those of its kind in its source's data.
struct Feature {
  SourceId source;
  FeatureKind kind = FeatureKind::line;
  std::size_t index = 0;
  auto operator<=>(const Feature&) const = default;
};

// A feature's shape: a point as one vertex, an outline as its outer ring closed and without levels. Nothing when there
// is no such feature.
std::optional<ground::Breakline> shapeOf(const Project& project, const Feature& feature);

// A side as SourceIndex tells of it; a point as one without length.
struct Side {
  plane::Vec2 a, b;
  std::size_t sides = 0;  // how many its feature has
  bool closing = false;   // from the last vertex to the first
};
Side sideOf(const SourceData& data, const SourceIndex::Entry& entry);

// What the pointer meets within `reach` metres, of the sources that `wanted` lets through: a vertex of a line within
// three quarters of it; else the nearest point or side, a point a quarter of `reach` before a side.
struct Met {
  Feature feature;
  ground::OnLine at;
  std::optional<std::size_t> vertex;  // when a vertex (or point) is met
};
std::optional<Met> meet(const Project& project, plane::Vec2 p, double reach,
                        const std::function<bool(const Source&)>& wanted);

// Features wholly inside the polygon, of the sources that are let through.
std::vector<Feature> inside(const Project& project, const plane::Ring& polygon,
                            const std::function<bool(const Source&)>& wanted);

// Contours of a ground's sources with a vertex at this very place.
std::vector<Feature> contoursAt(const Project& project, GroundId ground, plane::Vec2 place);

// Edits. Outlines that would not be sound throw Error.
ProjectPtr withShape(const Project& project, const Feature& feature, const ground::Breakline& shape);
ProjectPtr withShapes(const Project& project, std::span<const Feature> features,
                      const std::function<ground::Breakline(const ground::Breakline&)>& change);
ProjectPtr withoutFeatures(const Project& project, std::vector<Feature> features);
// Adds a shape to a source; the new feature is the last of its kind there. Points are single vertices.
ProjectPtr withFeature(const Project& project, SourceId source, FeatureKind kind, const ground::Breakline& shape);
// The same into the source that is drawn in: the last one of those `into` is built from that came from no file and is
// not locked, or a new one, which it is built from too. REQUIRES: `into` is built from sources.
ProjectPtr withDrawn(const Project& project, FeatureKind kind, const ground::Breakline& shape, GroundId into,
                     const std::string& newName);
// The same of many at once into the source of this name that came from no file and is not locked, or a new one, which
// `into` is built from too.
ProjectPtr withTaken(const Project& project, FeatureKind kind, std::span<const ground::Breakline> shapes, GroundId into,
                     const std::string& name);

}  // namespace inselberg::project
