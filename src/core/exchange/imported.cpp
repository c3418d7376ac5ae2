#include "exchange/imported.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <unordered_map>

#include "base/error.h"
#include "base/hash.h"
#include "plane/inside.h"

namespace inselberg::exchange {

void Imported::leaveOut(const Error& error, LayerIndex layer) {
  if (problems.size() < kMostProblems) {
    problems.push_back({error.where().line, error.happened(), error.hint(), layer});
  } else {
    ++moreProblems;
  }
}

LayerIndex Imported::layerNamed(const std::string& name, Declared kind) {
  const auto found = std::find(layers.begin(), layers.end(), name);
  if (found != layers.end()) return static_cast<LayerIndex>(found - layers.begin());
  layers.push_back(name);
  if (kind != Declared::nothing) {
    declared.resize(layers.size(), Declared::nothing);
    declared.back() = kind;
  }
  return static_cast<LayerIndex>(layers.size() - 1);
}

plane::Box Imported::bounds() const {
  plane::Box box;
  for (const auto& p : points) box.add(p.plan());
  for (const auto& l : lines) {
    for (const auto& p : l.vertices) box.add(p.plan());
  }
  for (const auto& a : areas) {
    for (const auto p : a.polygon.outer) box.add(p);
  }
  for (const auto& m : models) {
    for (const auto& p : m.points) box.add(p.plan());
  }
  for (const auto& r : rasters) box.add(r.figures.bounds);
  return box;
}

bool Imported::empty() const {
  return points.empty() && lines.empty() && areas.empty() && models.empty() && rasters.empty();
}

std::string stemOf(const std::string& path) {
  const auto slash = path.find_last_of('/');
  std::string name = slash == std::string::npos ? path : path.substr(slash + 1);
  if (const auto dot = name.find_last_of('.'); dot != std::string::npos && dot > 0) name.resize(dot);
  return name;
}

void requireClean(const Imported& imported) {
  if (imported.problems.empty()) return;
  const ImportProblem& first = imported.problems.front();
  throw Error(first.what, {imported.file, first.line}, first.hint);
}

void scaleTo(Imported& imported, double plan, double levels, std::string units) {
  const auto scale3 = [&](std::vector<plane::Vec3>& list) {
    for (plane::Vec3& p : list) p = {plan * p.x, plan * p.y, levels * p.z};
  };
  const auto scale2 = [&](plane::Ring& ring) {
    for (plane::Vec2& p : ring) p = plan * p;
  };
  scale3(imported.points);
  for (auto& l : imported.lines) scale3(l.vertices);
  for (auto& m : imported.models) scale3(m.points);
  for (auto& a : imported.areas) {
    scale2(a.polygon.outer);
    for (auto& hole : a.polygon.holes) scale2(hole);
  }
  for (auto& r : imported.rasters) {
    r.raster.first = plan * r.raster.first;
    r.raster.columnStep = plan * r.raster.columnStep;
    r.raster.rowStep = plan * r.raster.rowStep;
    for (float& z : r.raster.levels) z = static_cast<float>(levels * z);
    r.look();
  }
  imported.units = std::move(units);
  imported.unitsDeclared = true;
}

namespace {

// The sides of a polygon's rings, to find those a line crosses.
struct RingSides {
  std::vector<plane::Segment2> sides;
  plane::SegmentIndex index;

