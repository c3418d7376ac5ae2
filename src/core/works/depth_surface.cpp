#include "works/depth_surface.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <map>
#include <optional>
#include <set>

#include "base/parallel.h"
#include "ground/recut.h"
#include "ground/subset.h"
#include "ground/triangulate.h"
#include "plane/boxes.h"
#include "plane/inside.h"
#include "works/pit_depths.h"

namespace inselberg::works {
namespace {

using ground::Index;
using ground::Line2;
using plane::Vec2;
using plane::Vec3;

// Depths have a crease along the sides of the hull of the pits, and outside it square to each side at both its ends.
void addCreases(const PitDepths& pits, std::vector<Line2>& lines) {
  plane::Box box;
  for (const Line2& line : lines) box.add(line.a);
  const double across = box.width() + box.height();
  const auto add = [&](Vec2 a, Vec2 b) {
    const auto [first, last] = plane::insideBox(a, b, box);
    if (first < last) lines.push_back({a + first * (b - a), a + last * (b - a)});
  };
  for (const auto& [a, b] : pits.hull()) {
    add(a, b);
    // Beyond the box from wherever in it.
    const double far = across + plane::distance(a, box.centre()) + plane::distance(a, b);
    const Vec2 out = far * plane::rightOf(plane::unit(b - a));
    add(a, a + out);
    add(b, b + out);
  }
}

// How far apart pits are.
class Spacing {
 public:
  explicit Spacing(const std::vector<Vec3>& pits) : pits_(pits), apart_(pits.size(), kFar) {
    for (std::size_t i = 0; i < pits.size(); ++i) {
      for (const Vec3& other : pits) {
        const double d = plane::distance(pits[i].plan(), other.plan());
        if (d > 0) apart_[i] = std::min(apart_[i], d);
      }
    }
  }
  // The least from one of those within a distance of a place to its nearest.
  double near(Vec2 p, double within) const {
    double least = kFar;
    for (std::size_t i = 0; i < pits_.size(); ++i) {
      if (apart_[i] < least && plane::distance(pits_[i].plan(), p) < within) least = apart_[i];
    }
    return least;
  }

 private:
  static constexpr double kFar = std::numeric_limits<double>::infinity();
  const std::vector<Vec3>& pits_;
  std::vector<double> apart_;
};

double longestOf(const ground::Triangulation& made, Index t) {
  const auto& [i, j, k] = made.triangles[t];
  const Vec2 a = made.points[i], b = made.points[j], c = made.points[k];
  return std::max({plane::distance(a, b), plane::distance(b, c), plane::distance(c, a)});
}

// A place to add: on a side of the triangulation, or inside one of its triangles.
struct Missed {
  double by = 0;
  Vec2 at;
  std::optional<ground::Edge> side;  // the lower number first
  bool found() const { return by > 0; }
};

// Where in a triangle its depth is missed most, if by more than it may. Places are looked at on a lattice whose parts
// are small beside the spacing of pits; next to a pit, where depths have a cusp, down to where no more can be missed.
Missed missedMost(const ground::Triangulation& made, Index t, const std::vector<double>& depths, const PitDepths& pits,
                  const Spacing& spacing) {
  constexpr double kDepthError = 1.5e-3, kFinest = 0.05;  // m
  constexpr double kMost = 12;
  const ground::Triangle& corners = made.triangles[t];
  const std::array<Vec2, 3> c{made.points[corners[0]], made.points[corners[1]], made.points[corners[2]]};
  const double longest = longestOf(made, t);
  Missed most;
  if (longest < kFinest) return most;
  const auto look = [&](Vec2 p, double depth, std::optional<ground::Edge> side) {
    const double by = std::abs(pits.at(p) - depth);
    if (by > std::max(most.by, kDepthError)) most = {by, p, side};
  };
  const Vec2 middle = ground::centroid(made, t);
  look(middle, (depths[corners[0]] + depths[corners[1]] + depths[corners[2]]) / 3, {});
  const int n = static_cast<int>(std::clamp(std::ceil(4 * longest / spacing.near(middle, 2 * longest)), 2.0, kMost));
  for (int k = 0; k < 3; ++k) {
    const auto [i, j] = std::minmax(corners[ground::next(k)], corners[ground::before(k)]);
    for (int m = 1; m < n; ++m) {
      const double f = double(m) / n;
      look((1 - f) * made.points[i] + f * made.points[j], (1 - f) * depths[i] + f * depths[j], ground::Edge{i, j});
    }
  }
  for (int u = 1; u < n; ++u) {
    for (int v = 1; u + v < n; ++v) {
      const double p = double(u) / n, q = double(v) / n, r = 1 - p - q;
      look(r * c[0] + p * c[1] + q * c[2], r * depths[corners[0]] + p * depths[corners[1]] + q * depths[corners[2]],
           {});
    }
  }
  return most;
}

// The points of a triangulation and what is added; its segments, parted where a place lies on them.
struct Finer {
  std::vector<Vec2> points;
  std::vector<ground::Edge> edges;

