// Method. Detail is lost by vertex clustering (J. Rossignac, P. Borrel, 1993): the corners in each cell of a square
// grid become the one nearest to its middle; triangles that lose an extent by that go. All details share the corners.
#include "relief/relief_mesh.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <map>

#include "base/parallel.h"
#include "ground/smooth.h"

namespace inselberg::app {
namespace {

using ground::Index;
using ground::kNone;
using ground::Tin;
using ground::Triangle;
using plane::Vec2;
using plane::Vec3;

constexpr std::size_t kPerTile = 4000;   // triangles, about
constexpr std::size_t kCoarsest = 8000;  // triangles

std::uint32_t indexOf(std::size_t i) {
  return static_cast<std::uint32_t>(i);
}

void addCorners(const Tin& tin, const Tin* beneath, ReliefMesh& mesh, const Progress& progress) {
  const std::vector<Vec2> gradients = ground::cornerGradients(tin, progress);
  mesh.corners.resize(tin.points().size());
  parallelChunks(mesh.corners.size(), 4096, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    for (std::size_t i = begin; i < end; ++i) {
      const Vec3& p = tin.points()[i];
      const Vec2 g = gradients[i];
      const double length = std::sqrt(1 + plane::dot(g, g));
      const auto under = beneath ? beneath->levelAt(p.plan()) : std::nullopt;
      const auto f = [](double v) { return static_cast<float>(v); };
      mesh.corners[i] = {f(p.x - mesh.middle.x), f(p.y - mesh.middle.y), f(p.z - mesh.middle.z),     f(-g.x / length),
                         f(-g.y / length),       f(1 / length),          f(under ? p.z - *under : 0)};
    }
  });
}

// The tiles' grid over the ground.
struct Tiling {
  plane::Box box;
  int across = 1, up = 1;
  Tiling(const Tin& tin) : box(tin.bounds()) {
    const double wanted = std::max(1.0, static_cast<double>(tin.triangles().size()) / kPerTile);
    const double side = std::sqrt(std::max(box.width() * box.height(), 1e-9) / wanted);
    across = std::clamp(static_cast<int>(std::ceil(box.width() / side)), 1, 64);
    up = std::clamp(static_cast<int>(std::ceil(box.height() / side)), 1, 64);
  }
  std::size_t count() const { return static_cast<std::size_t>(across) * up; }
  std::size_t of(Vec2 p) const {
    const int i = std::clamp(static_cast<int>((p.x - box.minX) / std::max(box.width(), 1e-9) * across), 0, across - 1);
    const int j = std::clamp(static_cast<int>((p.y - box.minY) / std::max(box.height(), 1e-9) * up), 0, up - 1);
    return static_cast<std::size_t>(j) * across + i;
  }
};

// Two triangles for each stretch of border that stands over another one.
std::vector<Triangle> wallsOf(const Tin& tin) {
  struct Side {
    Index from, to;
  };
  using Key = std::array<double, 4>;
  std::map<Key, Side> open;
  std::vector<Triangle> walls;
  for (Index t = 0; t < tin.triangles().size(); ++t) {
    for (int k = 0; k < 3; ++k) {
      if (tin.neighbours()[t][k] != kNone) continue;
      const Side side{tin.triangles()[t][ground::next(k)], tin.triangles()[t][ground::before(k)]};
      const Vec2 a = tin.plan(side.from), b = tin.plan(side.to);
      const auto other = open.find({b.x, b.y, a.x, a.y});
      if (other == open.end()) {
        open.emplace(Key{a.x, a.y, b.x, b.y}, side);
        continue;
      }
      walls.push_back({side.from, side.to, other->second.from});
      walls.push_back({side.from, other->second.from, other->second.to});
      open.erase(other);
    }
  }
  return walls;
}

// The corner each corner becomes.
std::vector<std::uint32_t> clustered(const Tin& tin, double cell, const Progress& progress) {
  const plane::Box& box = tin.bounds();
  const auto across = static_cast<std::size_t>(box.width() / cell) + 1;
  struct Place {
    std::size_t cell;
    float off;  // from its middle, squared
  };
  std::vector<Place> places(tin.points().size());
  parallelChunks(places.size(), 16384, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    for (std::size_t i = begin; i < end; ++i) {
      const Vec2 p = tin.plan(indexOf(i));
      const double u = (p.x - box.minX) / cell, v = (p.y - box.minY) / cell;
      const auto column = static_cast<std::size_t>(u), row = static_cast<std::size_t>(v);
      const double du = u - static_cast<double>(column) - 0.5, dv = v - static_cast<double>(row) - 0.5;
      places[i] = {row * across + column, static_cast<float>(du * du + dv * dv)};
    }
  });
  std::vector<std::uint32_t> best((static_cast<std::size_t>(box.height() / cell) + 1) * across, kNone);
  for (std::uint32_t i = 0; i < places.size(); ++i) {
    std::uint32_t& now = best[places[i].cell];
    if (now == kNone || places[i].off < places[now].off) now = i;
  }
  std::vector<std::uint32_t> becomes(places.size());
  for (std::size_t i = 0; i < becomes.size(); ++i) becomes[i] = best[places[i].cell];
  return becomes;
}

