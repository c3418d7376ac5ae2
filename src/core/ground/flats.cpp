// The sides inside the flats are the nodes of a graph: two are joined when they belong to one triangle. Ways are found
// from the openings inwards (Dijkstra); the tree of these ways tells how far the medial line goes on beyond a node.
#include "ground/flats.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numeric>
#include <queue>
#include <utility>

namespace inselberg::ground {
namespace {

constexpr double kSameLevel = 1e-6;  // m
constexpr double kShortest = 0.01;   // m, shorter sides get no point: it would merge with their ends
constexpr double kThinnest = 1e-3;   // m
constexpr double kFar = std::numeric_limits<double>::infinity();

class Cures {
 public:
  Cures(const Triangulation& made, std::span<const Vec3> at, std::span<const char> flat)
      : made_(made), at_(at), flat_(flat), nodeOf_(made.triangles.size(), {kNone, kNone, kNone}) {}

  std::vector<Vec3> run() {
    makeNodes();
    findWays();
    findReach();
    std::vector<Vec3> cures;
    for (Index n = 0; n < nodes_.size(); ++n) {
      const Node& node = nodes_[n];
      if (node.length < kShortest || node.way == kFar || !(node.reach > 0)) continue;
      const double share = node.reach / (node.reach + node.way);
      cures.push_back({node.at.x, node.at.y, node.level + share * (node.to - node.level)});
    }
    closedFlats(cures);
    return cures;
  }

 private:
  struct Node {
    Vec2 at;
    double length = 0;  // of the side
    double level = 0;
    std::array<Index, 2> triangles{kNone, kNone};  // flat ones on its two sides
    double way = kFar;                             // to the nearest opening, and on to the level there
    double to = 0;                                 // that level
    Index from = kNone;                            // the node before on that way
    double reach = 0;                              // how far the medial line goes on, away from the opening
  };

  void makeNodes() {
    for (Index t = 0; t < made_.triangles.size(); ++t) {
      if (!flat_[t]) continue;
      for (int k = 0; k < 3; ++k) {
        if (made_.constrained[t] >> k & 1) continue;
        const Index other = made_.neighbours[t][k];
        if (other != kNone && flat_[other] && other < t) continue;  // made from there
        const Index a = made_.triangles[t][next(k)], b = made_.triangles[t][before(k)];
        Node node;
        node.at = 0.5 * (made_.points[a] + made_.points[b]);
        node.length = plane::distance(made_.points[a], made_.points[b]);
        node.level = at_[a].z;
        node.triangles = {t, other != kNone && flat_[other] ? other : kNone};
        nodeOf_[t][k] = static_cast<Index>(nodes_.size());
        if (node.triangles[1] != kNone) nodeOf_[other][sideTo(other, t)] = static_cast<Index>(nodes_.size());
        if (other != kNone && !flat_[other]) {
          const Index apex = made_.triangles[other][sideTo(other, t)];
          if (std::abs(at_[apex].z - node.level) > kSameLevel) {
            node.way = plane::distance(node.at, made_.points[apex]);
            node.to = at_[apex].z;
          }
        }
        nodes_.push_back(node);
      }
    }
  }

  int sideTo(Index triangle, Index neighbour) const {
    for (int k = 0; k < 2; ++k) {
      if (made_.neighbours[triangle][k] == neighbour) return k;
    }
    return 2;
  }

  // Calls f(other node) for the nodes that share a flat triangle with n.
  template <class F>
  void eachBeside(Index n, F&& f) const {
    for (const Index t : nodes_[n].triangles) {
      if (t == kNone) continue;
      for (const Index m : nodeOf_[t]) {
        if (m != kNone && m != n) f(m);
      }
    }
  }

  double between(Index a, Index b) const { return plane::distance(nodes_[a].at, nodes_[b].at); }

  void findWays() {
    using Entry = std::pair<double, Index>;
    std::priority_queue<Entry, std::vector<Entry>, std::greater<>> queue;
    for (Index n = 0; n < nodes_.size(); ++n) {
      if (nodes_[n].way < kFar) queue.emplace(nodes_[n].way, n);
    }
    while (!queue.empty()) {
      const auto [way, n] = queue.top();
      queue.pop();
      if (way > nodes_[n].way) continue;
      order_.push_back(n);
      eachBeside(n, [&, w = way, from = n](Index m) {
        const double more = w + between(from, m);
        if (more >= nodes_[m].way) return;
        nodes_[m].way = more, nodes_[m].to = nodes_[from].to, nodes_[m].from = from;
        queue.emplace(more, m);
      });
    }
  }

  void findReach() {
    for (const Index n : order_) {
      Node& node = nodes_[n];
      // A triangle with no other inner side ends the medial line in its corner.
      for (const Index t : node.triangles) {
        if (t == kNone || std::count(nodeOf_[t].begin(), nodeOf_[t].end(), kNone) != 2) continue;
        for (int k = 0; k < 3; ++k) {
          if (nodeOf_[t][k] == n)
            node.reach = std::max(node.reach, plane::distance(node.at, made_.points[made_.triangles[t][k]]));
        }
      }
      // Ways from two openings to one level meet here.
      eachBeside(n, [&](Index m) {
        if (nodes_[m].from == n || node.from == m || rootOf(m) == rootOf(n)) return;
        if (std::abs(nodes_[m].to - node.to) <= kSameLevel)
          node.reach = std::max(node.reach, nodes_[m].way + between(n, m));
      });
    }
    for (auto it = order_.rbegin(); it != order_.rend(); ++it) {
      const Node& node = nodes_[*it];
      if (node.from != kNone) {
        double& reach = nodes_[node.from].reach;
        reach = std::max(reach, node.reach + between(*it, node.from));
      }
    }
  }