  Finer(const ground::Triangulation& made, const std::vector<Missed>& missed) : points(made.points) {
    std::map<ground::Edge, Missed> onSides;
    for (const Missed& one : missed) {
      if (!one.side) {
        points.push_back(one.at);
      } else if (Missed& most = onSides[*one.side]; one.by > most.by) {
        most = one;
      }
    }
    std::map<ground::Edge, Index> numbers;
    for (const auto& [side, one] : onSides) {
      numbers[side] = static_cast<Index>(points.size());
      points.push_back(one.at);
    }
    for (Index t = 0; t < made.triangles.size(); ++t) {
      for (int k = 0; k < 3; ++k) {
        const auto [i, j] = std::minmax(made.triangles[t][ground::next(k)], made.triangles[t][ground::before(k)]);
        if (!(made.constrained[t] >> k & 1)) continue;
        if (const Index other = made.neighbours[t][k]; other != ground::kNone && other < t) continue;
        if (const auto split = numbers.find({i, j}); split != numbers.end()) {
          edges.emplace_back(i, split->second);
          edges.emplace_back(split->second, j);
        } else {
          edges.emplace_back(i, j);
        }
      }
    }
  }
};

ground::TinPtr surfaceOf(const ground::Triangulation& made, const std::vector<double>& depths,
                         const plane::Inside& inside) {
  ground::TinParts parts;
  for (std::size_t i = 0; i < made.points.size(); ++i)
    parts.points.push_back({made.points[i].x, made.points[i].y, depths[i]});
  // A place added on the outline lies off it by rounding, and what is left between is no triangle.
  constexpr double kRounding = 1e-9;  // m
  for (Index t = 0; t < made.triangles.size(); ++t) {
    const auto& [i, j, k] = made.triangles[t];
    const double height = plane::turn(made.points[i], made.points[j], made.points[k]) / longestOf(made, t);
    if (height > kRounding && inside(ground::centroid(made, t))) parts.triangles.push_back(made.triangles[t]);
  }
  ground::dropUnusedPoints(parts);
  return std::make_shared<ground::Tin>(std::move(parts));
}

}  // namespace

ground::TinPtr depthsOver(const StripArea& strip, const Progress& progress) {
  const plane::Inside inside(strip.area);
  std::vector<Line2> lines = ground::ringsOf(strip.area);
  const std::vector<Vec3>& places = strip.strip->pits;
  if (places.empty()) {
    const ground::Triangulation made = ground::recut(lines, progress);
    return surfaceOf(made, std::vector<double>(made.points.size(), strip.strip->depth), inside);
  }
  const PitDepths pits(places);
  const Spacing spacing(places);
  addCreases(pits, lines);
  ground::Triangulation made = ground::recut(lines, progress);
  std::vector<Missed> missed;
  for (const Vec3& pit : places) {
    const auto at = [&](const Line2& line) {
      return plane::nearestOnSegment(pit.plan(), line.a, line.b).distance < ground::kSnap;
    };
    if (inside(pit.plan()) && std::ranges::none_of(lines, at)) missed.push_back({1, pit.plan(), {}});
  }
  // Depths from pits take long to find: none is asked for twice, and no triangle is looked at twice.
  std::vector<double> depths;  // at the points
  std::set<ground::Triangle> looked;
  constexpr int kRounds = 60;
  for (int round = 0; round == 0 || (round < kRounds && !missed.empty()); ++round) {
    const Finer finer(made, missed);
    made = ground::triangulate(finer.points, finer.edges, progress);
    const std::size_t known = depths.size();
    depths.resize(made.points.size());
    parallelChunks(depths.size() - known, 64, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
      for (std::size_t i = known + begin; i < known + end; ++i) depths[i] = pits.at(made.points[i]);
    });
    std::vector<Index> open;  // triangles of the area not looked at yet
    for (Index t = 0; t < made.triangles.size(); ++t) {
      ground::Triangle corners = made.triangles[t];
      std::ranges::sort(corners);
      if (inside(ground::centroid(made, t)) && looked.insert(corners).second) open.push_back(t);
    }
    missed.assign(open.size(), {});
    parallelChunks(open.size(), 16, progress, [&](std::size_t begin, std::size_t end, std::size_t) {
      for (std::size_t i = begin; i < end; ++i) missed[i] = missedMost(made, open[i], depths, pits, spacing);
    });
    std::erase_if(missed, [](const Missed& one) { return !one.found(); });
  }
  return surfaceOf(made, depths, inside);
}

}  // namespace inselberg::works