ReliefMesh::Detail sorted(const std::vector<Triangle>& triangles, const Tin& tin, const Tiling& tiling, double cell,
                          const Progress& progress) {
  ReliefMesh::Detail detail;
  detail.cell = cell;
  std::vector<std::uint32_t> tileOf(triangles.size());
  parallelChunks(tileOf.size(), 16384, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
    for (std::size_t t = begin; t < end; ++t) {
      const Triangle& c = triangles[t];
      tileOf[t] = indexOf(tiling.of((1.0 / 3) * (tin.plan(c[0]) + tin.plan(c[1]) + tin.plan(c[2]))));
    }
  });
  detail.starts.assign(tiling.count() + 1, 0);
  for (const std::uint32_t tile : tileOf) detail.starts[tile + 1] += 3;
  for (std::size_t i = 1; i < detail.starts.size(); ++i) detail.starts[i] += detail.starts[i - 1];
  std::vector<std::uint32_t> next(detail.starts.begin(), detail.starts.end() - 1);
  detail.corners.resize(3 * triangles.size());
  for (std::size_t t = 0; t < triangles.size(); ++t) {
    for (const Index i : triangles[t]) detail.corners[next[tileOf[t]]++] = i;
  }
  return detail;
}

void addTiles(const Tin& tin, ReliefMesh& mesh) {
  const ReliefMesh::Detail& all = mesh.details.front();
  for (std::size_t k = 0; k + 1 < all.starts.size(); ++k) {
    ReliefMesh::Tile tile;
    tile.low = std::numeric_limits<double>::infinity(), tile.high = -tile.low;
    for (std::uint32_t i = all.starts[k]; i < all.starts[k + 1]; ++i) {
      const Vec3& p = tin.points()[all.corners[i]];
      tile.box.add(p.plan());
      tile.low = std::min(tile.low, p.z), tile.high = std::max(tile.high, p.z);
    }
    mesh.tiles.push_back(tile);
  }
}

}  // namespace

std::size_t ReliefMesh::bytes() const {
  std::size_t sum = corners.size() * sizeof(Corner);
  for (const Detail& d : details) sum += (d.corners.size() + d.starts.size()) * sizeof(std::uint32_t);
  return sum;
}

ReliefMesh reliefMesh(const Tin& tin, const Tin* beneath, const Vec3& middle, const Progress& progress) {
  ReliefMesh mesh;
  mesh.middle = middle;
  addCorners(tin, beneath, mesh, progress);
  for (const ReliefMesh::Corner& c : mesh.corners)
    mesh.greatestDepth = std::max(mesh.greatestDepth, static_cast<double>(std::abs(c.depth)));
  const Tiling tiling(tin);
  std::vector<Triangle> triangles(tin.triangles().begin(), tin.triangles().end());
  const std::vector<Triangle> walls = wallsOf(tin);
  triangles.insert(triangles.end(), walls.begin(), walls.end());
  const double spacing = std::sqrt(2 * tin.bounds().width() * tin.bounds().height() /
                                   static_cast<double>(std::max<std::size_t>(triangles.size(), 1)));
  mesh.details.push_back(sorted(triangles, tin, tiling, 0, progress));
  addTiles(tin, mesh);
  for (double cell = 2 * spacing; mesh.details.back().corners.size() > 3 * kCoarsest; cell *= 2) {
    progress.check();
    const std::vector<std::uint32_t> becomes = clustered(tin, cell, progress);
    std::vector<Triangle> coarser;
    for (const Triangle& t : triangles) {
      const Triangle c{becomes[t[0]], becomes[t[1]], becomes[t[2]]};
      if (c[0] != c[1] && c[1] != c[2] && c[2] != c[0]) coarser.push_back(c);
    }
    if (coarser.empty()) break;
    mesh.details.push_back(sorted(coarser, tin, tiling, cell, progress));
    triangles = std::move(coarser);
    if (mesh.details.size() > 8) break;
  }
  return mesh;
}

std::vector<std::uint8_t> chooseDetail(const ReliefMesh& mesh, const std::vector<double>& perPixel, double pixel,
                                       std::size_t most) {
  std::vector<std::uint8_t> chosen(mesh.tiles.size(), 0);
  for (;; pixel *= 1.5) {
    std::size_t count = 0;
    bool coarsest = true;
    for (std::size_t k = 0; k < chosen.size(); ++k) {
      std::size_t d = 0;
      while (d + 1 < mesh.details.size() && mesh.details[d + 1].cell <= pixel * perPixel[k]) ++d;
      chosen[k] = static_cast<std::uint8_t>(d);
      count += (mesh.details[d].starts[k + 1] - mesh.details[d].starts[k]) / 3;
      coarsest = coarsest && d + 1 == mesh.details.size();
    }
    if (count <= most || coarsest) return chosen;
  }
}

}  // namespace inselberg::app
