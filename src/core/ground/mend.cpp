// Mends are made one after another on plain lists of triangles and the breakline bit of every side. A point is deleted
// by triangulating its star's rim anew; at a wall each of the points in the place loses its own star. A hole is filled
// by triangulating its loop; a point is added to the triangle that holds it, or to both at a side. A mend that finds
// nothing where it was made is told as a doubt and left out.
#include "ground/mend.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <optional>
#include <set>

#include "base/visitor.h"
#include "ground/border.h"
#include "ground/recut.h"
#include "ground/triangulate.h"
#include "plane/polygon.h"

namespace inselberg::ground {
namespace {

constexpr double kFound = 1e-3;   // m, how far a thing may lie from where a mend names it
constexpr double kOnSide = 1e-6;  // m, a point nearer to a side than this splits the side

class Mender {
 public:
  explicit Mender(const Tin& tin)
      : points_(tin.points().begin(), tin.points().end()), triangles_(tin.triangles().begin(), tin.triangles().end()) {
    for (Index t = 0; t < triangles_.size(); ++t) breaks_.push_back(tin.breakBits(t));
  }

  bool make(const SwapEdge& mend) {
    std::optional<std::pair<Index, int>> first, second;
    for (Index t = 0; t < triangles_.size(); ++t) {
      for (int k = 0; k < 3; ++k) {
        const Vec2 a = plan(t, next(k)), b = plan(t, before(k));
        if (isNear(a, mend.from) && isNear(b, mend.to)) first = {t, k};
        if (isNear(b, mend.from) && isNear(a, mend.to)) second = {t, k};
      }
    }
    if (!first || !second) return false;
    const auto [t, k] = *first;
    const auto [u, j] = *second;
    const Index a = triangles_[t][next(k)], b = triangles_[t][before(k)], c = triangles_[t][k], d = triangles_[u][j];
    // A side that is a breakline may be swapped too: who swaps it sees it.
    if (!(turn(c, d, b) > 0) || !(turn(d, c, a) > 0)) return false;
    const auto bit = [&](Index triangle, Index from, Index to) -> int {
      for (int s = 0; s < 3; ++s) {
        if (triangles_[triangle][next(s)] == from && triangles_[triangle][before(s)] == to)
          return breaks_[triangle] >> s & 1;
      }
      return 0;
    };
    const int bc = bit(t, b, c), ca = bit(t, c, a), ad = bit(u, a, d), db = bit(u, d, b);
    triangles_[t] = {c, d, b};
    triangles_[u] = {d, c, a};
    breaks_[t] = static_cast<std::uint8_t>(db | bc << 1);
    breaks_[u] = static_cast<std::uint8_t>(ca | ad << 1);
    return true;
  }

  bool make(const DeleteTriangle& mend) {
    const Index t = holding(mend.middle);
    if (t == kNone) return false;
    const Vec2 middle = (1.0 / 3) * (plan(t, 0) + plan(t, 1) + plan(t, 2));
    if (!isNear(middle, mend.middle)) return false;
    remove({t});
    return true;
  }

  bool make(const DeletePoint& mend) {
    // At a wall there are several points in the place, each with its own triangles.
    std::set<Index> here;
    for (const Triangle& t : triangles_) {
      for (const Index v : t) {
        if (isNear(points_[v].plan(), mend.at)) here.insert(v);
      }
    }
    for (const Index point : here) deletePoint(point);
    return !here.empty() && !triangles_.empty();
  }

  // What the point carried is triangulated anew without it.
  void deletePoint(Index point) {
    std::vector<Index> star;
    for (Index t = 0; t < triangles_.size(); ++t) {
      const Triangle& c = triangles_[t];
      if (c[0] == point || c[1] == point || c[2] == point) star.push_back(t);
    }
    // The sides across the star's triangles bound what is triangulated anew.
    std::vector<Index> rim;
    std::vector<std::pair<Edge, int>> sides;  // and whether each is a breakline
    const auto localOf = [&](Index v) {
      const auto found = std::find(rim.begin(), rim.end(), v);
      if (found != rim.end()) return static_cast<Index>(found - rim.begin());
      rim.push_back(v);
      return static_cast<Index>(rim.size() - 1);
    };
    for (const Index t : star) {
      for (int k = 0; k < 3; ++k) {
        if (triangles_[t][k] != point) continue;
        const Index a = localOf(triangles_[t][next(k)]), b = localOf(triangles_[t][before(k)]);
        sides.push_back({{a, b}, breaks_[t] >> k & 1});
      }
    }
    std::vector<Vec2> plans;
    std::vector<Edge> edges;
    for (const Index v : rim) plans.push_back(points_[v].plan());
    for (const auto& [edge, isBreak] : sides) edges.push_back(edge);
    const Triangulation made = triangulate(plans, edges, {});
    std::vector<Triangle> fresh;
    std::vector<std::uint8_t> bits;
    for (Index face = 0; face < made.triangles.size(); ++face) {
      const Triangle& f = made.triangles[face];
      const Vec2 middle = centroid(made, face);
      if (std::none_of(star.begin(), star.end(), [&](Index t) { return holds(t, middle); })) continue;
      std::uint8_t broken = 0;
      for (int k = 0; k < 3; ++k) {
        for (const auto& [edge, isBreak] : sides) {
          const bool same = (edge.first == f[next(k)] && edge.second == f[before(k)]) ||
                            (edge.second == f[next(k)] && edge.first == f[before(k)]);
          if (same && isBreak) broken = static_cast<std::uint8_t>(broken | 1 << k);
        }
      }
      fresh.push_back({rim[f[0]], rim[f[1]], rim[f[2]]});
      bits.push_back(broken);
    }
    remove(star);
    triangles_.insert(triangles_.end(), fresh.begin(), fresh.end());
    breaks_.insert(breaks_.end(), bits.begin(), bits.end());
  }

