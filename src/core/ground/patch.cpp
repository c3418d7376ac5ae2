// A triangulation in which every side is locally Delaunay or a breakline is the constrained Delaunay triangulation, so
// it is enough to grow the part that is triangulated anew until its border is.
#include "ground/patch.h"

#include <algorithm>
#include <map>
#include <set>
#include <unordered_map>
#include <utility>

#include "ground/recut.h"
#include "ground/triangulate.h"

namespace inselberg::ground {
namespace {

// Above zero: d lies inside the circle through a, b, c (counter-clockwise); rounding makes it unsure near zero only.
bool insideCircle(Vec2 a, Vec2 b, Vec2 c, Vec2 d) {
  const Vec2 u = a - d, v = b - d, w = c - d;
  const double uu = plane::dot(u, u), vv = plane::dot(v, v), ww = plane::dot(w, w);
  const double sum = uu * plane::cross(v, w) + vv * plane::cross(w, u) + ww * plane::cross(u, v);
  return sum > 1e-12 * std::max({uu, vv, ww}) * std::max({uu, vv, ww});
}

Edge unordered(Index a, Index b) {
  return {std::min(a, b), std::max(a, b)};
}

class Patcher {
 public:
  Patcher(const Tin& ground, const Progress& progress) : ground_(ground), progress_(progress) {}

  std::optional<Patch> run(std::span<const ChangedPart> parts, const std::function<bool(Vec2, Vec2)>& isClear) {
    for (const ChangedPart& part : parts) {
      if (!read(part, isClear)) return std::nullopt;
    }
    taken_ = touchedBy(ground_, lines_, progress_);
    for (Index t = 0; t < taken_.size(); ++t) {
      if (taken_[t]) list_.push_back(t);
    }
    constexpr int kRounds = 40;
    for (int round = 0; round < kRounds; ++round) {
      if (!reaches() || !triangulateTaken()) return std::nullopt;
      if (!grow()) return finish();
    }
    return std::nullopt;
  }

 private:
  std::optional<Index> vertexAt(const Vec3& at) const {
    const Index t = ground_.locate(at.plan());
    if (t == kNone) return std::nullopt;
    for (const Index v : ground_.triangles()[t]) {
      const Vec3& p = ground_.points()[v];
      if (p.x == at.x && p.y == at.y) return v;
    }
    return std::nullopt;
  }

  // The vertices and sides that go and come.
  bool read(const ChangedPart& part, const std::function<bool(Vec2, Vec2)>& isClear) {
    std::vector<Index> before, after;
    for (std::size_t i = 0; i < part.before.size(); ++i) {
      const auto v = vertexAt(part.before[i]);
      if (!v) return false;
      before.push_back(*v);
      const bool stays = (i == 0 && part.startStays) || (i + 1 == part.before.size() && part.endStays);
      if (!stays) gone_.insert(*v);
    }
    for (std::size_t i = 0; i < part.after.size(); ++i) {
      if (i == 0 && part.startStays) {
        after.push_back(before.front());
      } else if (i + 1 == part.after.size() && part.endStays) {
        after.push_back(before.back());
      } else if (i > 1 && i + 1 == part.after.size() && part.after[i] == part.after[0]) {
        after.push_back(after.front());
      } else {
        if (ground_.locate(part.after[i].plan()) == kNone) return false;
        after.push_back(static_cast<Index>(ground_.points().size() + new_.size()));
        new_.push_back(part.after[i]);
      }
    }
    const auto sides = [&](const std::vector<Vec3>& chain, const std::vector<Index>& numbers, std::set<Edge>& to) {
      for (std::size_t i = 0; i < chain.size(); ++i) {
        const std::size_t next = chain.size() == 1 ? i : i + 1;
        if (next == chain.size()) break;
        const Vec2 a = chain[i].plan(), b = chain[next].plan();
        if (!isClear(a, b)) return false;
        lines_.push_back({a, b});
        if (next != i) to.insert(unordered(numbers[i], numbers[next]));
      }
      return true;
    };
    return sides(part.before, before, sidesGone_) && sides(part.after, after, sidesNew_);
  }

  // Whether what is taken has ground all around it. (Around a vertex that goes all triangles are touched.)
  bool reaches() const {
    return !list_.empty() && std::none_of(list_.begin(), list_.end(), [&](Index t) {
      const Triangle& n = ground_.neighbours()[t];
      return std::find(n.begin(), n.end(), kNone) != n.end();
    });
  }

  Vec2 planOf(Index v) const {
    return v < ground_.points().size() ? ground_.plan(v) : new_[v - ground_.points().size()].plan();
  }

