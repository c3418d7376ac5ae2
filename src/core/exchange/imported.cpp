#include "exchange/imported.h"

#include <cmath>
#include <unordered_map>

#include "base/error.h"
#include "base/hash.h"

namespace inselberg::exchange {

plane::Box Imported::bounds() const {
  plane::Box box;
  for (const auto& p : points) box.add(p.plan());
  for (const auto& l : lines) {
    for (const auto& p : l.vertices) box.add(p.plan());
  }
  for (const auto& a : areas) {
    for (const auto p : a.polygon.outer) box.add(p);
  }
  for (const auto& p : modelPoints) box.add(p.plan());
  return box;
}

void requireClean(const Imported& imported) {
  if (imported.problems.empty()) return;
  const ImportProblem& first = imported.problems.front();
  throw Error(first.what, {imported.file, first.line}, first.hint);
}

plane::Origin originFor(const Imported& imported) {
  const plane::Box box = imported.bounds();
  if (box.empty()) return {};
  return {std::round(box.centre().x / 100) * 100, std::round(box.centre().y / 100) * 100};
}

project::SourceData toSource(const Imported& imported, const plane::Origin& origin) {
  const auto moved = [&](plane::Vec3 p) { return plane::Vec3{p.x - origin.easting, p.y - origin.northing, p.z}; };
  const auto movedRing = [&](plane::Ring ring) {
    for (plane::Vec2& p : ring) p = {p.x - origin.easting, p.y - origin.northing};
    return ring;
  };
  project::SourceData data;
  for (const auto& p : imported.points) data.points.push_back(moved(p));
  data.codes = imported.codes;
  for (const auto& line : imported.lines) {
    ground::Breakline b;
    b.closed = line.closed;
    for (const auto& p : line.vertices) b.vertices.push_back(moved(p));
    data.breaklines.push_back(std::move(b));
  }
  for (const auto& area : imported.areas) {
    plane::Polygon polygon{movedRing(area.polygon.outer), {}};
    for (const auto& hole : area.polygon.holes) polygon.holes.push_back(movedRing(hole));
    try {
      data.boundaries.push_back(plane::sound(std::move(polygon), origin));
    } catch (const Error& e) {
      throw Error(e.happened(), {imported.file, area.line}, e.hint());
    }
  }
  for (const auto& p : imported.modelPoints) data.modelPoints.push_back(moved(p));
  data.modelTriangles = imported.modelTriangles;
  if (!data.modelTriangles.empty()) tidyModel(data.modelPoints, data.modelTriangles);
  return data;
}

std::size_t tidyModel(std::vector<plane::Vec3>& points, std::vector<ground::Triangle>& triangles) {
  std::unordered_map<Hash, ground::Index, HashOfHash> known;
  std::vector<ground::Index> same(points.size());
  known.reserve(points.size());
  for (ground::Index i = 0; i < points.size(); ++i) {
    const Hash key = Hasher().value(points[i].x).value(points[i].y).value(points[i].z).finish();
    same[i] = known.try_emplace(key, i).first->second;
  }
  ground::TinParts parts;
  parts.points = std::move(points);
  std::size_t leftOut = 0;
  for (ground::Triangle t : triangles) {
    for (ground::Index& v : t) v = same[v];
    const double twice = plane::turn(parts.points[t[0]].plan(), parts.points[t[1]].plan(), parts.points[t[2]].plan());
    if (twice < 0) std::swap(t[1], t[2]);
    if (std::abs(twice) < 1e-12) {
      ++leftOut;
      continue;
    }
    parts.triangles.push_back(t);
  }
  ground::dropUnusedPoints(parts);
  points = std::move(parts.points);
  triangles = std::move(parts.triangles);
  return leftOut;
}

}  // namespace inselberg::exchange