  bool make(const AddPoint& mend) {
    const Vec2 p = mend.at.plan();
    const auto fresh = static_cast<Index>(points_.size());
    std::vector<Index> gone;
    std::vector<Triangle> made;
    std::vector<std::uint8_t> bits;
    for (Index t = 0; t < triangles_.size(); ++t) {
      if (!holds(t, p)) continue;
      gone.push_back(t);
      for (int k = 0; k < 3; ++k) {
        const Vec2 a = plan(t, next(k)), b = plan(t, before(k));
        if (isNear(plan(t, k), p)) return false;  // there is a point already
        if (plane::nearestOnSegment(p, a, b).distance <= kOnSide) continue;
        made.push_back({fresh, triangles_[t][next(k)], triangles_[t][before(k)]});
        bits.push_back(static_cast<std::uint8_t>(breaks_[t] >> k & 1));
      }
    }
    if (gone.empty()) return false;
    points_.push_back(mend.at);
    remove(gone);
    triangles_.insert(triangles_.end(), made.begin(), made.end());
    breaks_.insert(breaks_.end(), bits.begin(), bits.end());
    return true;
  }

  bool make(const FillHole& mend) {
    const auto neighbours = findNeighbours(points_.size(), triangles_);
    for (const auto& loop : borderLoops(triangles_, neighbours)) {
      plane::Ring ring;
      for (const Index v : loop) ring.push_back(points_[v].plan());
      bool here = false;
      for (std::size_t i = 0; i < ring.size(); ++i)
        here |= plane::nearestOnSegment(mend.at, ring[i], ring[(i + 1) % ring.size()]).distance <= kFound;
      if (!here || loop.size() < 3 || !(plane::signedArea(ring) < 0)) continue;
      std::vector<Edge> edges;
      for (Index i = 0; i < ring.size(); ++i) edges.push_back({i, static_cast<Index>((i + 1) % ring.size())});
      const Triangulation made = triangulate(ring, edges, {});
      if (made.points.size() != ring.size()) return false;  // the loop crosses itself
      for (Index face = 0; face < made.triangles.size(); ++face) {
        if (!plane::contains(ring, centroid(made, face))) continue;
        const Triangle& f = made.triangles[face];
        triangles_.push_back({loop[f[0]], loop[f[1]], loop[f[2]]});
        breaks_.push_back(0);
      }
      return true;
    }
    return false;
  }

  TinParts finish() {
    TinParts parts;
    parts.points = std::move(points_);
    parts.triangles = std::move(triangles_);
    parts.breaks = std::move(breaks_);
    dropUnusedPoints(parts);
    return parts;
  }
  bool empty() const { return triangles_.empty(); }

 private:
  static bool isNear(Vec2 a, Vec2 b) { return plane::distance(a, b) <= kFound; }
  Vec2 plan(Index t, int k) const { return points_[triangles_[t][static_cast<std::size_t>(k)]].plan(); }
  double turn(Index a, Index b, Index c) const {
    return plane::turn(points_[a].plan(), points_[b].plan(), points_[c].plan());
  }
  // Inside or within kOnSide of a side.
  bool holds(Index t, Vec2 p) const {
    for (int k = 0; k < 3; ++k) {
      const Vec2 a = plan(t, next(k)), b = plan(t, before(k));
      if (plane::turn(a, b, p) < -kOnSide * plane::distance(a, b)) return false;
    }
    return true;
  }
  Index holding(Vec2 p) const {
    for (Index t = 0; t < triangles_.size(); ++t) {
      if (holds(t, p)) return t;
    }
    return kNone;
  }
  void remove(std::vector<Index> list) {
    std::sort(list.begin(), list.end(), std::greater<>());
    for (const Index t : list) {
      triangles_[t] = triangles_.back(), triangles_.pop_back();
      breaks_[t] = breaks_.back(), breaks_.pop_back();
    }
  }

  std::vector<Vec3> points_;
  std::vector<Triangle> triangles_;
  std::vector<std::uint8_t> breaks_;
};

}  // namespace

Vec2 placeOf(const Mend& mend) {
  return std::visit(Visitor{[](const SwapEdge& m) { return 0.5 * (m.from + m.to); },
                            [](const DeleteTriangle& m) { return m.middle; }, [](const DeletePoint& m) { return m.at; },
                            [](const AddPoint& m) { return m.at.plan(); }, [](const FillHole& m) { return m.at; }},
                    mend);
}

TinPtr mended(const Tin& tin, std::span<const Mend> mends, const plane::Origin& origin, Doubts& doubts) {
  Mender mender(tin);
  for (const Mend& mend : mends) {
    if (!mender.empty() && std::visit([&](const auto& m) { return mender.make(m); }, mend)) continue;
    const Vec2 p = placeOf(mend);
    const char* what = std::visit(
        Visitor{[](const SwapEdge&) { return "swap a side"; },
                [](const DeleteTriangle&) { return "delete a triangle"; },
                [](const DeletePoint&) { return "delete a point"; }, [](const AddPoint&) { return "add a point"; },
                [](const FillHole&) { return "fill a hole"; }},
        mend);
    doubts.push_back({DoubtKind::mendLost, p,
                      fmt::format("The mend to {} at E {:.2f} N {:.2f} finds nothing to do it on any more.", what,
                                  p.x + origin.easting, p.y + origin.northing)});
  }
  return std::make_shared<Tin>(mender.finish());
}

}  // namespace inselberg::ground