  // What is taken triangulated with the changes; false when that is not all of it and in order.
  bool triangulateTaken() {
    std::unordered_map<Index, Index> local;
    std::vector<Vec2> points;
    numbers_.clear();
    const auto number = [&](Index v) {
      const auto [it, fresh] = local.try_emplace(v, static_cast<Index>(points.size()));
      if (fresh) points.push_back(planOf(v)), numbers_.push_back(v);
      return it->second;
    };
    std::vector<Edge> edges;
    border_.clear();
    std::size_t goneFound = 0;
    for (const Index t : list_) {
      const Triangle& c = ground_.triangles()[t];
      for (int k = 0; k < 3; ++k) {
        if (!gone_.count(c[k])) number(c[k]);
        const Index a = c[next(k)], b = c[before(k)], other = ground_.neighbours()[t][k];
        if (!taken_[other]) {
          if (gone_.count(a) || gone_.count(b)) return false;
          border_[{number(a), number(b)}] = {other, ground_.sideBack(t, k), ground_.isBreak(t, k)};
          edges.emplace_back(number(a), number(b));
        } else if (ground_.isBreak(t, k) && t < other) {
          if (sidesGone_.count(unordered(a, b))) {
            ++goneFound;
          } else if (gone_.count(a) || gone_.count(b)) {
            return false;  // another line has a vertex there
          } else {
            edges.emplace_back(number(a), number(b));
            breaks_.insert(unordered(a, b));
          }
        }
      }
    }
    if (goneFound != sidesGone_.size()) return false;
    for (Index v = 0; v < new_.size(); ++v) number(static_cast<Index>(ground_.points().size()) + v);
    for (const auto& [a, b] : sidesNew_) edges.emplace_back(number(a), number(b));
    made_ = triangulate(points, edges, {});
    if (made_.points.size() != points.size()) return false;
    for (Index i = 0; i < points.size(); ++i) {
      if (made_.same[i] != i) return false;
    }
    return markInside();
  }

  // Which of the faces lie in what is taken: those on the left of its border, and what hangs together with them.
  bool markInside() {
    inside_.assign(made_.triangles.size(), 0);
    std::vector<Index> stack;
    std::size_t found = 0;
    for (Index f = 0; f < made_.triangles.size(); ++f) {
      for (int k = 0; k < 3; ++k) {
        if (!border_.count(sideOf(f, k))) continue;
        ++found;
        if (!std::exchange(inside_[f], 1)) stack.push_back(f);
      }
    }
    while (!stack.empty()) {
      const Index f = stack.back();
      stack.pop_back();
      for (int k = 0; k < 3; ++k) {
        if (border_.count(sideOf(f, k))) continue;
        const Index other = made_.neighbours[f][k];
        if (other == kNone) return false;
        if (!std::exchange(inside_[other], 1)) stack.push_back(other);
      }
    }
    return found == border_.size();
  }

  Edge sideOf(Index face, int k) const { return {made_.triangles[face][next(k)], made_.triangles[face][before(k)]}; }

  // Takes the triangles across the border whose side is not locally Delaunay; false when there are none.
  bool grow() {
    std::vector<Index> more;
    for (Index f = 0; f < made_.triangles.size(); ++f) {
      if (!inside_[f]) continue;
      for (int k = 0; k < 3; ++k) {
        const auto it = border_.find(sideOf(f, k));
        if (it == border_.end() || it->second.isBreak || taken_[it->second.outside]) continue;
        const Triangle& c = ground_.triangles()[it->second.outside];
        const Triangle& own = made_.triangles[f];
        const auto isOf = [&](Index v) {
          return v == numbers_[own[0]] || v == numbers_[own[1]] || v == numbers_[own[2]];
        };
        const Index* apex = std::find_if_not(c.begin(), c.end(), isOf);
        if (apex == c.end() ||
            !insideCircle(made_.points[own[0]], made_.points[own[1]], made_.points[own[2]], ground_.plan(*apex)))
          continue;
        taken_[it->second.outside] = 1;
        more.push_back(it->second.outside);
      }
    }
    list_.insert(list_.end(), more.begin(), more.end());
    return !more.empty();
  }

  // The new triangles take the places of those taken in the list, new points those of points that went: what stays
  // keeps its number, but for a few from the end that fill what is left open.
  Patch finish() const {
    TinParts parts = ground_.parts();
    parts.breaks.resize(parts.triangles.size());
    const std::vector<Index> pointOf = placePoints(parts);

    std::vector<Index> faces;
    for (Index f = 0; f < made_.triangles.size(); ++f) {
      if (inside_[f]) faces.push_back(f);
    }
    std::vector<Index> slotOf(made_.triangles.size(), kNone), changed;
    for (std::size_t i = 0; i < faces.size(); ++i) {
      slotOf[faces[i]] = i < list_.size() ? list_[i] : static_cast<Index>(parts.triangles.size() + i - list_.size());
      changed.push_back(slotOf[faces[i]]);
    }
    const std::size_t room = parts.triangles.size() + std::max(faces.size(), list_.size()) - list_.size();
    parts.triangles.resize(room), parts.neighbours.resize(room), parts.breaks.resize(room);
    TinParts facets{facetPoints(), {}, {}, {}};
    for (const Index f : faces) {
      const Triangle& c = made_.triangles[f];
      const Index t = slotOf[f];
      parts.triangles[t] = {pointOf[c[0]], pointOf[c[1]], pointOf[c[2]]};
      parts.breaks[t] = 0;
      facets.triangles.push_back(c);
      for (int k = 0; k < 3; ++k) {
        const auto border = border_.find(sideOf(f, k));
        const auto side = unordered(numbers_[c[next(k)]], numbers_[c[before(k)]]);
        if (border != border_.end() ? border->second.isBreak : breaks_.count(side) || sidesNew_.count(side))
          parts.breaks[t] |= static_cast<std::uint8_t>(1 << k);
        if (border == border_.end()) {
          parts.neighbours[t][k] = slotOf[made_.neighbours[f][k]];
        } else {
          parts.neighbours[t][k] = border->second.outside;
          parts.neighbours[border->second.outside][border->second.back] = t;
        }
      }
    }
    std::vector<Index> open(list_.begin() + static_cast<std::ptrdiff_t>(std::min(faces.size(), list_.size())),
                            list_.end());
    close(parts, std::move(open), changed);
    dropUnusedPoints(facets);
    return {std::make_shared<Tin>(std::move(parts), ground_, changed), std::make_shared<Tin>(std::move(facets))};
  }

