#include "ground/raster.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>

#include "base/error.h"
#include "base/parallel.h"
#include "ground/thin.h"

namespace inselberg::ground {

RasterFigures figures(const Raster& raster) {
  RasterFigures f;
  double low = std::numeric_limits<double>::infinity(), high = -low;
  for (std::size_t r = 0; r < raster.rows; ++r) {
    std::size_t first = raster.columns, last = 0;
    for (std::size_t c = 0; c < raster.columns; ++c) {
      const double z = raster.level(c, r);
      if (std::isnan(z)) continue;
      ++f.cells;
      low = std::min(low, z), high = std::max(high, z);
      first = std::min(first, c), last = c;
    }
    if (first == raster.columns) continue;
    f.bounds.add(raster.place(first, r));
    f.bounds.add(raster.place(last, r));
  }
  if (f.cells > 0) f.minLevel = low, f.maxLevel = high;
  return f;
}

namespace {

// The cells of a raster with data, as points: exact whatever the place, turned so that rows run up. Tells triangles
// between them that are none of the ground's: those that cover a cell without data, or span between cells that are no
// neighbours across such cells. Cells next to such gaps are all `required` as corners, so only triangles between three
// of those can be such.
class Cells {
 public:
  explicit Cells(const Raster& raster) : raster_(raster) {
    const std::size_t w = raster.columns, h = raster.rows;
    for (std::size_t r = 0; r < h; ++r) {
      for (std::size_t c = 0; c < w; ++c) {
        if (!has(c, r)) {
          hollow_ = true;
          continue;
        }
        bool edge = false;
        for (std::size_t y = r == 0 ? 0 : r - 1; y <= std::min(r + 1, h - 1) && !edge; ++y) {
          for (std::size_t x = c == 0 ? 0 : c - 1; x <= std::min(c + 1, w - 1); ++x) edge |= !has(x, y);
        }
        if (edge) required_.push_back(static_cast<Index>(points_.size()));
        points_.push_back({static_cast<double>(c), -static_cast<double>(r), raster.level(c, r)});
      }
    }
    if (!hollow_) return;
    isEdge_.assign(points_.size(), 0);
    for (const Index i : required_) isEdge_[i] = 1;
  }

  const std::vector<Vec3>& points() const { return points_; }
  const std::vector<Index>& required() const { return required_; }

  bool acrossGap(const Triangle& t) const {
    if (!hollow_ || !isEdge_[t[0]] || !isEdge_[t[1]] || !isEdge_[t[2]]) return false;
    if (near(t[0], t[1]) && near(t[1], t[2]) && near(t[2], t[0])) return false;
    if (coversGap(t)) return true;
    const Vec2 a = points_[t[0]].plan(), b = points_[t[1]].plan(), c = points_[t[2]].plan();
    const Vec2 centre = (1.0 / 3) * (a + b + c);
    for (const Vec2 middle : {0.5 * (a + b), 0.5 * (b + c), 0.5 * (c + a)}) {
      if (!covered(0.95 * middle + 0.05 * centre)) return true;
    }
    return !covered(centre);
  }

 private:
  bool has(std::size_t c, std::size_t r) const {
    return c < raster_.columns && r < raster_.rows && !std::isnan(raster_.level(c, r));
  }
  bool near(Index i, Index j) const {
    return std::abs(points_[i].x - points_[j].x) <= 1 && std::abs(points_[i].y - points_[j].y) <= 1;
  }
  bool coversGap(const Triangle& t) const {
    const Vec3 &a = points_[t[0]], &b = points_[t[1]], &c = points_[t[2]];
    const double x0 = std::min({a.x, b.x, c.x}), x1 = std::max({a.x, b.x, c.x});
    const double y0 = std::min({a.y, b.y, c.y}), y1 = std::max({a.y, b.y, c.y});
    for (double y = y0; y <= y1; ++y) {
      for (double x = x0; x <= x1; ++x) {
        if (has(static_cast<std::size_t>(x), static_cast<std::size_t>(-y))) continue;
        const Vec2 p{x, y};
        if (plane::turn(a.plan(), b.plan(), p) >= 0 && plane::turn(b.plan(), c.plan(), p) >= 0 &&
            plane::turn(c.plan(), a.plan(), p) >= 0)
          return true;
      }
    }
    return false;
  }
  // Whether a place lies in the square of four neighbouring cells with data, or in the half of it that three make.
  bool covered(Vec2 p) const {
    const double x = std::floor(p.x), y = std::floor(-p.y), u = p.x - x, v = -p.y - y;
    const auto c = static_cast<std::size_t>(x), r = static_cast<std::size_t>(y);
    const bool nw = has(c, r), ne = has(c + 1, r), sw = has(c, r + 1), se = has(c + 1, r + 1);
    if (nw + ne + sw + se < 3) return false;
    return (nw || u + v >= 1) && (se || u + v <= 1) && (ne || u <= v) && (sw || v <= u);
  }

  const Raster& raster_;
  std::vector<Vec3> points_;
  std::vector<Index> required_;
  std::vector<char> isEdge_;
  bool hollow_ = false;
};

}  // namespace

TinParts asTriangles(const Raster& raster, double tolerance, const Progress& progress) {
  const Cells cells(raster);
  const Thinned thinned = thin(cells.points(), cells.required(), tolerance, progress);
  const bool mirrored = plane::cross(raster.columnStep, -1.0 * raster.rowStep) < 0;
  TinParts parts;
  parts.points.reserve(cells.points().size());
  for (const Vec3& p : cells.points()) {
    const Vec2 place = raster.first + p.x * raster.columnStep + (-p.y) * raster.rowStep;
    parts.points.push_back({place.x, place.y, p.z});
  }
  for (Triangle t : thinned.triangles) {
    if (cells.acrossGap(t)) continue;
    if (mirrored) std::swap(t[1], t[2]);
    parts.triangles.push_back(t);
  }
  if (parts.triangles.empty())
    throw Error("the raster has no three cells with data side by side", "choose another file");
  dropUnusedPoints(parts);
  return parts;
}

Raster sampled(const Tin& tin, double cell, const Progress& progress) {
  Raster raster;
  const Box& box = tin.bounds();
  const double x0 = (std::floor(box.minX / cell) + 0.5) * cell, y1 = (std::ceil(box.maxY / cell) - 0.5) * cell;
  const double columns = std::floor((box.maxX - x0) / cell) + 1, rows = std::floor((y1 - box.minY) / cell) + 1;
  if (!(columns * rows <= 4e8))
    throw Error(fmt::format("cells of {} m would make more than 400 million of them", cell), "choose larger cells");
  raster.columns = static_cast<std::size_t>(std::max(1.0, columns));
  raster.rows = static_cast<std::size_t>(std::max(1.0, rows));
  raster.first = {x0, y1};
  raster.columnStep = {cell, 0};
  raster.rowStep = {0, -cell};
  raster.levels.assign(raster.columns * raster.rows, std::numeric_limits<float>::quiet_NaN());
  parallelChunks(raster.rows, 16, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    for (std::size_t r = begin; r < end; ++r) {
      for (std::size_t c = 0; c < raster.columns; ++c) {
        if (const auto z = tin.levelAt(raster.place(c, r)))
          raster.levels[r * raster.columns + c] = static_cast<float>(*z);
      }
    }
  });
  return raster;
}

}  // namespace inselberg::ground