  explicit RingSides(const plane::Polygon& polygon) {
    const auto add = [&](const plane::Ring& ring) {
      for (std::size_t k = 0; k < ring.size(); ++k) sides.push_back({ring[k], ring[(k + 1) % ring.size()]});
    };
    add(polygon.outer);
    for (const auto& hole : polygon.holes) add(hole);
    index = plane::SegmentIndex(sides);
  }
};

// The parts of a line inside the polygon, cut where it crosses a ring.
std::vector<std::vector<plane::Vec3>> partsInside(const ImportedLine& line, const plane::Inside& inside,
                                                  const RingSides& rings) {
  std::vector<std::vector<plane::Vec3>> parts;
  std::vector<plane::Vec3> way = line.vertices, current;
  if (line.closed) way.push_back(way.front());
  const auto finish = [&] {
    if (current.size() >= 2) parts.push_back(current);
    current.clear();
  };
  for (std::size_t i = 0; i + 1 < way.size(); ++i) {
    const plane::Vec3 a = way[i], b = way[i + 1];
    std::vector<double> cuts{0, 1};
    rings.index.near(plane::Segment2{a.plan(), b.plan()}, 0, [&](std::uint32_t k) {
      const auto& [c, d] = rings.sides[k];
      if (const auto along = plane::crossingAlong(a.plan(), b.plan(), c, d)) cuts.push_back(*along);
    });
    std::sort(cuts.begin(), cuts.end());
    const auto at = [&](double t) {
      if (t == 0) return a;
      if (t == 1) return b;
      return plane::Vec3{a.x + t * (b.x - a.x), a.y + t * (b.y - a.y), a.z + t * (b.z - a.z)};
    };
    for (std::size_t k = 0; k + 1 < cuts.size(); ++k) {
      if (!(cuts[k + 1] > cuts[k])) continue;
      if (!inside(at((cuts[k] + cuts[k + 1]) / 2).plan())) {
        finish();
        continue;
      }
      if (current.empty()) current.push_back(at(cuts[k]));
      current.push_back(at(cuts[k + 1]));
    }
  }
  finish();
  return parts;
}

template <class T>
void keepOnly(std::vector<T>& list, const std::vector<char>& keep) {
  if (list.empty()) return;
  std::size_t n = 0;
  for (std::size_t i = 0; i < keep.size(); ++i) {
    if (keep[i]) std::swap(list[n++], list[i]);
  }
  list.resize(n);
}

}  // namespace

void limitTo(Imported& imported, const plane::Polygon& polygon) {
  const plane::Inside inside(polygon);
  const RingSides sides(polygon);
  std::vector<char> keep(imported.points.size());
  for (std::size_t i = 0; i < keep.size(); ++i) keep[i] = inside(imported.points[i].plan());
  keepOnly(imported.points, keep);
  keepOnly(imported.pointLayers, keep);
  keepOnly(imported.pointLines, keep);
  keepOnly(imported.numbers, keep);
  keepOnly(imported.codes, keep);
  std::vector<ImportedLine> lines;
  for (const ImportedLine& line : imported.lines) {
    const bool whole =
        std::all_of(line.vertices.begin(), line.vertices.end(), [&](const auto& p) { return inside(p.plan()); });
    auto parts = partsInside(line, inside, sides);
    double kept = 0, length = 0;
    const auto lengthOf = [](const std::vector<plane::Vec3>& v) {
      double sum = 0;
      for (std::size_t i = 0; i + 1 < v.size(); ++i) sum += plane::distance(v[i].plan(), v[i + 1].plan());
      return sum;
    };
    for (const auto& part : parts) kept += lengthOf(part);
    length = lengthOf(line.vertices);
    if (whole && parts.size() == 1 && kept >= length) {
      lines.push_back(line);
      continue;
    }
    for (auto& part : parts) lines.push_back({std::move(part), false, line.layer, line.line});
  }
  imported.lines = std::move(lines);
  const plane::Box box = plane::boundsOf(polygon.outer);
  std::erase_if(imported.areas, [&](const ImportedArea& a) { return !plane::boundsOf(a.polygon.outer).overlaps(box); });
  for (ImportedModel& m : imported.models) {
    std::erase_if(m.triangles, [&](const ground::Triangle& t) {
      const plane::Vec2 sum = m.points[t[0]].plan() + m.points[t[1]].plan() + m.points[t[2]].plan();
      return !inside((1.0 / 3) * sum);
    });
  }
  for (ImportedRaster& r : imported.rasters) {
    for (std::size_t row = 0; row < r.raster.rows; ++row) {
      for (std::size_t c = 0; c < r.raster.columns; ++c) {
        if (!inside(r.raster.place(c, row)))
          r.raster.levels[row * r.raster.columns + c] = std::numeric_limits<float>::quiet_NaN();
      }
    }
    r.look();
  }
}

plane::Polygon soundArea(plane::Polygon polygon, const std::string& file, long line, const plane::Origin& origin) {
  const auto move = [&](plane::Ring& ring) {
    for (plane::Vec2& p : ring) p = {p.x - origin.easting, p.y - origin.northing};
  };
  move(polygon.outer);
  for (auto& hole : polygon.holes) move(hole);
  try {
    return plane::sound(std::move(polygon), origin);
  } catch (const Error& e) {
    throw Error(e.happened(), {file, line}, e.hint());
  }
}

plane::Origin originFor(const Imported& imported) {
  const plane::Box box = imported.bounds();
  if (box.empty()) return {};
  return {std::round(box.centre().x / 100) * 100, std::round(box.centre().y / 100) * 100};
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