  std::vector<Vec3> facetPoints() const {
    std::vector<Vec3> points;
    for (const Index v : numbers_)
      points.push_back(v < ground_.points().size() ? ground_.points()[v] : new_[v - ground_.points().size()]);
    return points;
  }

  // Puts the new points in their places; gives the number of each point of the last triangulation.
  std::vector<Index> placePoints(TinParts& parts) const {
    std::vector<Index> free(gone_.begin(), gone_.end()), newAt;
    for (std::size_t i = 0; i < new_.size(); ++i) {
      if (i < free.size()) {
        newAt.push_back(free[i]);
        parts.points[free[i]] = new_[i];
      } else {
        newAt.push_back(static_cast<Index>(parts.points.size()));
        parts.points.push_back(new_[i]);
      }
    }
    std::vector<Index> numbers;
    for (const Index v : numbers_)
      numbers.push_back(v < ground_.points().size() ? v : newAt[v - ground_.points().size()]);
    if (free.size() <= new_.size()) return numbers;
    // Points from the end move to where others went.
    std::unordered_map<Index, Index> moved;
    std::size_t low = new_.size(), high = free.size();
    while (low < high) {
      const Index last = static_cast<Index>(parts.points.size()) - 1;
      if (free[high - 1] == last) {
        --high;
      } else {
        moved[last] = free[low];
        parts.points[free[low++]] = parts.points[last];
      }
      parts.points.pop_back();
    }
    const auto renumber = [&](Index& v) {
      if (const auto it = moved.find(v); it != moved.end()) v = it->second;
    };
    if (!moved.empty()) {
      const Index left = static_cast<Index>(parts.points.size());
      for (Triangle& t : parts.triangles) {
        for (Index& v : t) {
          if (v >= left) renumber(v);
        }
      }
    }
    for (Index& v : numbers) renumber(v);
    return numbers;
  }

  // Triangles from the end move to the open places.
  static void close(TinParts& parts, std::vector<Index> open, std::vector<Index>& changed) {
    std::sort(open.begin(), open.end());
    std::size_t low = 0, high = open.size();
    while (low < high) {
      const Index last = static_cast<Index>(parts.triangles.size()) - 1;
      if (open[high - 1] == last) {
        --high;
      } else {
        const Index to = open[low++];
        parts.triangles[to] = parts.triangles[last], parts.breaks[to] = parts.breaks[last];
        parts.neighbours[to] = parts.neighbours[last];
        for (const Index other : parts.neighbours[to]) {
          if (other == kNone) continue;
          for (Index& back : parts.neighbours[other]) back = back == last ? to : back;
        }
        changed.push_back(to);
      }
      parts.triangles.pop_back(), parts.breaks.pop_back(), parts.neighbours.pop_back();
    }
  }

  struct Beyond {
    Index outside = kNone;
    int back = 0;  // the side of it that leads back
    bool isBreak = false;
  };

  const Tin& ground_;
  const Progress& progress_;
  std::vector<Vec3> new_;  // numbered behind the ground's points
  std::set<Index> gone_;   // vertices that go
  std::set<Edge> sidesGone_, sidesNew_, breaks_;
  std::vector<Line2> lines_;
  std::vector<char> taken_;  // per triangle: triangulated anew
  std::vector<Index> list_;  // those
  // Of the last triangulation of what is taken.
  Triangulation made_;
  std::vector<Index> numbers_;     // of its points, in the ground
  std::map<Edge, Beyond> border_;  // sides of what is taken, it on their left
  std::vector<char> inside_;
};

}  // namespace

std::optional<Patch> patched(const Tin& ground, std::span<const ChangedPart> parts,
                             const std::function<bool(Vec2, Vec2)>& isClear, const Progress& progress) {
  return Patcher(ground, progress).run(parts, isClear);
}

}  // namespace inselberg::ground