  Index rootOf(Index n) {
    if (roots_.empty()) {
      roots_.resize(nodes_.size());
      std::iota(roots_.begin(), roots_.end(), Index{0});
      for (const Index k : order_) {
        if (nodes_[k].from != kNone) roots_[k] = roots_[nodes_[k].from];
      }
    }
    return roots_[n];
  }

  // How far a node lies from the contour: from its side's ends, and from the contour sides of its triangles.
  double fromContour(const Node& node) const {
    double nearest = node.length / 2;
    for (const Index t : node.triangles) {
      for (int k = 0; t != kNone && k < 3; ++k) {
        if (nodeOf_[t][k] != kNone) continue;
        const Vec2 a = made_.points[made_.triangles[t][next(k)]], b = made_.points[made_.triangles[t][before(k)]];
        nearest = std::min(nearest, plane::nearestOnSegment(node.at, a, b).distance);
      }
    }
    return nearest;
  }

  // Flats that open to nothing: tops and hollows.
  void closedFlats(std::vector<Vec3>& cures) const {
    std::vector<char> seen(made_.triangles.size(), 0);
    for (Index start = 0; start < made_.triangles.size(); ++start) {
      if (!flat_[start] || seen[start]) continue;
      std::vector<Index> part{start};
      seen[start] = 1;
      bool open = false;
      double slope = 0, step = 0, rim = 0;  // weighted by length of rim
      for (std::size_t i = 0; i < part.size(); ++i) {
        const Index t = part[i];
        for (int k = 0; k < 3; ++k) {
          const Index other = made_.neighbours[t][k];
          if (const Index n = nodeOf_[t][k]; n != kNone) {
            open |= nodes_[n].way < kFar;
            if (other != kNone && flat_[other] && !std::exchange(seen[other], 1)) part.push_back(other);
            continue;
          }
          if (other == kNone || flat_[other]) continue;
          const Vec2 a = made_.points[made_.triangles[t][next(k)]], b = made_.points[made_.triangles[t][before(k)]];
          const Index apex = made_.triangles[other][sideTo(other, t)];
          const double away = plane::nearestOnSegment(made_.points[apex], a, b).distance;
          const double rise = at_[made_.triangles[t][0]].z - at_[apex].z, length = plane::distance(a, b);
          if (!(away > 0) || !(std::abs(rise) > kSameLevel)) continue;
          slope += length * rise / away, step += length * std::abs(rise), rim += length;
        }
      }
      if (open || !(rim > 0)) continue;
      slope /= rim, step /= rim;
      const auto levelAt = [&](double level, double inside) {
        // Steep outside, but ever less than half a step: no two depths give one level, or there would be new flats.
        const double most = 0.45 * step, rise = slope * inside;
        return level + most * rise / (most + std::abs(rise));
      };
      // A side at the border keeps its level; a triangle without another inner side gets its middle.
      std::vector<Index> inner;
      for (const Index t : part) {
        for (const Index n : nodeOf_[t]) {
          if (n != kNone && nodes_[n].triangles[0] == t && nodes_[n].triangles[1] != kNone &&
              nodes_[n].length >= kShortest)
            inner.push_back(n);
        }
      }
      for (const Index n : inner) {
        const double inside = fromContour(nodes_[n]);
        if (inside >= kShortest / 2)
          cures.push_back({nodes_[n].at.x, nodes_[n].at.y, levelAt(nodes_[n].level, inside)});
      }
      if (part.size() > 1) continue;
      const Triangle& t = made_.triangles[start];
      const Vec2 p = made_.points[t[0]], q = made_.points[t[1]], r = made_.points[t[2]];
      const double around = plane::distance(p, q) + plane::distance(q, r) + plane::distance(r, p);
      const double inside = plane::turn(p, q, r) / around;  // the radius of the circle in it
      if (inside < kShortest / 2) continue;
      const Vec2 middle = (1.0 / 3) * (p + q + r);
      cures.push_back({middle.x, middle.y, levelAt(at_[t[0]].z, inside)});
    }
  }

  const Triangulation& made_;
  std::span<const Vec3> at_;
  std::span<const char> flat_;
  std::vector<std::array<Index, 3>> nodeOf_;  // by triangle and side; kNone: a contour runs there
  std::vector<Node> nodes_;
  std::vector<Index> order_;  // reached nodes, nearest to an opening first
  std::vector<Index> roots_;
};

}  // namespace

std::vector<char> flatTriangles(const Triangulation& made, std::span<const Vec3> at, std::span<const char> contour) {
  std::vector<char> flat(made.triangles.size(), 0);
  for (Index t = 0; t < flat.size(); ++t) {
    const auto [a, b, c] = made.triangles[t];
    if (!(contour[a] && contour[b] && contour[c]) || std::abs(at[a].z - at[b].z) > kSameLevel ||
        std::abs(at[a].z - at[c].z) > kSameLevel)
      continue;
    const Vec2 p = made.points[a], q = made.points[b], r = made.points[c];
    const double longest = std::max({plane::distance(p, q), plane::distance(q, r), plane::distance(r, p)});
    flat[t] = plane::turn(p, q, r) > kThinnest * longest;  // a straight piece of contour is no flat
  }
  return flat;
}

std::vector<Vec3> flatCures(const Triangulation& made, std::span<const Vec3> at, std::span<const char> flat) {
  return Cures(made, at, flat).run();
}

}  // namespace inselberg::ground
